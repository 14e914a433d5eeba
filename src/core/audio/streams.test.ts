import { describe, expect, it } from '@jest/globals';
import { WAVES } from '../show/types';
import { AutoGain } from './autoGain';
import { DelayLine } from './delayLine';
import { makeHop } from './hop';
import { Octaves } from './octaves';
import { ShortSpectrum } from './shortSpectrum';
import { renderTone } from './tone';

const RATE = 48000;
const rms = (x: ArrayLike<number>, from = 0): number => {
  let s = 0;
  for (let i = from; i < x.length; i++) s += x[i]! ** 2;
  return Math.sqrt(s / (x.length - from));
};
/** Feeds a sound hop by hop. */
function feed(
  hops: number,
  x: (n: number) => number,
  take: (hop: ReturnType<typeof makeHop>, k: number) => void,
): void {
  const hop = makeHop(256);
  for (let k = 0; k < hops; k++) {
    for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = x(k * 256 + i);
    take(hop, k);
  }
}
const sine =
  (hz: number, a = 1) =>
  (n: number): number =>
    a * Math.sin((2 * Math.PI * hz * n) / RATE);

describe('lower rates', () => {
  const level = (hz: number, depth: number): number => {
    const octaves = new Octaves(RATE, 256),
      out: number[] = [];
    octaves.need(depth);
    feed(200, sine(hz), (hop) => {
      octaves.process(hop);
      const n = octaves.framesAt(depth, hop),
        l = octaves.leftAt(depth, hop);
      for (let i = 0; i < n; i++) out.push(l[i]!);
    });
    return 20 * Math.log10(rms(out, out.length >> 1) * Math.SQRT2);
  };
  it.each([
    [1, 3900],
    [3, 900],
    [5, 250],
  ])('halved %d times, what lies low enough passes untouched', (depth, hz) => {
    expect(Math.abs(level(hz, depth))).toBeLessThan(0.02);
    expect(new Octaves(RATE, 256).depthFor(hz, 1)).toBeGreaterThanOrEqual(depth);
  });
  it('what would fold onto it is gone', () => {
    expect(level(RATE / 2 - 1000, 1)).toBeLessThan(-75);
  });
  it('gives one frame of two, of four …, whatever the hop', () => {
    const octaves = new Octaves(44100, 235),
      hop = makeHop(235);
    octaves.need(3);
    let frames = 0;
    for (let k = 0; k < 80; k++) {
      octaves.process(hop);
      frames += octaves.framesAt(3, hop);
    }
    expect(frames).toBe((80 * 235) / 8);
  });
});

describe('the short spectrum', () => {
  it('reads a full-scale sine as 1 at its bin, and a sound in antiphase too', () => {
    for (const sign of [1, -1]) {
      const s = new ShortSpectrum(0.0427, 0.006, RATE);
      feed(20, sine(1500), (hop) => {
        if (sign < 0) for (let i = 0; i < 256; i++) hop.right[i] = -hop.left[i]!;
        s.push(hop.left, hop.right, 256);
      });
      s.update();
      expect(s.power[Math.round(1500 / s.perBin)]).toBeCloseTo(1, 2);
    }
  });
  it('hears what has just begun sooner than a symmetric window does', () => {
    const first = (fall: number): number => {
      const s = new ShortSpectrum(0.02, fall, RATE);
      let at = -1;
      feed(
        40,
        (n) => (n >= 5120 ? sine(3000)(n) : 0),
        (hop, k) => {
          s.push(hop.left, hop.right, 256);
          s.update();
          if (at < 0 && s.power[Math.round(3000 / s.perBin)]! > 0.05) at = k;
        },
      );
      return at;
    };
    expect(first(0.003)).toBeLessThan(first(0.01));
  });
});

describe('automatic gain', () => {
  it('brings a quiet sound to −20 dBFS, by at most 24 dB, and leaves an empty room alone', () => {
    const after = (a: number, seconds: number): number => {
      const gain = new AutoGain();
      feed(Math.round((seconds * RATE) / 256), sine(440, a), (hop) => gain.process(hop, 256 / RATE));
      return gain.db;
    };
    expect(after(0.02, 12)).toBeCloseTo(-20 - 20 * Math.log10(0.02 * Math.SQRT1_2), 0); // from −37 dBFS: 17 dB; the last of it comes slowly
    expect(after(0.003, 20)).toBeCloseTo(24, 3);
    expect(after(0.0005, 20)).toBe(0);
    expect(after(0.9, 5)).toBeLessThan(-10);
  });
});

describe('a delay', () => {
  it.each([1, 100, 256, 1000])('of %d frames gives each sample so much later', (frames) => {
    const line = new DelayLine(frames),
      out: number[] = [];
    feed(
      8,
      (n) => n + 1,
      (hop) => {
        line.process(hop);
        out.push(...hop.left);
      },
    );
    expect(out.slice(0, frames).every((x) => x === 0)).toBe(true);
    expect(out.slice(frames, frames + 5)).toEqual([1, 2, 3, 4, 5]);
  });
});

describe('test tones', () => {
  it.each(WAVES)('%s: at its level, without a seam', (wave) => {
    const x = renderTone(wave, 441.3, -18);
    const peak = x.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
    if (wave === 'white' || wave === 'pink') expect(20 * Math.log10(rms(x))).toBeCloseTo(-18, 3);
    else expect(Math.abs(20 * Math.log10(peak) + 18)).toBeLessThan(1.5);
    let steepest = 0;
    for (let i = 1; i < x.length; i++) steepest = Math.max(steepest, Math.abs(x[i]! - x[i - 1]!));
    expect(Math.abs(x[0]! - x.at(-1)!)).toBeLessThanOrEqual(steepest * 1.001);
  });
  it('a sine is in tune within a cent', () => {
    const x = renderTone('sine', 61.7, 0);
    let crossings = 0;
    for (let i = 1; i < x.length; i++) if (x[i - 1]! < 0 && x[i]! >= 0) crossings++;
    expect(Math.abs(1200 * Math.log2(((crossings + 1) * RATE) / x.length / 61.7))).toBeLessThan(1);
  });
});
