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
  readonly #inputs: number;
  readonly #w: Float32Array;
  readonly #u: Float32Array;
  readonly #b: Float32Array;
  readonly #c: Float32Array;
  readonly #v: Float32Array;
  readonly #d: Float32Array;
  readonly #h: Float32Array;
  readonly #gates: Float32Array;
  readonly #state: Float32Array;

  /** @throws RangeError when the weights do not fit their stated shape */
  constructor(weights: GruWeights) {
    const { inputs, size, outputs } = weights;
    const take = ({ scale, values }: Quantised, length: number): Float32Array => {
      if (values.length !== length) throw new RangeError(`Gru: ${length} weights wanted, got ${values.length}`);
      return Float32Array.from(values, (v) => v * scale);
    };
    this.#n = size;
    this.#inputs = inputs;
    this.#w = take(weights.inputWeights, 3 * size * inputs);
    this.#u = take(weights.stateWeights, 3 * size * size);
    this.#b = take(weights.inputBias, 3 * size);
    this.#c = take(weights.stateBias, 3 * size);
    this.#v = take(weights.outWeights, outputs * size);
    this.#d = take(weights.outBias, outputs);
    this.#h = new Float32Array(size);
    this.#gates = new Float32Array(3 * size);
    this.#state = new Float32Array(3 * size);
    this.out = new Float32Array(outputs);
  }

  /** Forgets everything. */
  reset(): void { this.#h.fill(0); }

  /** One step. @param x - `inputs` finite numbers @returns `out` */
  step(x: Float32Array): Float32Array {
    const n = this.#n, m = this.#inputs, h = this.#h, w = this.#w, u = this.#u, gates = this.#gates, state = this.#state;
    for (let i = 0, at = 0, au = 0; i < 3 * n; i++) {
      let a = this.#b[i]!, s = this.#c[i]!;
      for (let k = 0; k < m; k++) a += w[at++]! * x[k]!;
      for (let k = 0; k < n; k++) s += u[au++]! * h[k]!;
      gates[i] = a;
      state[i] = s;
    }
    for (let i = 0; i < n; i++) {
      const r = sigmoid(gates[i]! + state[i]!), z = sigmoid(gates[n + i]! + state[n + i]!);
      const fresh = Math.tanh(gates[2 * n + i]! + r * state[2 * n + i]!);
      const y = (1 - z) * fresh + z * h[i]!;
      h[i] = y - y === 0 ? y : 0; // one NaN let in would stay for the rest of the show
    }
    const { out } = this;
    for (let o = 0, at = 0; o < out.length; o++) {
      let a = this.#d[o]!;
      for (let k = 0; k < n; k++) a += this.#v[at++]! * h[k]!;
      out[o] = sigmoid(a);
    }
    return out;
  }
}

function sigmoid(x: number): number { return 1 / (1 + Math.exp(-x)); }
