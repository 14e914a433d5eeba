import type { WebGLRenderer } from 'three';
import type { Cost } from '../memory/messages';
import type { Frames } from '../memory/plan';
import type { PictureScene } from './scene';

const ROUNDS = 3;
const NOTHING = { measured: false, known: false } as const;

/**
 * Measures what each figure and finish costs, one of them a frame: what the frame takes with everything, against the same frame
 * without it, each waited for to its last pixel. True on every machine, and slow: only while somebody looks.
 */
export class Costs {
  readonly #known = new Map<string, number>();
  #next = 0;
  #shots = 0;
  #rest = 0;

  /** @returns whether it drew for itself, and whether it is time to tell what is known now */
  step(
    renderer: WebGLRenderer,
    scene: PictureScene,
    reader: Frames,
  ): { readonly measured: boolean; readonly known: boolean } {
    // A seventh of the time at most: where drawing is slow, looking must not make it slower.
    const began = performance.now();
    if (began < this.#rest) return NOTHING;
    const ids = scene.parts();
    for (const id of this.#known.keys()) if (!ids.includes(id)) this.#known.delete(id);
    if (ids.length === 0) return { measured: false, known: true };
    const id = ids[this.#next++ % ids.length]!,
      gl = renderer.getContext() as WebGL2RenderingContext,
      pixel = new Uint8Array(4);
    const time = (without: string | null): number => {
      let best = Infinity;
      for (let i = 0; i < ROUNDS; i++) {
        const from = performance.now();
        scene.probe(renderer, reader.parameters, reader.pictureTime, reader.vectors, without);
        // Reading a pixel waits for all that was asked for.
        gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
        best = Math.min(best, performance.now() - from);
      }
      return best;
    };
    time(null);
    const ms = Math.max(0, time(null) - time(id)),
      old = this.#known.get(id);
    this.#known.set(id, old === undefined ? ms : old + 0.5 * (ms - old));
    this.#rest = performance.now() + 6 * (performance.now() - began);
    return { measured: true, known: ++this.#shots % 4 === 0 || this.#shots <= ids.length };
  }
  list(): Cost[] {
    return [...this.#known].map(([id, ms]) => ({ id, ms }));
  }
}
