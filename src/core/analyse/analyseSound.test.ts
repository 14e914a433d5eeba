import { describe, expect, it } from '@jest/globals';
import type { Pcm } from '../audio/wav';
import { analyseSound } from './analyseSound';

const pcm = (rate: number, seconds: number, left: (t: number) => number, right?: (t: number) => number): Pcm => {
  const frames = Math.round(rate * seconds);
  const channel = (x: (t: number) => number): Float32Array => Float32Array.from({ length: frames }, (_, i) => x(i / rate));
  return { sampleRate: rate, frames, duration: frames / rate, channels: right ? [channel(left), channel(right)] : [channel(left)] };
};
const sine = (hz: number, amplitude = 1) => (t: number): number => amplitude * Math.sin(2 * Math.PI * hz * t);

describe('analyseSound', () => {
  it.each([8000, 11025, 22050, 44100, 48000, 96000, 192000])('reads a full-scale sine as peak 0 and RMS −3.01 at %d Hz, in its own band', (rate) => {
    const { level, bands, duration } = analyseSound(pcm(rate, 1, sine(997)));
    expect(duration).toBe(1);
    expect(level).toHaveLength(10);
    expect(level[5]![0]).toBeCloseTo(0.6, 6);
    expect(level[5]![1]).toBeCloseTo(0, 1);
    expect(level[5]![2]).toBeCloseTo(-3.01, 1);
    expect(bands.mid[5]![1]).toBeCloseTo(-3.01, 0);
    expect(bands.low[5]![1]).toBeLessThan(-40);
    expect(bands.high[5]![1]).toBeLessThan(-25); // one and a third octaves below the range's edge
  });
  it('is strictly causal: the first half of a sound gives the first half of its numbers', () => {
    const noise = (t: number): number => Math.sin(t * 7919) * Math.sin(t * 104729) * (t > 0.7 ? 1 : 0.2);
    const whole = analyseSound(pcm(48000, 2, noise)), half = analyseSound(pcm(48000, 1.024, noise));
    // 1.024 s is a whole number of hops; the last, shorter window of the half file stands for itself.
    expect(half.level.slice(0, 10)).toEqual(whole.level.slice(0, 10));
    expect(half.bands.high.slice(0, 10)).toEqual(whole.bands.high.slice(0, 10));
  });
  it('hears a sound in antiphase', () => {
    const { level, bands } = analyseSound(pcm(48000, 0.5, sine(100, 0.5), sine(100, -0.5)));
    expect(level[3]![2]).toBeCloseTo(-9.03, 0);
    expect(bands.low[3]![1]).toBeCloseTo(-9.03, 0);
  });
  it('gives one line for a sound shorter than a tenth of a second, finite for silence', () => {
    const { level } = analyseSound(pcm(48000, 0.03, () => 0));
    expect(level).toEqual([[0.03, -144, -144]]);
  });
});
