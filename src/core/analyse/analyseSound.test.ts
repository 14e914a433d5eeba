import { describe, expect, it } from '@jest/globals';
import type { Pcm } from '../audio/wav';
import { mixPiece, stillSound } from '../../../scripts/material/mix';
import { makePiece } from '../../../scripts/material/score';
import { analyseSound } from './analyseSound';

const pcm = (
  rate: number,
  seconds: number,
  left: (t: number) => number,
  right?: (t: number) => number,
): Pcm => {
  const frames = Math.round(rate * seconds);
  const channel = (x: (t: number) => number): Float32Array =>
    Float32Array.from({ length: frames }, (_, i) => x(i / rate));
  return {
    sampleRate: rate,
    frames,
    duration: frames / rate,
    channels: right ? [channel(left), channel(right)] : [channel(left)],
  };
};
const sine =
  (hz: number, amplitude = 1) =>
  (t: number): number =>
    amplitude * Math.sin(2 * Math.PI * hz * t);

describe('analyseSound', () => {
  it.each([8000, 44100, 48000, 192000])(
    'reads a full-scale sine as peak 0 and RMS −3.01 at %d Hz, in its own band',
    (rate) => {
      const { level, bands, duration } = analyseSound(pcm(rate, 1, sine(997)));
      expect(duration).toBe(1);
      expect(level).toHaveLength(10);
      expect(level[5]![0]).toBeCloseTo(0.6, 6);
      expect(level[5]![1]).toBeCloseTo(0, 3);
      expect(level[5]![2]).toBeCloseTo(-3.01, 2);
      expect(bands.mid[5]![1]).toBeCloseTo(-3.01, 1); // the band's ripple
      expect(bands.low[5]![1]).toBeLessThan(-40);
      expect(bands.high[5]![1]).toBeLessThan(-25); // one and a third octaves below the range's edge
    },
  );
  it('is strictly causal: the first half of a sound gives the first half of its numbers', () => {
    const noise = (t: number): number => Math.sin(t * 7919) * Math.sin(t * 104729) * (t > 0.7 ? 1 : 0.2);
    const whole = analyseSound(pcm(48000, 2, noise)),
      half = analyseSound(pcm(48000, 1.024, noise));
    // 1.024 s is a whole number of hops; the last, shorter window of the half file stands for itself.
    expect(half.level.slice(0, 10)).toEqual(whole.level.slice(0, 10));
    expect(half.bands.high.slice(0, 10)).toEqual(whole.bands.high.slice(0, 10));
  });
  it('hears a sound in antiphase', () => {
    const { level, bands } = analyseSound(pcm(48000, 0.5, sine(100, 0.5), sine(100, -0.5)));
    expect(level[3]![2]).toBeCloseTo(-9.03, 1); // a level over 21 ms is not a whole number of periods
    expect(bands.low[3]![1]).toBeCloseTo(-9.03, 1);
  });
  it('gives one line for a sound shorter than a tenth of a second, finite for silence', () => {
    const { level } = analyseSound(pcm(48000, 0.03, () => 0));
    expect(level).toEqual([[0.03, -144, -144]]);
  });
  it('everything else is causal too: hits, beats, pitch and loudness of the first half are those of the half file', () => {
    // A groove of our own: drums, a bass and chords.
    const piece = makePiece(7, { style: 'straight', bpm: 116, seconds: 8 });
    const { left, right } = mixPiece(piece, { source: 'own', bedDb: -3, peakDb: -6, seed: 7 });
    const cut = 256 * 750; // 4 s
    const run = (frames: number) =>
      analyseSound({
        sampleRate: 48000,
        frames,
        duration: frames / 48000,
        channels: [left.slice(0, frames), right.slice(0, frames)],
      });
    const whole = run(left.length),
      half = run(cut);
    for (const k of ['any', 'kick', 'snare', 'hat'] as const)
      expect(half.hits[k]).toEqual(whole.hits[k].filter(([, known]) => known <= 4));
    expect(half.beats).toEqual(whole.beats.filter(([, known]) => known <= 4));
    expect(half.tempo).toEqual(whole.tempo.filter(([t]) => t <= 4));
    expect(half.pitch.slice(0, 199)).toEqual(whole.pitch.slice(0, 199));
    expect(half.loudness.momentary).toEqual(whole.loudness.momentary.slice(0, 40));
    expect(half.hits.any.length).toBeGreaterThan(10);
    for (const [t, known, strength] of whole.hits.any) {
      expect(known - t).toBeGreaterThan(0);
      expect(strength).toBeGreaterThan(0);
      expect(strength).toBeLessThanOrEqual(1);
    }
  });
  it('finds the strokes of a kit it never heard, early, and the tempo', () => {
    const piece = makePiece(90001, { style: 'straight', bpm: 108, seconds: 16, kit: 0, plain: true });
    const { left, right, any } = mixPiece(piece, {
      source: 'own',
      bedDb: -Infinity,
      peakDb: -12,
      seed: 90001,
    });
    const { hits, tempo } = analyseSound({
      sampleRate: 48000,
      frames: left.length,
      duration: 16,
      channels: [left, right],
    });
    const near = (t: number, list: readonly number[]): boolean => list.some((x) => Math.abs(x - t) < 0.05);
    const found = hits.any.map(([t]) => t);
    // One kit of many, its softest hats included; `npm run accuracy` has the whole measure.
    expect(any.filter((t) => near(t, found)).length / any.length).toBeGreaterThan(0.85);
    expect(found.filter((t) => near(t, any)).length / found.length).toBeGreaterThan(0.9);
    const late = hits.any
      .map(([t, known]) => known - (any.find((x) => Math.abs(x - t) < 0.05) ?? NaN))
      .filter((x) => x === x)
      .sort((a, b) => a - b);
    expect(late[late.length >> 1]!).toBeLessThan(0.012);
    const bpm = tempo.at(-1)![1];
    expect([1, 2, 0.5].some((f) => Math.abs(bpm / (108 * f) - 1) < 0.02)).toBe(true);
  });
  it('hears no kick in noise, hum or a held chord, at any level', () => {
    for (const kind of ['white', 'pink', 'hum', 'chord'] as const) {
      const x = stillSound(kind, 4, 90002).map((y) => y * 0.2);
      expect(
        analyseSound({ sampleRate: 48000, frames: x.length, duration: 4, channels: [x] }).hits.kick,
      ).toEqual([]);
    }
  });
});
