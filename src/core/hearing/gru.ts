import { kernels, type Address, type Kernels } from '../kernels/kernels';

/** One matrix or vector of a trained network: whole numbers and what one of them is worth. */
export interface Quantised {
  readonly scale: number;
  readonly values: readonly number[];
}

/** A trained network, as `scripts/tune` writes it. */
export interface GruWeights {
  readonly inputs: number;
  readonly size: number;
  readonly outputs: number;
  /** 3 × size rows (reset, update, new) of `inputs` numbers; the normalising of inputs is already in them. */
  readonly inputWeights: Quantised;
  readonly stateWeights: Quantised;
  readonly inputBias: Quantised;
  readonly stateBias: Quantised;
  readonly outWeights: Quantised;
  readonly outBias: Quantised;
}

/**
 * A gated recurrent unit (Cho et al. 2014) with a sigmoid output layer: what remembers a groove in a few dozen numbers.
 *
 * `r = σ(Wr x + br + Ur h + cr)`, `z = σ(…)`, `n = tanh(Wn x + bn + r (Un h + cn))`, `h ← (1 − z) n + z h`, `y = σ(V h + d)`.
 * Allocates at set-up only.
 */
export class Gru {
  /** Probabilities, one per output. */
  readonly out: Float32Array;
  readonly #n: number;
  readonly #fromInput: Layer;
  readonly #fromState: Layer;
  readonly #toOutput: Layer;
  readonly #h: Float32Array;
  readonly #numbers: Float32Array;
  readonly #gates: number;
  readonly #state: number;

  /** @throws RangeError when the weights do not fit their stated shape */
  constructor(weights: GruWeights) {
    const { inputs, size, outputs } = weights;
    this.#n = size;
    const { scratch, f32 } = kernels(),
      widest = Math.max(inputs, size),
      rows = 3 * size + SIDE_BY_SIDE;
    // In the kernels' scratch: what goes in, then what comes out of each layer.
    const gates = 4 * Math.ceil((scratch + 4 * widest) / 16),
      state = gates + 4 * Math.ceil(rows / 4);
    this.#fromInput = new Layer(
      weights.inputWeights,
      weights.inputBias,
      3 * size,
      inputs,
      scratch,
      4 * gates,
    );
    this.#fromState = new Layer(weights.stateWeights, weights.stateBias, 3 * size, size, scratch, 4 * state);
    this.#toOutput = new Layer(weights.outWeights, weights.outBias, outputs, size, scratch, 4 * gates);
    this.#numbers = f32;
    this.#gates = gates;
    this.#state = state;
    this.#h = new Float32Array(size);
    this.out = new Float32Array(outputs);
  }

  /** Forgets everything. */
  reset(): void {
    this.#h.fill(0);
  }

  /** One step. @param x - `inputs` finite numbers @returns `out` */
  step(x: Float32Array): Float32Array {
    const n = this.#n,
      h = this.#h,
      f32 = this.#numbers,
      gates = this.#gates,
      state = this.#state;
    this.#fromInput.take(x);
    this.#fromState.take(h);
    for (let i = 0; i < n; i++) {
      const r = sigmoid(f32[gates + i]! + f32[state + i]!),
        z = sigmoid(f32[gates + n + i]! + f32[state + n + i]!);
      const fresh = Math.tanh(f32[gates + 2 * n + i]! + r * f32[state + 2 * n + i]!);
      const y = (1 - z) * fresh + z * h[i]!;
      h[i] = y - y === 0 ? y : 0; // one NaN let in would stay for the rest of the show
    }
    this.#toOutput.take(h);
    const { out } = this;
    for (let o = 0; o < out.length; o++) out[o] = sigmoid(f32[gates + o]!);
    return out;
  }
}

/** Rows that the kernel works on together. */
const SIDE_BY_SIDE = 16;
/** Where a network's weights and biases lie: the same for all who listen with it. */
const tables = new WeakMap<Quantised, Address>();

/** Rows of weights, each times the same numbers. */
class Layer {
  readonly #kernels: Kernels = kernels();
  readonly #weights: Address;
  readonly #bias: Address;
  readonly #rows: number;

  /** @param x - where what goes in is put @param out - where the sums are put @throws RangeError when the weights are not `rows` times `width`, or the bias not `rows` */
  constructor(
    weights: Quantised,
    bias: Quantised,
    rows: number,
    readonly width: number,
    readonly x: Address,
    readonly out: Address,
  ) {
    for (const [{ values }, wanted] of [
      [weights, rows * width],
      [bias, rows],
    ] as const)
      if (values.length !== wanted)
        throw new RangeError(`Gru: ${wanted} weights wanted, got ${values.length}`);
    this.#rows = SIDE_BY_SIDE * Math.ceil(rows / SIDE_BY_SIDE);
    this.#weights = this.#keep(weights, this.#rows * width, (i) => {
      const row = Math.floor(i / width);
      return SIDE_BY_SIDE * (Math.floor(row / SIDE_BY_SIDE) * width + (i % width)) + (row % SIDE_BY_SIDE);
    });
    this.#bias = this.#keep(bias, this.#rows, (i) => i);
  }

  #keep(table: Quantised, room: number, placeOf: (i: number) => number): Address {
    let at = tables.get(table);
    if (at === undefined) {
      at = this.#kernels.keep(4 * room);
      for (let i = 0; i < table.values.length; i++)
        this.#kernels.f32[at / 4 + placeOf(i)] = table.values[i]! * table.scale;
      tables.set(table, at);
    }
    return at;
  }

  /** Puts the bias and sum of each row where this layer puts them, and of up to fifteen empty ones after them. */
  take(x: Float32Array): void {
    this.#kernels.f32.set(x, this.x / 4);
    this.#kernels.call.rows(this.#weights, this.#bias, this.x, this.out, this.#rows, this.width);
  }
}

function sigmoid(x: number): number {
  return 1 / (1 + Math.exp(-x));
}
