import { describe, expect, it } from '@jest/globals';
import { TRAIL_BY_PICTURE } from './byPicture';

describe('trails told by the picture', () => {
  const { zoom, turn, last } = TRAIL_BY_PICTURE;
  it('after sixty pictures come to what they are by the second', () => {
    expect((zoom.to(1) / 100) ** 60).toBeCloseTo(2, 9);
    expect(turn.to(90) * 60).toBe(90);
    // A tenth is left after its time: 1.5 s are ninety pictures.
    expect((last.to(1.5) / 100) ** 90).toBeCloseTo(0.1, 9);
    expect(last.to(0)).toBe(0);
  });
  it('go back to where they came from', () => {
    for (const x of [-4, -0.3, 0, 0.15, 4]) expect(zoom.from(zoom.to(x))).toBeCloseTo(x, 9);
    for (const x of [0.05, 1.2, 30]) expect(last.from(last.to(x))).toBeCloseTo(x, 6);
    for (const x of [-720, 0, 13]) expect(turn.from(turn.to(x))).toBeCloseTo(x, 9);
  });
});
