import { describe, expect, it } from '@jest/globals';
import { HOP } from '../../core/units';
import { BLOCK_FRAMES, Control, makeControlMemory, Real, Word } from '../memory/control';
import { makeRingMemory, PcmRing } from '../memory/pcmRing';
import { driven, TimedDriver } from './timedDriver';

const share = (x: number[]): SharedArrayBuffer => {
  const m = new SharedArrayBuffer(x.length * 4);
  new Float32Array(m).set(x);
  return m;
};

describe('time without sound', () => {
  it("reads files as the audio thread would: from the show's position, looping, and silent while paused", () => {
    const control = new Control(makeControlMemory());
    const ring = makeRingMemory();
    const inputs = [
      driven({
        id: 'a',
        place: 2,
        ring,
        heard: 0,
        files: {
          loop: true,
          part: null,
          always: false,
          stems: [{ left: share(Array.from({ length: 300 }, (_, i) => i + 1)), right: null, gain: 2 }],
        },
      }),
    ];
    const driver = new TimedDriver(control);
    const view = new PcmRing(ring);
    driver.hop(inputs);
    expect(view.left[5]).toBe(0); // nobody has pressed play
    control.ask(true, 100);
    driver.hop(inputs);
    driver.hop(inputs);
    expect([...view.left.subarray(HOP, HOP + 3)]).toEqual([202, 204, 206]);
    expect(view.left[HOP + 199]).toBe(600);
    expect(view.left[HOP + 200]).toBe(2); // the next lap, without a gap
    expect(control.get(Word.Blocks)).toBe((3 * HOP) / BLOCK_FRAMES);
    expect(control.reals[Real.Position]).toBe(100 + 2 * HOP);
    expect(control.get(Word.Stereo)).toBe(0);
  });
  it('plays a part only, lap after lap, and a test tone whether the show plays or not', () => {
    const control = new Control(makeControlMemory());
    const ring = makeRingMemory(),
      toneRing = makeRingMemory();
    const sound = share(Array.from({ length: 1000 }, (_, i) => i));
    const inputs = [
      driven({
        id: 'part',
        place: 0,
        ring,
        heard: 0,
        files: {
          loop: true,
          part: { from: 500, to: 600 },
          always: false,
          stems: [{ left: sound, right: null, gain: 1 }],
        },
      }),
      driven({
        id: 'tone',
        place: 1,
        ring: toneRing,
        heard: 0,
        files: {
          loop: true,
          part: null,
          always: true,
          stems: [{ left: share([1, 2, 3]), right: null, gain: 1 }],
        },
      }),
    ];
    const driver = new TimedDriver(control);
    driver.hop(inputs);
    expect(new PcmRing(ring).left[10]).toBe(0);
    expect([...new PcmRing(toneRing).left.subarray(0, 4)]).toEqual([1, 2, 3, 1]);
    control.ask(true, 50);
    driver.hop(inputs);
    const left = new PcmRing(ring).left;
    expect([left[HOP], left[HOP + 49], left[HOP + 50], left[HOP + 150]]).toEqual([550, 599, 500, 500]);
  });
});
