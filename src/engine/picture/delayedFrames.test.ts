import { describe, expect, it } from '@jest/globals';
import type { FrameReader } from '../memory/frames';
import { DelayedFrames } from './delayedFrames';

const frame = (time: number, value = time, size = 4): FrameReader =>
  ({
    parameters: new Float32Array(size).fill(value),
    vectors: new Float32Array(2).fill(value),
    time,
    pictureTime: time - 1,
    darkness: 0,
  }) as unknown as FrameReader;

describe('a screen’s own delay', () => {
  it('gives what was so long ago, to within a frame', () => {
    const d = new DelayedFrames();
    for (let i = 0; i < 60; i++) d.keep(frame(10 + i / 60));
    const newest = 10 + 59 / 60;
    for (const delay of [0, 0.1, 0.25, 0.5]) {
      const past = d.at(delay)!;
      expect(newest - past.time).toBeGreaterThanOrEqual(delay - 1e-9);
      expect(newest - past.time).toBeLessThan(delay + 1 / 60 + 1e-9);
      expect([past.parameters[0], past.vectors[1], past.pictureTime]).toEqual([
        Math.fround(past.time),
        Math.fround(past.time),
        past.time - 1,
      ]);
    }
  });
  it('reaches back half a second on a display that shows every frame there is', () => {
    const d = new DelayedFrames(),
      tick = 256 / 48000;
    for (let i = 0; i < 400; i++) d.keep(frame(i * tick));
    expect(399 * tick - d.at(0.5)!.time).toBeGreaterThanOrEqual(0.5);
    expect(399 * tick - d.at(0.5)!.time).toBeLessThan(0.5 + tick + 1e-9);
  });
  it('keeps a frame once, and gives the oldest there is when it has not been there for so long', () => {
    const d = new DelayedFrames();
    d.keep(frame(1));
    d.keep(frame(1, 99));
    d.keep(frame(1.1));
    expect(d.at(0.5)!.time).toBe(1);
    expect(d.at(0.5)!.parameters[0]).toBe(1);
    expect(new DelayedFrames().at(0.1)).toBeNull();
  });
  it('draws nothing of another layout, nor of a show that began anew', () => {
    const d = new DelayedFrames();
    for (const t of [5, 5.1, 5.2]) d.keep(frame(t));
    d.keep(frame(5.3, 5.3, 8));
    expect(d.at(0.3)!.time).toBe(5.3);
    d.keep(frame(0.1, 0.1, 8));
    expect(d.at(0.3)!.time).toBe(0.1);
  });
});
