import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import {
  FLAT_CORNERS,
  invertMap,
  isShowable,
  laidOn,
  newScreen,
  screenMap,
  squareToQuad,
  type Corner,
  type Screen,
} from './screen';

/** Where a projective map takes a place. */
const go = (m: readonly number[], [x, y]: Corner): Corner => {
  const w = m[6]! * x + m[7]! * y + m[8]!;
  return [(m[0]! * x + m[1]! * y + m[2]!) / w, (m[3]! * x + m[4]! * y + m[5]!) / w];
};
const near = (a: Corner, b: Corner): void => {
  expect(a[0]).toBeCloseTo(b[0], 9);
  expect(a[1]).toBeCloseTo(b[1], 9);
};
const SQUARE: readonly Corner[] = FLAT_CORNERS;
const LEANING: Screen['corners'] = [
  [0.1, 0.05],
  [0.9, 0],
  [1, 0.8],
  [0.2, 1],
];
const screen = (change: Partial<Screen>): Screen => ({ ...newScreen('s', 'S'), ...change });

describe('corners of a screen', () => {
  it('are where the corners of the unit square go, and back by the inverse', () => {
    const m = squareToQuad(LEANING)!,
      back = invertMap(m)!;
    SQUARE.forEach((c, i) => {
      near(go(m, c), LEANING[i]!);
      near(go(back, LEANING[i]!), c);
    });
  });
  it('keep straight lines straight: the diagonals cross where those of the square do', () => {
    const m = squareToQuad(LEANING)!,
      [a, b, c, d] = LEANING,
      middle = go(m, [0.5, 0.5]);
    const side = (p: Corner, q: Corner, r: Corner): number =>
      (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
    expect(side(a, c, middle)).toBeCloseTo(0, 9);
    expect(side(b, d, middle)).toBeCloseTo(0, 9);
  });
  it('of a parallelogram are an even map: no perspective', () => {
    const m = squareToQuad([
      [0, 0],
      [1, 0.2],
      [1.3, 1.2],
      [0.3, 1],
    ])!;
    expect(m[6]).toBeCloseTo(0, 12);
    expect(m[7]).toBeCloseTo(0, 12);
  });
  it('can be shown when they go round the right way without a dent, and else not', () => {
    expect(isShowable(FLAT_CORNERS)).toBe(true);
    expect(isShowable(LEANING)).toBe(true);
    expect(
      isShowable([
        [0, 0],
        [1, 1],
        [1, 0],
        [0, 1],
      ]),
    ).toBe(false); // crossed
    expect(
      isShowable([
        [0, 0],
        [0, 1],
        [1, 1],
        [1, 0],
      ]),
    ).toBe(false); // mirrored
    expect(
      isShowable([
        [0, 0],
        [1, 0],
        [0.2, 0.2],
        [0, 1],
      ]),
    ).toBe(false); // dented
    expect(
      isShowable([
        [0, 0],
        [0.5, 0],
        [1, 0],
        [0, 1],
      ]),
    ).toBe(false); // three in a line
  });
  it('that lie in a line have no map, and a map that flattens has no inverse', () => {
    expect(
      squareToQuad([
        [0, 0],
        [0.3, 0],
        [0.6, 0],
        [1, 0],
      ]),
    ).toBeNull();
    expect(invertMap([1, 2, 0, 2, 4, 0, 0, 0, 1])).toBeNull();
  });
  it('go there and back at random', () => {
    const random = seeded(8);
    for (let n = 0; n < 200; n++) {
      const corners = SQUARE.map(([x, y]): Corner => [
        x + 0.4 * (random() - 0.5),
        y + 0.4 * (random() - 0.5),
      ]) as unknown as Screen['corners'];
      if (!isShowable(corners)) continue;
      const m = squareToQuad(corners)!,
        p: Corner = [random(), random()];
      near(go(invertMap(m)!, go(m, p)), p);
    }
  });
});

describe('what a screen shows of the picture', () => {
  it('is all of it, untouched, when nothing is set', () => {
    expect(screenMap(newScreen('s', 'S'))).toBeNull();
  });
  it('is its crop, edge to edge', () => {
    const m = screenMap(screen({ crop: { left: 0.25, right: 0.75, bottom: 0.1, top: 0.6 } }))!;
    near(go(m, [0, 0]), [0.25, 0.1]);
    near(go(m, [1, 1]), [0.75, 0.6]);
    near(go(m, [0.5, 0.5]), [0.5, 0.35]);
  });
  it('is turned anticlockwise: at 90° the picture’s right edge is up', () => {
    const m = screenMap(screen({ turn: 90 }))!;
    // What the top of the screen shows is the picture's right.
    near(go(m, [0.5, 1]), [1, 0.5]);
    near(go(m, [0, 0.5]), [0.5, 1]);
  });
  it('is the same after four quarter turns, and half turns undo each other', () => {
    const quarter = screenMap(screen({ turn: 90 }))!,
      half = screenMap(screen({ turn: 180 }))!,
      three = screenMap(screen({ turn: 270 }))!;
    for (const p of [
      [0.2, 0.9],
      [0.7, 0.1],
    ] as const) {
      near(go(quarter, go(three, p)), p);
      near(go(half, go(half, p)), p);
      near(go(quarter, go(quarter, p)), go(half, p));
    }
  });
  it('comes to lie in its corners: at each corner of the surface is a corner of the picture', () => {
    const m = screenMap(screen({ corners: LEANING }))!;
    LEANING.forEach((c, i) => near(go(m, c), SQUARE[i]!));
  });
  it('is flat when its corners cannot be shown', () => {
    expect(
      screenMap(
        screen({
          corners: [
            [0, 0],
            [1, 1],
            [1, 0],
            [0, 1],
          ],
        }),
      ),
    ).toBeNull();
  });
});

describe('a screen on a display of another shape', () => {
  const lies = (way: Screen['lies'], width: number, height: number): number[] => {
    const on = laidOn({ width: 1280, height: 720, ...(way && { lies: way }) }, { width, height });
    return [on.width, on.height];
  };
  it('fits whole, fills all of it, or is stretched to it', () => {
    expect(lies(undefined, 1000, 1000)).toEqual([1000, 562.5]);
    expect(lies('fit', 3000, 720)).toEqual([1280, 720]);
    lies('fill', 1000, 1000).forEach((x, i) => expect(x).toBeCloseTo([1777.78, 1000][i]!, 2));
    expect(lies('fill', 2560, 720)).toEqual([2560, 1440]);
    expect(lies('stretch', 1000, 1000)).toEqual([1000, 1000]);
  });
});
