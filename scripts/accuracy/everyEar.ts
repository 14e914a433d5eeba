import { makeHop } from '../../src/core/audio/hop';
import { makeEarRunner, type EarRunner } from '../../src/core/ears/ear';
import type { Listening } from '../../src/core/ears/listening';
import { InputHearing } from '../../src/core/hearing/hearing';

const NOBODY = { event: (): void => undefined };

/** One input with ears, fed hop by hop. Bundled before it is timed, as it ships. @public */
export class Listener {
  readonly #hearing = new InputHearing(48000, 256);
  readonly #ears: readonly EarRunner[];
  readonly #hop = makeHop(256);
  constructor(ears: readonly Listening[], mono: boolean) {
    this.#ears = ears.map((l) => makeEarRunner(l, { hearing: this.#hearing.of('sum') }));
    void this.#hearing.of('sum').beat;
    this.#hop.mono = mono;
  }
  /** @param k - which hop of the sound; both channels are the left one when it was made mono */
  hear(left: Float32Array, right: Float32Array, k: number): void {
    const hop = this.#hop,
      ears = this.#ears,
      from = k * 256;
    hop.left.set(left.subarray(from, from + 256));
    hop.right.set((hop.mono ? left : right).subarray(from, from + 256));
    hop.time = from / 48000;
    this.#hearing.process(hop);
    for (let i = 0; i < ears.length; i++) ears[i]!.process(hop, NOBODY);
    this.#hearing.finish(hop);
  }
}
