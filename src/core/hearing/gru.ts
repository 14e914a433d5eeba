/** One matrix or vector of a trained network: whole numbers and what one of them is worth. */
export interface Quantised { readonly scale: number; readonly values: readonly number[] }

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
  readonly #x: Float64Array;
  readonly #h: Float64Array;

  /** @throws RangeError when the weights do not fit their stated shape */
  constructor(weights: GruWeights) {
    const { inputs, size, outputs } = weights;
    this.#n = size;
    this.#fromInput = new Layer(weights.inputWeights, weights.inputBias, 3 * size, inputs);
    this.#fromState = new Layer(weights.stateWeights, weights.stateBias, 3 * size, size);
    this.#toOutput = new Layer(weights.outWeights, weights.outBias, outputs, size);
    this.#x = new Float64Array(inputs);
    this.#h = new Float64Array(size);
    this.out = new Float32Array(outputs);
  }

  /** Forgets everything. */
  reset(): void { this.#h.fill(0); }

  /** One step. @param x - `inputs` finite numbers @returns `out` */
  step(x: Float32Array): Float32Array {
    const n = this.#n, h = this.#h;
    this.#x.set(x);
    const gates = this.#fromInput.of(this.#x), state = this.#fromState.of(h);
    for (let i = 0; i < n; i++) {
      const r = sigmoid(gates[i]! + state[i]!), z = sigmoid(gates[n + i]! + state[n + i]!);
      const fresh = Math.tanh(gates[2 * n + i]! + r * state[2 * n + i]!);
      const y = (1 - z) * fresh + z * h[i]!;
      h[i] = y - y === 0 ? y : 0; // one NaN let in would stay for the rest of the show
    }
    const { out } = this, y = this.#toOutput.of(h);
    for (let o = 0; o < out.length; o++) out[o] = sigmoid(y[o]!);
    return out;
  }
}

/** Rows of weights, each times the same numbers: eight rows side by side, so that no sum waits for another. */
class Layer {
  readonly #weights: Float64Array;
  readonly #bias: Float64Array;
  readonly #sums: Float64Array;
  readonly #width: number;

  /** @throws RangeError when the weights are not `rows` times `width`, or the bias not `rows` */
  constructor(weights: Quantised, bias: Quantised, rows: number, width: number) {
    for (const [{ values }, wanted] of [[weights, rows * width], [bias, rows]] as const) if (values.length !== wanted) throw new RangeError(`Gru: ${wanted} weights wanted, got ${values.length}`);
    const padded = 8 * Math.ceil(rows / 8);
    this.#width = width;
    this.#weights = new Float64Array(padded * width);
    weights.values.forEach((v, i) => { const row = Math.floor(i / width); this.#weights[8 * ((row >> 3) * width + (i % width)) + (row & 7)] = v * weights.scale; });
    this.#bias = new Float64Array(padded);
    bias.values.forEach((v, row) => { this.#bias[row] = v * bias.scale; });
    this.#sums = new Float64Array(padded);
  }

  /** Bias and sum of each row, and of up to seven empty ones after them; good until the next call. */
  of(x: Float64Array): Float64Array {
    const w = this.#weights, b = this.#bias, sums = this.#sums, width = this.#width;
    for (let row = 0, at = 0; row < sums.length; row += 8) {
      let s0 = b[row]!, s1 = b[row + 1]!, s2 = b[row + 2]!, s3 = b[row + 3]!, s4 = b[row + 4]!, s5 = b[row + 5]!, s6 = b[row + 6]!, s7 = b[row + 7]!;
      for (let k = 0; k < width; k++) {
        const v = x[k]!;
        s0 += w[at]! * v; s1 += w[at + 1]! * v; s2 += w[at + 2]! * v; s3 += w[at + 3]! * v;
        s4 += w[at + 4]! * v; s5 += w[at + 5]! * v; s6 += w[at + 6]! * v; s7 += w[at + 7]! * v;
        at += 8;
      }
      sums[row] = s0; sums[row + 1] = s1; sums[row + 2] = s2; sums[row + 3] = s3;
      sums[row + 4] = s4; sums[row + 5] = s5; sums[row + 6] = s6; sums[row + 7] = s7;
    }
    return sums;
  }
}

function sigmoid(x: number): number { return 1 / (1 + Math.exp(-x)); }
