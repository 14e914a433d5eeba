import { COMPILED } from './compiled';

/** A place in the kernels' memory, in bytes. */
export type Address = number;

/** The inner loops, as `assembly/index.ts` says them. Addresses are multiples of 16 except those of sound. */
export interface Calls {
  rows(weights: Address, bias: Address, x: Address, out: Address, count: number, width: number): void;
  transform(x: Address, y: Address, turns: Address, n: number): Address;
  thin(
    x: Address,
    margin: number,
    half: Address,
    middle: number,
    every: number,
    first: number,
    last: number,
    out: Address,
    size: number,
  ): void;
  band(
    block: Address,
    left: Address,
    right: Address,
    frames: number,
    step: number,
    guarded: number,
    out: Address,
  ): void;
  between(
    x: Address,
    frames: number,
    phases: Address,
    count: number,
    taps: number,
    top: number,
    most: number,
    block: number,
  ): number;
}

/** Bytes that whoever calls may use until the call is over: room for a transform of 65,536 points and what goes into it. */
const SCRATCH = 3 << 20;
const ALIGNED = 16;

/**
 * The inner loops of the listening in WebAssembly, which takes two or four numbers at a time where JavaScript takes one: one
 * memory for each thread. Whoever calls copies in what it holds and copies out what it wants, so that nothing there outlives
 * its owner; only tables that are the same for all (weights, turns) stay.
 */
export class Kernels {
  readonly call: Calls;
  /** The whole memory, which never grows, in two readings. */
  readonly f64: Float64Array;
  readonly f32: Float32Array;
  readonly scratch: Address;
  #top: Address;
  readonly #turns = new Map<number, Address>();

  /** @throws Error where there is no WebAssembly with numbers side by side: in browsers from before 2023 */
  constructor() {
    const bytes = Uint8Array.from(atob(COMPILED), (c) => c.charCodeAt(0));
    if (!WebAssembly.validate(bytes))
      throw new Error(
        'This browser is too old to listen with (it has no WebAssembly SIMD). Use a current Chrome, Edge or Firefox.',
      );
    const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes), {
      env: {
        abort: () => {
          throw new Error('Kernels: stopped');
        },
      },
    });
    this.call = exports as unknown as Calls;
    const { memory, base } = exports as unknown as { memory: WebAssembly.Memory; base(): Address };
    this.f64 = new Float64Array(memory.buffer);
    this.f32 = new Float32Array(memory.buffer);
    this.#top = ALIGNED * Math.ceil(base() / ALIGNED);
    this.scratch = this.keep(SCRATCH);
  }

  /** Room for a table that stays. Set-up only. @throws RangeError when there is none left */
  keep(bytes: number): Address {
    const at = this.#top,
      next = at + ALIGNED * Math.ceil(bytes / ALIGNED);
    if (next > this.f64.byteLength)
      throw new RangeError(`Kernels: ${bytes} bytes wanted, ${this.f64.byteLength - at} left`);
    this.#top = next;
    return at;
  }

  /** The table of `exp(−2πi k / n)` that a transform of n points wants, the same for all. Set-up only. @throws RangeError when n is not a power of 2 from 2 to 65,536 */
  turns(n: number): Address {
    if (!(n >= 2 && n <= 65536 && Math.log2(n) % 1 === 0))
      throw new RangeError(`Kernels: a power of 2 from 2 to 65536 points, got ${n}`);
    let at = this.#turns.get(n);
    if (at === undefined) {
      at = this.keep(16 * n);
      for (let k = 0; k < n; k++) {
        const turn = (-2 * Math.PI * k) / n;
        this.f64[at / 8 + 2 * k] = Math.cos(turn);
        this.f64[at / 8 + 2 * k + 1] = Math.sin(turn);
      }
      this.#turns.set(n, at);
    }
    return at;
  }
}

let made: Kernels | null = null;
/** This thread's kernels, made at the first call: set-up only. */
export function kernels(): Kernels {
  return (made ??= new Kernels());
}
