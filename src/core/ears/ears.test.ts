import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { seeded } from '../random';
import { HOP, SAMPLE_RATE } from '../units';
import { Hearing } from '../hearing/hearing';
import { bandOf, makeEarRunner, rangeHit, type EarRunner, type Listening } from './ear';
import { HEALTH, InputMeter } from './inputMeter';

interface Heard {
  values: number[];
  events: [time: number, strength: number, knownAt: number][];
}

/** Runs an ear over a sound given as a function of the frame number. */
function listen(listening: Listening, seconds: number, left: (i: number) => number, right = left): Heard {
  const hearing = new Hearing(SAMPLE_RATE, HOP);
  const ear: EarRunner = makeEarRunner(listening, { hearing });
  const hop = makeHop(HOP);
  const heard: Heard = { values: [], events: [] };
  for (let at = 0; at < seconds * SAMPLE_RATE; at += HOP) {
    for (let i = 0; i < HOP; i++) {
      hop.left[i] = left(at + i);
      hop.right[i] = right(at + i);
    }
    hop.mono = left === right;
    hop.time = at / SAMPLE_RATE;
    hearing.process(hop);
    ear.process(hop, { event: (t, s) => heard.events.push([t, s, (at + HOP) / SAMPLE_RATE]) });
    heard.values.push(ear.value);
    hearing.finish(hop);
  }
  return heard;
}
const sine =
  (hz: number, amplitude = 1) =>
  (i: number) =>
    amplitude * Math.sin((2 * Math.PI * hz * i) / SAMPLE_RATE);

describe('level', () => {
  it('reads a full-scale sine: peak 1, RMS 1/√2', () => {
    expect(listen({ kind: 'level', reading: 'peak' }, 1, sine(1000)).values.at(-1)).toBeCloseTo(1, 3);
    expect(listen({ kind: 'level', reading: 'rms' }, 1, sine(1500)).values.at(-1)).toBeCloseTo(
      Math.SQRT1_2,
      3,
    );
  });
  it('is all there after two hops, 10.7 ms', () => {
    const { values } = listen({ kind: 'level', reading: 'rms' }, 1, (i) =>
      i >= HOP * 10 ? sine(1500)(i) : 0,
    );
    expect(values[9]).toBe(0);
    expect(values[10]! / Math.SQRT1_2).toBeCloseTo(Math.SQRT1_2, 2);
    expect(values[11]! / Math.SQRT1_2).toBeCloseTo(1, 2);
  });
  it('hears a sound in antiphase as loud as in phase, and one side as half the power', () => {
    const one = sine(1500, 0.5);
    expect(listen({ kind: 'level', reading: 'rms' }, 0.2, one, (i) => -one(i)).values.at(-1)).toBeCloseTo(
      0.3536,
      3,
    );
    expect(listen({ kind: 'level', reading: 'rms' }, 0.2, one, () => 0).values.at(-1)).toBeCloseTo(0.25, 3);
    expect(listen({ kind: 'level', reading: 'peak' }, 0.2, () => 0, one).values.at(-1)).toBeCloseTo(0.5, 3);
  });
  it.each([NaN, Infinity, -Infinity])('stays finite through %d and recovers', (bad) => {
    for (const reading of ['peak', 'rms'] as const) {
      const { values } = listen({ kind: 'level', reading }, 1, (i) => (i < 4800 ? bad : sine(1500)(i)));
      expect(values.every(Number.isFinite)).toBe(true);
      expect(values.at(-1)).toBeGreaterThan(0.7);
    }
  });
});

describe('band', () => {
  it('reads the amplitude in its range only', () => {
    expect(listen(bandOf(200, 400), 1, sine(300, 0.1)).values.at(-1)).toBeCloseTo(0.0707, 3);
    expect(listen(bandOf(200, 400), 1, sine(3000, 0.1)).values.at(-1)).toBeLessThan(1e-5);
  });
  it('reads a stereo sound by its mean power, antiphase included', () => {
    const one = sine(300, 0.1);
    expect(listen(bandOf(200, 400), 1, one, (i) => -one(i)).values.at(-1)).toBeCloseTo(0.0707, 3);
    expect(listen(bandOf(200, 400), 1, one, () => 0).values.at(-1)).toBeCloseTo(0.05, 3);
  });
});

describe('hit', () => {
  const drum =
    (starts: number[], hz = 70, loud = 0.5) =>
    (i: number) => {
      let x = 0;
      for (const s of starts) {
        const t = i / SAMPLE_RATE - s;
        if (t >= 0 && t < 0.4)
          x += loud * Math.min(1, t / 0.004) * Math.exp(-t / 0.08) * Math.sin(2 * Math.PI * hz * t);
      }
      return x;
    };
  const low = rangeHit(40, 160);

  it('gives one event a drum stroke, within 15 ms of it, known within 30 ms', () => {
    const starts = [0.5, 0.9, 1.2, 1.4, 2];
    const { events } = listen(low, 2.5, drum(starts));
    expect(events).toHaveLength(starts.length);
    events.forEach(([time, strength, knownAt], i) => {
      expect(Math.abs(time - starts[i]!)).toBeLessThan(0.015);
      expect(knownAt - starts[i]!).toBeLessThan(0.03);
      expect(strength).toBeGreaterThan(0.5);
    });
  });
  it('gives a softer stroke a smaller strength', () => {
    const { events } = listen(low, 2, (i) => drum([0.5])(i) + 0.3 * drum([1.2])(i));
    expect(events).toHaveLength(2);
    expect(events[1]![1] / events[0]![1]).toBeCloseTo(0.3, 1);
  });
  it('is silent at the start of a sound that is already on, in steady noise and in a swell', () => {
    const random = seeded(3);
    expect(listen(low, 3, sine(80, 0.5)).events).toEqual([]);
    // A range this narrow swells and dips by 20 dB in noise; one leap in five seconds is what this ear, at its least sensitive, is allowed.
    expect(listen(rangeHit(40, 160, 0), 5, () => (random() - 0.5) * 0.4).events.length).toBeLessThanOrEqual(
      1,
    );
    expect(
      listen(low, 4, (i) => sine(80, 0.5)(i) * Math.min(1, i / SAMPLE_RATE / 3)).events.length,
    ).toBeLessThanOrEqual(1);
  });
  it('ignores a drum outside its range', () => {
    expect(listen(rangeHit(3000, 8000), 2, drum([0.5, 1])).events).toEqual([]);
  });
  it('is strictly causal: the first half of a sound gives the first half of its hits', () => {
    const whole = listen(low, 4, drum([0.5, 1, 2.5, 3])).events.filter(([, , known]) => known <= 2);
    expect(listen(low, 2, drum([0.5, 1, 2.5, 3])).events).toEqual(whole);
  });
});

describe('InputMeter', () => {
  const health = (seconds: number, x: (i: number) => number): string => {
    const meter = new InputMeter();
    const hop = makeHop(HOP);
    for (let at = 0; at < seconds * SAMPLE_RATE; at += HOP) {
      for (let i = 0; i < HOP; i++) hop.left[i] = hop.right[i] = x(at + i);
      meter.process(hop, HOP / SAMPLE_RATE, 1);
    }
    return HEALTH[meter.health]!;
  };
  it.each([
    ['silent', () => 0],
    ['quiet', sine(440, 0.005)],
    ['good', sine(440, 0.2)],
    ['clipping', (i: number) => Math.max(-1, Math.min(1, sine(440, 3)(i)))],
  ])('calls an input %s', (word, x) => {
    expect(health(4, x)).toBe(word);
  });
  it('does not call a full-scale sine clipped, nor an input silent in its first second', () => {
    expect(health(2, sine(997, 0.9979))).toBe('good');
    expect(health(0.5, () => 0)).toBe('good');
  });
});
