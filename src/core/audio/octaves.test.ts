import { describe, expect, it } from '@jest/globals';
import { makeHop } from './hop';
import { Octaves } from './octaves';

const RATE = 48000,
  HOP = 256;
/** What a depth gives of a sine, hop by hop, after it has settled. */
function heard(hz: number, depth: number, hops = 200): { left: number[]; octaves: Octaves } {
  const octaves = new Octaves(RATE, HOP),
    hop = makeHop(HOP),
    left: number[] = [];
  octaves.need(depth);
  hop.mono = true;
  for (let k = 0; k < hops; k++) {
    for (let i = 0; i < HOP; i++)
      hop.left[i] = hop.right[i] = Math.sin((2 * Math.PI * hz * (k * HOP + i)) / RATE);
    octaves.process(hop);
    left.push(...octaves.leftAt(depth, hop).slice(0, octaves.framesAt(depth, hop)));
  }
  return { left, octaves };
}
/** Amplitude and phase (radians) of a frequency in the settled half, by correlation over whole periods' worth of frames. */
function reading(x: number[], hz: number, rate: number): { amplitude: number; phase: number } {
  const from = Math.floor(x.length / 2);
  let re = 0,
    im = 0;
  for (let n = from; n < x.length; n++) {
    re += x[n]! * Math.sin((2 * Math.PI * hz * n) / rate);
    im += x[n]! * Math.cos((2 * Math.PI * hz * n) / rate);
  }
  const half = (x.length - from) / 2;
  return { amplitude: Math.hypot(re, im) / half, phase: Math.atan2(im, re) };
}

describe('half the rate, a quarter, an eighth', () => {
  it('gives one frame for two at each depth', () => {
    for (const depth of [1, 2, 3, 5])
      expect(heard(100, depth, 64).left).toHaveLength((64 * HOP) / 2 ** depth);
  });
  it('passes what lies under a third of the new rate within 0.05 dB', () => {
    for (const depth of [1, 2, 3, 4]) {
      const rate = RATE / 2 ** depth;
      for (const share of [0.03125, 0.125, 0.25, 0.3125]) {
        const hz = share * rate,
          db = 20 * Math.log10(reading(heard(hz, depth, 400).left, hz, rate).amplitude);
        expect([depth, share, Math.abs(db) < 0.05]).toEqual([depth, share, true]);
      }
    }
  });
  it('lets nothing fold down: what lies above two thirds of the new rate is 75 dB down', () => {
    for (const hz of [16500, 18000, 20000, 23000]) {
      const power =
        heard(hz, 1)
          .left.slice(2000)
          .reduce((s, v) => s + v * v, 0) /
        (heard(hz, 1).left.length - 2000);
      expect(10 * Math.log10(2 * power + 1e-20)).toBeLessThan(-75);
    }
  });
  it('is as late as it says', () => {
    for (const depth of [1, 2, 4]) {
      const rate = RATE / 2 ** depth,
        hz = 93.75,
        { left, octaves } = heard(hz, depth, 400);
      // The last of the frames that make one is the one whose time it has.
      const first = (2 ** depth - 1) / RATE,
        turn = -reading(left, hz, rate).phase + 2 * Math.PI * hz * first;
      expect(turn / (2 * Math.PI * hz)).toBeCloseTo(octaves.delayAt(depth), 5);
    }
  });
  it('chooses the deepest rate that still passes all that is asked for', () => {
    const o = new Octaves(RATE, HOP);
    // A third of half the rate is 8 kHz; 100 Hz pass at 375 frames a second.
    expect([o.depthFor(20000, 1), o.depthFor(7500, 1), o.depthFor(7501, 1), o.depthFor(100, 1)]).toEqual([
      0, 1, 0, 7,
    ]);
  });
  it('goes no deeper than somebody can wait', () => {
    const o = new Octaves(RATE, HOP);
    // Fifteen frames of the rate that is halved: 0.3125 ms, then 0.625 ms, then 1.25 ms.
    expect([
      o.depthFor(100, 0),
      o.depthFor(100, 0.000312),
      o.depthFor(100, 0.000313),
      o.depthFor(100, 0.00094),
      o.depthFor(100, 0.0022),
    ]).toEqual([0, 0, 1, 2, 3]);
  });
  it('goes on after what is not a number', () => {
    const octaves = new Octaves(RATE, HOP),
      hop = makeHop(HOP);
    octaves.need(2);
    hop.left.fill(NaN);
    octaves.process(hop);
    hop.left.fill(1);
    for (let k = 0; k < 4; k++) octaves.process(hop);
    expect(octaves.leftAt(2, hop)[10]).toBeCloseTo(1, 4);
  });
});
