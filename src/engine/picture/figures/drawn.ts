import type { Object3D } from 'three';
import type { Figure } from '../../../core/show/types';

/** Where a figure's numbers stand in a frame. */
export class Places {
  readonly #at = new Map<string, number>();
  constructor(figure: string, parameters: Readonly<Record<string, number>>) {
    const prefix = `${figure}/`;
    for (const [key, at] of Object.entries(parameters)) if (key.startsWith(prefix)) this.#at.set(key.slice(prefix.length), at);
  }
  of(parameter: string): number { return this.#at.get(parameter) ?? -1; }
}

/** One figure at work. `update` allocates nothing; it is called before every drawing. */
export interface Drawn {
  readonly object: Object3D;
  /** @param values - the frame's parameters @param time - seconds that the picture has lived */
  update(values: Float32Array, time: number): void;
  /** The frame's layout or the figure's place changed; its form did not. */
  place(figure: Figure, places: Places): void;
  dispose(): void;
}

/** Puts a figure where its place and its *across*, *height* and *size* have it. */
export function stand(object: Object3D, base: Figure['at'], v: Float32Array, at: { readonly across: number; readonly height: number; readonly size: number }): void {
  const size = v[at.size]!;
  object.position.set(base.x + v[at.across]!, base.y + v[at.height]!, 0);
  object.scale.set(size, size, 1);
}

/** Paper and inks of the press that are nobody's parameter. */
export const INK = { paper: 0xf2e9d4, night: 0x12212c, black: 0x0b0a0a, maize: 0xf0b53c, urucum: 0xe8572a, shade: 0x1d3340, wood: 0xefd6a4, bark: 0xb98d4e } as const;
