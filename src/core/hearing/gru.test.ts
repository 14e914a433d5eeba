import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { Gru, type GruWeights, type Quantised } from './gru';

const whole = (values: number[]): Quantised => ({ scale: 1, values });
/** One cell, one input, one output; what is not given is nought. */
const cell = (
  w: [number, number, number],
  u: [number, number, number],
  b: [number, number, number],
  c: [number, number, number],
  v: number,
  d: number,
): GruWeights => ({
  cells: [
    {
      inputs: 1,
      size: 1,
      inputWeights: whole(w),
      stateWeights: whole(u),
      inputBias: whole(b),
      stateBias: whole(c),
    },
  ],
  outputs: 1,
  outWeights: whole([v]),
  outBias: whole([d]),
});
const sigmoid = (x: number): number => 1 / (1 + Math.exp(-x));

describe('a gated recurrent unit', () => {
  it('that keeps nothing is a plain layer: σ(v tanh(w x) + d)', () => {
    // The update gate is shut at −60: h = tanh(0.7 x).
    const g = new Gru(cell([0, 0, 0.7], [0, 0, 0], [0, -60, 0], [0, 0, 0], 2, -0.3));
    for (const x of [-2, -0.1, 0, 0.4, 3])
      expect(g.step(Float32Array.of(x))[0]).toBeCloseTo(sigmoid(2 * Math.tanh(0.7 * x) - 0.3), 6);
  });
  it('whose update gate is half open halves its way to what is new at each step', () => {
    const g = new Gru(cell([0, 0, 100], [0, 0, 0], [0, 0, 0], [0, 0, 0], 1, 0));
    // h goes from 0 towards tanh(100) = 1: 1 − 2⁻ᵏ.
    for (let k = 1; k <= 8; k++) expect(g.step(Float32Array.of(1))[0]).toBeCloseTo(sigmoid(1 - 2 ** -k), 6);
  });
  it('lets its state into what is new only as far as the reset gate is open', () => {
    const shut = new Gru(cell([0, 0, 0], [0, 0, 5], [-60, -60, 0.5], [0, 0, 0.9], 1, 0)),
      open = new Gru(cell([0, 0, 0], [0, 0, 5], [60, -60, 0.5], [0, 0, 0.9], 1, 0));
    let h = 0;
    for (let k = 0; k < 5; k++) {
      expect(shut.step(Float32Array.of(0))[0]).toBeCloseTo(sigmoid(Math.tanh(0.5)), 6);
      h = Math.tanh(0.5 + 5 * h + 0.9);
      expect(open.step(Float32Array.of(0))[0]).toBeCloseTo(sigmoid(h), 6);
    }
  });
  it('takes its rows in the order reset, update, new, for several cells, inputs and layers', () => {
    const random = seeded(12),
      sizes = [2, 3, 5],
      many = (k: number): number[] => Array.from({ length: k }, () => Math.round(200 * (random() - 0.5)));
    const cells = [0, 1].map((l) => {
      const m = sizes[l]!,
        n = sizes[l + 1]!;
      return {
        inputs: m,
        size: n,
        inputWeights: { scale: 0.01, values: many(3 * n * m) },
        stateWeights: { scale: 0.02, values: many(3 * n * n) },
        inputBias: { scale: 0.01, values: many(3 * n) },
        stateBias: { scale: 0.01, values: many(3 * n) },
      };
    });
    const w: GruWeights = {
      cells,
      outputs: 2,
      outWeights: { scale: 0.02, values: many(2 * 5) },
      outBias: { scale: 0.01, values: many(2) },
    };
    const at = ({ scale, values }: Quantised, i: number): number => values[i]! * scale;
    const g = new Gru(w),
      states = [new Array<number>(3).fill(0), new Array<number>(5).fill(0)];
    for (let k = 0; k < 20; k++) {
      const first = [random() - 0.5, random() - 0.5];
      let x = first;
      cells.forEach((c, l) => {
        const { inputs: m, size: n } = c,
          h = states[l]!;
        const into = (gate: number, i: number): number =>
          at(c.inputBias, gate * n + i) +
          x.reduce((s, v, j) => s + v * at(c.inputWeights, (gate * n + i) * m + j), 0);
        const from = (gate: number, i: number): number =>
          at(c.stateBias, gate * n + i) +
          h.reduce((s, v, j) => s + v * at(c.stateWeights, (gate * n + i) * n + j), 0);
        x = states[l] = h.map((old, i) => {
          const r = sigmoid(into(0, i) + from(0, i)),
            z = sigmoid(into(1, i) + from(1, i));
          return (1 - z) * Math.tanh(into(2, i) + r * from(2, i)) + z * old;
        });
      });
      const out = g.step(Float32Array.from(first));
      for (let o = 0; o < 2; o++)
        expect(out[o]).toBeCloseTo(
          sigmoid(at(w.outBias, o) + x.reduce((s, v, j) => s + v * at(w.outWeights, o * 5 + j), 0)),
          5,
        );
    }
  });
  it('is not broken for good by what is not a number, and forgets when told to', () => {
    const g = new Gru(cell([0, 0, 0.7], [0, 0, 0], [0, 0, 0], [0, 0, 0], 2, 0)),
      fresh = new Gru(cell([0, 0, 0.7], [0, 0, 0], [0, 0, 0], [0, 0, 0], 2, 0));
    g.step(Float32Array.of(1));
    g.step(Float32Array.of(NaN));
    for (let k = 0; k < 40; k++) expect(Number.isFinite(g.step(Float32Array.of(1))[0])).toBe(true);
    g.reset();
    expect(g.step(Float32Array.of(1))[0]).toBe(fresh.step(Float32Array.of(1))[0]);
  });
  it('refuses weights that do not fit their shape', () => {
    const one = cell([0, 0, 0], [0, 0, 0], [0, 0, 0], [0, 0, 0], 0, 0),
      wide = { ...one.cells[0]!, inputs: 2 };
    expect(() => new Gru({ ...one, cells: [wide] })).toThrow(/6 weights wanted, got 3/);
    expect(() => new Gru({ ...one, cells: [one.cells[0]!, wide] })).toThrow(
      /layer 2 takes 2, the one below gives 1/,
    );
  });
});
