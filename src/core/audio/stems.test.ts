import { describe, expect, it } from '@jest/globals';
import { lapFrames, mixStems, type StemSound } from './stems';

const ramp = (n: number, scale = 1): Float32Array =>
  Float32Array.from({ length: n }, (_, i) => (i + 1) * scale);
const mix = (stems: StemSound[], loop: boolean, position: number, count: number): number[][] => {
  const l = new Float32Array(count).fill(9),
    r = new Float32Array(count).fill(9);
  mixStems(stems, lapFrames(stems), loop, position, l, r, 0, count);
  return [[...l], [...r]];
};

describe('mixStems', () => {
  it('adds stems frame by frame, each with its gain', () => {
    expect(
      mix(
        [
          { left: ramp(4), right: null, gain: 1 },
          { left: ramp(4, 10), right: null, gain: 0.5 },
        ],
        false,
        1,
        2,
      ),
    ).toEqual([
      [12, 18],
      [12, 18],
    ]);
  });
  it('loops without a gap, over several laps in one call', () => {
    expect(mix([{ left: ramp(3), right: null, gain: 1 }], true, 3 * 1000 + 2, 8)[0]).toEqual([
      3, 1, 2, 3, 1, 2, 3, 1,
    ]);
  });
  it('every lap of a set of unlike lengths is as long as the longest', () => {
    expect(
      mix(
        [
          { left: ramp(4), right: null, gain: 1 },
          { left: Float32Array.of(100), right: null, gain: 1 },
        ],
        true,
        0,
        6,
      )[0],
    ).toEqual([101, 2, 3, 4, 101, 2]);
  });
  it('is silent past the end when it does not loop, and when there is nothing', () => {
    expect(mix([{ left: ramp(3), right: null, gain: 1 }], false, 2, 3)[0]).toEqual([3, 0, 0]);
    expect(mix([{ left: ramp(3), right: null, gain: 1 }], false, 50, 2)[0]).toEqual([0, 0]);
    expect(mix([], true, 0, 2)[0]).toEqual([0, 0]);
  });
  it('keeps the sides apart', () => {
    expect(mix([{ left: ramp(2), right: ramp(2, -1), gain: 1 }], false, 0, 2)).toEqual([
      [1, 2],
      [-1, -2],
    ]);
  });
});
