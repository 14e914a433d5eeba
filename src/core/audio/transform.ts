import { kernels, type Address, type Kernels } from '../kernels/kernels';

/**
 * Discrete Fourier transform of `size` complex numbers, `X(k) = Σ x(n) e^(−2πi kn / size)`.
 *
 * All of a thread's transforms share one room: from filling {@link input} to reading the result nothing else may be computed.
 */
export class Transform {
  /** Where numbers go in and come out: real and imaginary part in turn. */
  readonly memory: Float64Array;
  /** Index in `memory` of the first number's real part. */
  readonly input: number;
  /** First address behind what a transform uses: room for whoever prepares its input. */
  readonly free: Address;
  readonly #kernels: Kernels;
  readonly #turns: Address;
  readonly #x: Address;

  /** @param size - a power of 2 from 2 to 65,536 @throws RangeError otherwise */
  constructor(readonly size: number) {
    this.#kernels = kernels();
    this.#turns = this.#kernels.turns(size);
    this.#x = this.#kernels.scratch;
    this.memory = this.#kernels.f64;
    this.input = this.#x / 8;
    this.free = this.#x + 32 * size;
  }

  /** Transforms what is in `input`, which is spoilt. Allocates nothing. @returns index in `memory` of the result's first real part */
  run(): number {
    return this.#kernels.call.transform(this.#x, this.#x + 16 * this.size, this.#turns, this.size) / 8;
  }
}
