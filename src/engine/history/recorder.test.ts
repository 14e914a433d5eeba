import { describe, expect, it } from '@jest/globals';
import { readWav } from '../../core/audio';
import { makeRingMemory, PcmRing } from '../memory/pcmRing';
import { Recorder, RECORDED_SECONDS } from './recorder';

const RATE = 48000;
/** Lets a sound pass, with a visit of the recorder every two seconds. */
function pass(
  seconds: number,
  left: (n: number) => number,
  right = left,
  from = 0,
): { recorder: Recorder; now: number } {
  const ring = new PcmRing(makeRingMemory()),
    recorder = new Recorder(ring, from),
    l = new Float32Array(128),
    r = new Float32Array(128);
  let now = from;
  for (; now < from + seconds * RATE; now += 128) {
    for (let i = 0; i < 128; i++) {
      l[i] = left(now + i);
      r[i] = right(now + i);
    }
    ring.write(now, l, r, 128);
    if (now % (2 * RATE) < 128) recorder.take(now + 128, left !== right);
  }
  recorder.take(now, left !== right);
  return { recorder, now };
}
const ramp = (n: number): number => ((n % 30000) - 15000) / 16384;

describe('Recorder', () => {
  it('gives back a stretch as it was, to the last bit of 16', () => {
    const { recorder, now } = pass(17, ramp);
    const { channels, frames } = readWav(recorder.stretch(9, 2)!);
    expect(frames).toBe(7 * RATE);
    expect(channels).toHaveLength(1);
    for (const i of [0, 1, 100000, frames - 1])
      expect(Math.abs(channels[0]![i]! - ramp(now - 9 * RATE + i))).toBeLessThan(1 / 16000);
  });
  it('keeps both channels when they differ', () => {
    const { recorder } = pass(6, ramp, (n) => -ramp(n));
    const [l, r] = readWav(recorder.stretch(3, 0)!).channels;
    expect(l![500]).toBeCloseTo(-r![500]!, 3);
  });
  it('keeps five minutes and no more, however long it ran', () => {
    const { recorder } = pass(RECORDED_SECONDS + 40, (n) => Math.floor(n / RATE) / 1000);
    expect(recorder.seconds()).toBeGreaterThan(RECORDED_SECONDS - 6);
    expect(recorder.seconds()).toBeLessThanOrEqual(RECORDED_SECONDS);
    expect(readWav(recorder.stretch(1e9, 0)!).channels[0]![0]).toBeCloseTo(0.04, 2);
  });
  it('has nothing of what was before it, or in the future', () => {
    expect(pass(0, ramp).recorder.stretch(10, 0)).toBeNull();
    expect(pass(3, ramp).recorder.stretch(2, 2)).toBeNull();
    expect(readWav(pass(3, ramp, ramp, 48000 * 1000).recorder.stretch(100, 0)!).duration).toBeCloseTo(3, 2);
  });
});
