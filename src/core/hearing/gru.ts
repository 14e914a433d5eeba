import { kernels, type Address, type Kernels } from '../kernels/kernels';

/** One matrix or vector of a trained network: whole numbers and what one of them is worth. */
export interface Quantised {
  readonly scale: number;
  readonly values: readonly number[];
}

/** One layer of cells. */
export interface GruCells {
  readonly inputs: number;
  readonly size: number;
  /** 3 × size rows (reset, update, new) of `inputs` numbers; in the lowest layer the normalising of inputs is already in them. */
  readonly inputWeights: Quantised;
  readonly stateWeights: Quantised;
  readonly inputBias: Quantised;
  readonly stateBias: Quantised;
}

/** A trained network, as `scripts/tune` writes it. */
export interface GruWeights {
  /** Layers, the lowest first: each takes what the one below it remembers. */
  readonly cells: readonly GruCells[];
  readonly outputs: number;
  readonly outWeights: Quantised;
  readonly outBias: Quantised;
}

/**
 * Gated recurrent units (Cho et al. 2014), in layers, with a sigmoid output layer: what remembers a groove in a few dozen numbers.
 *
 * `r = σ(Wr x + br + Ur h + cr)`, `z = σ(…)`, `n = tanh(Wn x + bn + r (Un h + cn))`, `h ← (1 − z) n + z h`, `y = σ(V h + d)`.
 * Allocates at set-up only.
 */
export class Gru {
  /** Probabilities, one per output. */
  readonly out: Float32Array;
  readonly #layers: readonly Cells[];
  readonly #toOutput: Rows;
  readonly #numbers: Float32Array;
  readonly #sums: number;

  /** @throws RangeError when the weights do not fit their stated shape */
  constructor({ cells, outputs, outWeights, outBias }: GruWeights) {
    const { scratch, f32 } = kernels(),
      last = cells.at(-1)?.size ?? 0,
      widest = Math.max(...cells.flatMap((c) => [c.inputs, c.size])),
      rows = Math.max(outputs, ...cells.map((c) => 3 * c.size)) + SIDE_BY_SIDE;
    cells.forEach(({ inputs }, i) => {
      if (i > 0 && inputs !== cells[i - 1]!.size)
        throw new RangeError(
          `Gru: layer ${i + 1} takes ${inputs}, the one below gives ${cells[i - 1]!.size}`,
        );
    });
    // In the kernels' scratch, for one layer after the other: what goes in, then what comes out by its inputs and by its state.
    const sums = 4 * Math.ceil((scratch + 4 * widest) / 16),
      state = sums + 4 * Math.ceil(rows / 4);
    this.#layers = cells.map((c) => new Cells(c, scratch, sums, state, f32));
    this.#toOutput = new Rows(outWeights, outBias, outputs, last, scratch, 4 * sums);
    this.#numbers = f32;
    this.#sums = sums;
    this.out = new Float32Array(outputs);
  }

  /** Forgets everything. */
  reset(): void {
    for (const layer of this.#layers) layer.h.fill(0);
  }

  /** One step. @param x - as many finite numbers as the lowest layer takes @returns `out` */
  step(x: Float32Array): Float32Array {
    let h = x;
    for (let i = 0; i < this.#layers.length; i++) h = this.#layers[i]!.step(h);
    this.#toOutput.take(h);
    const { out } = this,
      f32 = this.#numbers,
      sums = this.#sums;
    for (let o = 0; o < out.length; o++) out[o] = sigmoid(f32[sums + o]!);
    return out;
  }
}

/** One layer, and what it remembers. */
class Cells {
  readonly h: Float32Array;
  readonly #fromInput: Rows;
  readonly #fromState: Rows;

  /** @param x, gates, state - where in the kernels' memory numbers go in (in bytes), and what comes out (in numbers of 4 bytes) */
  constructor(
    c: GruCells,
    x: Address,
    readonly gates: number,
    readonly state: number,
    readonly f32: Float32Array,
  ) {
    this.#fromInput = new Rows(c.inputWeights, c.inputBias, 3 * c.size, c.inputs, x, 4 * gates);
    this.#fromState = new Rows(c.stateWeights, c.stateBias, 3 * c.size, c.size, x, 4 * state);
    this.h = new Float32Array(c.size);
  }
  step(x: Float32Array): Float32Array {
    const { h, f32, gates, state } = this,
      n = h.length;
    this.#fromInput.take(x);
    this.#fromState.take(h);
    for (let i = 0; i < n; i++) {
      const r = sigmoid(f32[gates + i]! + f32[state + i]!),
        z = sigmoid(f32[gates + n + i]! + f32[state + n + i]!);
      const fresh = Math.tanh(f32[gates + 2 * n + i]! + r * f32[state + 2 * n + i]!);
      const y = (1 - z) * fresh + z * h[i]!;
      h[i] = y - y === 0 ? y : 0; // one NaN let in would stay for the rest of the show
    }
    return h;
  }
}

/** Rows that the kernel works on together. */
const SIDE_BY_SIDE = 16;
/** Where a network's weights and biases lie: the same for all who listen with it. */
const tables = new WeakMap<Quantised, Address>();

/** Rows of weights, each times the same numbers. */
class Rows {
  readonly #kernels: Kernels = kernels();
  readonly #weights: Address;
  readonly #bias: Address;
  readonly #count: number;

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
    this.#count = SIDE_BY_SIDE * Math.ceil(rows / SIDE_BY_SIDE);
    this.#weights = this.#keep(weights, this.#count * width, (i) => {
      const row = Math.floor(i / width);
      return SIDE_BY_SIDE * (Math.floor(row / SIDE_BY_SIDE) * width + (i % width)) + (row % SIDE_BY_SIDE);
    });
    this.#bias = this.#keep(bias, this.#count, (i) => i);
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

  /** Puts the bias and sum of each row where these go, and of up to fifteen empty ones after them. */
  take(x: Float32Array): void {
    this.#kernels.f32.set(x, this.x / 4);
    this.#kernels.call.rows(this.#weights, this.#bias, this.x, this.out, this.#count, this.width);
  }
}

function sigmoid(x: number): number {
  return 1 / (1 + Math.exp(-x));
}
