import { describe, expect, it } from '@jest/globals';
import { bandOf } from '../ears/ear';
import { numberParameter } from '../parameters/description';
import { seeded } from '../random';
import { signalsOfEar, type Signal } from '../show/signals';
import { showIt, type Heard } from './showIt';

const COLUMN = 4 * (256 / 48000),
  COLUMNS = 563;
const parameter = numberParameter({
  id: 'h',
  label: 'h',
  help: '',
  unit: 'px',
  min: -200,
  max: 400,
  rest: 0,
  reach: 20,
});
const level = (id: string): Signal =>
  signalsOfEar({ id, name: id, input: 'in', channel: 'sum', listening: bandOf(40, 200) })[0]!;
const event = (id: string): Signal =>
  signalsOfEar({
    id,
    name: id,
    input: 'in',
    channel: 'sum',
    listening: { kind: 'hit', what: 'kick', low: 20, high: 20000, sensitivity: 0.5, holdOffMs: 36 },
  })[0]!;

/** Strokes at their own beats that ring out: a level, and the events that began it. */
function voice(seed: number, every: number, fall: number): { level: Float32Array; event: Float32Array } {
  const r = seeded(seed),
    out = new Float32Array(COLUMNS),
    hits = new Float32Array(COLUMNS);
  let x = 0,
    next = r() * every;
  for (let i = 0; i < COLUMNS; i++) {
    const t = i * COLUMN;
    if (t >= next) {
      const strength = 0.4 + 0.6 * r();
      x = Math.max(x, 0.1 * strength);
      hits[i] = strength;
      next += every * (r() < 0.25 ? 1.5 : r() < 0.3 ? 0.5 : 1);
    }
    x *= Math.exp(-COLUMN / fall);
    out[i] = x + 0.0005 * r();
  }
  return { level: out, event: hits };
}
/** What a hand makes of it: late, smoothed, shaky, at its own size. */
function byHand(x: Float32Array, late: number, size: number, shake: number, seed: number): Float32Array {
  const r = seeded(seed),
    out = new Float32Array(COLUMNS).fill(NaN),
    lag = Math.round(late / COLUMN);
  let y = 0,
    tremble = 0;
  for (let i = lag; i < COLUMNS; i++) {
    y += (x[i - lag]! - y) * 0.25;
    tremble += (r() - 0.5 - tremble) * 0.3;
    out[i] = 10 + size * (y / 0.1) + shake * size * tremble;
  }
  return out;
}

describe('show it', () => {
  const voices = [
    voice(1, 0.53, 0.12),
    voice(2, 0.27, 0.05),
    voice(3, 0.8, 0.3),
    voice(4, 1.07, 0.5),
    voice(5, 0.4, 0.09),
    voice(6, 0.66, 0.2),
  ];
  const heard: Heard[] = voices.flatMap((v, i) => [
    { signal: level(`level-${i}`), trace: v.level },
    { signal: event(`hit-${i}`), trace: v.event },
  ]);
  it('traces a movement back to its signal among many, however late and shaky the hand', () => {
    let right = 0,
      trials = 0;
    const r = seeded(77);
    for (let k = 0; k < 60; k++) {
      const i = k % voices.length,
        fromHit = k % 5 === 4;
      const source = fromHit ? ring(voices[i]!.event) : voices[i]!.level;
      const movement = byHand(source, 0.05 + 0.2 * r(), (20 + 60 * r()) * (r() < 0.2 ? -1 : 1), 0.3, k);
      const first = showIt(movement, heard, parameter, COLUMN)
        .slice(0, 3)
        .map((l) => l.signal);
      trials++;
      if (first.some((s) => s === `level-${i}` || s === `hit-${i}`)) right++;
    }
    expect(right / trials).toBeGreaterThanOrEqual(0.95);
  });
  function ring(hits: Float32Array): Float32Array {
    const out = new Float32Array(COLUMNS);
    let x = 0;
    for (let i = 0; i < COLUMNS; i++) {
      x = Math.max(x * 0.9, 0.1 * hits[i]!);
      out[i] = x;
    }
    return out;
  }
  it('finds how late the hand was, and from where to where it went', () => {
    const v = voices[3]!.level,
      size = 50;
    const movement = byHand(v, 0.15, size, 0.02, 9);
    const [best] = showIt(movement, heard, parameter, COLUMN);
    expect(best!.signal).toBe('level-3');
    expect(best!.score).toBeGreaterThan(0.9);
    expect(best!.lagMs).toBeGreaterThan(80);
    expect(best!.lagMs).toBeLessThan(260);
    expect(best!.rest).toBeGreaterThan(5);
    expect(best!.rest).toBeLessThan(22);
    expect(best!.reach).toBeGreaterThan(best!.rest + 20);
  });
  it('a movement against the sound gets a reach below its rest', () => {
    const [best] = showIt(byHand(voices[0]!.level, 0.1, -40, 0.05, 4), heard, parameter, COLUMN);
    expect(best!.reach).toBeLessThan(best!.rest);
  });
  it('makes nothing of a hand that rests, of silence, or of an empty past', () => {
    expect(showIt(new Float32Array(COLUMNS).fill(10), heard, parameter, COLUMN)).toEqual([]);
    const moved = byHand(voices[0]!.level, 0.1, 40, 0, 1);
    expect(
      showIt(
        moved,
        [
          { signal: level('silent'), trace: new Float32Array(COLUMNS) },
          { signal: level('unknown'), trace: new Float32Array(COLUMNS).fill(NaN) },
        ],
        parameter,
        COLUMN,
      ),
    ).toEqual([]);
  });
  it('everything it offers stays within what the parameter takes', () => {
    const small = { ...parameter, min: 5, max: 30 };
    for (const l of showIt(byHand(voices[2]!.level, 0.1, 300, 0, 3), heard, small, COLUMN)) {
      expect(l.rest).toBeGreaterThanOrEqual(5);
      expect(l.reach).toBeLessThanOrEqual(30);
    }
  });
});
