import type { Object3D } from 'three';
import type { SurfaceSize } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import type { PictureMedia } from '../media';
import type { Places } from '../places';
import type { Surroundings } from '../shade';

/** What a figure may need of the picture that it is in. */
export interface Workshop {
  readonly around: Surroundings;
  readonly media: PictureMedia;
  /** A plate stands where a file is missing; on a page for others there is nothing. */
  readonly plates?: boolean;
  /** Of what it is drawn on. */
  readonly size: SurfaceSize;
  /** Points of another figure, about its anchor, in pairs; null when it has none. */
  pointsOf(figure: string): Float32Array | null;
}

/** One figure at work. `update` allocates nothing; it is called before every drawing. */
export interface Drawn {
  readonly object: Object3D;
  /** @param values - the frame's parameters @param time - seconds that the picture has lived @param vectors - the frame's rows */
  update(values: Float32Array, time: number, vectors?: Float32Array): void;
  /** The frame's layout or the figure's place changed; its form did not. */
  place(figure: Figure, places: Places): void;
  /** One event that came to a parameter of it that takes them one by one. @param value - how much, in the parameter's unit */
  arrive?(parameter: string, value: number): void;
  /** It is dark: what events left is over. */
  quiet?(): void;
  /** Of what cuts all that lies under it: the part that cuts, and the part that is seen. */
  readonly cutting?: { readonly cut: Object3D; readonly seen: Object3D };
  /** Points on which copies may stand, about its anchor. */
  points?(): Float32Array;
  dispose(): void;
}

/** Puts a figure where its place and its *across*, *height* and *size* have it. */
export function stand(
  object: Object3D,
  base: Figure['at'],
  v: Float32Array,
  at: { readonly across: number; readonly height: number; readonly size: number },
): void {
  const size = v[at.size]!;
  object.position.set(base.x + v[at.across]!, base.y + v[at.height]!, 0);
  object.scale.set(size, size, 1);
}

/** Where the numbers stand that every newer kind of figure has. */
export interface Stance {
  readonly across: number;
  readonly height: number;
  readonly size: number;
  readonly turn: number;
  readonly shown: number;
}
export function stanceOf(places: Places): Stance {
  return {
    across: places.of('across'),
    height: places.of('height'),
    size: places.of('size'),
    turn: places.of('turn'),
    shown: places.of('shown'),
  };
}
/** Like {@link stand}, turned as well. */
export function take(object: Object3D, base: Figure['at'], v: Float32Array, at: Stance): void {
  stand(object, base, v, at);
  object.rotation.z = (v[at.turn]! * Math.PI) / 180;
}

/** Paper and inks of the press that are nobody's parameter. */
export const INK = {
  paper: 0xf2e9d4,
  night: 0x12212c,
  black: 0x0b0a0a,
  maize: 0xf0b53c,
  urucum: 0xe8572a,
  shade: 0x1d3340,
  wood: 0xefd6a4,
  bark: 0xb98d4e,
} as const;
