import { describe, expect, it } from '@jest/globals';
import { nearest } from './nearness';
import { LaserPaths } from './paths';
import { PointMaker } from './pointMaker';
import { At, POINT } from './points';
import { Rehearsal } from './rehearsal';
import { USUAL_LASER } from './setting';
import { addPolygon } from './shapes';

function square(half: number): PointMaker {
  const paths = new LaserPaths(),
    maker = new PointMaker();
  addPolygon(paths, 4, 1, [1, 1, 1]);
  for (let i = 0; i < paths.starts[1]!; i++)
    for (const c of [At.X, At.Y]) paths.corners[i * POINT + c] = paths.corners[i * POINT + c]! * half;
  maker.make(paths);
  return maker;
}

describe('a rehearsal', () => {
  it('draws what mirrors would, cut by keep-outs, and says how much was let through', () => {
    const r = new Rehearsal(USUAL_LASER),
      { points, count } = square(0.8);
    for (let k = 0; k < 5; k++) r.draw(points, count, k * 100);
    let low = Infinity;
    for (let i = 0; i < r.count; i++)
      if (r.points[i * POINT + At.Green]! > 0) low = Math.min(low, r.points[i * POINT + At.Y]!);
    // The usual keep-out ends at −0.4.
    expect(low).toBeGreaterThan(-0.4);
    expect(r.passed).toBeGreaterThan(0.5);
    expect(r.passed).toBeLessThan(0.9);
    const free = new Rehearsal({ ...USUAL_LASER, limits: { ...USUAL_LASER.limits, keepOuts: [] } });
    for (let k = 0; k < 3; k++) free.draw(points, count, k * 100);
    expect(free.passed).toBeGreaterThan(0.98);
  });
  it('gives a frame its time, and goes on after a number that is none', () => {
    const r = new Rehearsal(USUAL_LASER),
      { points, count } = square(0.5);
    expect([r.draw(points, count, 0), r.draw(points, count, 1), r.draw(points, count, 200)]).toEqual([
      true,
      false,
      true,
    ]);
    const before = r.passed,
      bad = points.slice();
    bad[0] = NaN;
    r.draw(bad, count, 400);
    r.draw(points, count, 600);
    expect(before).toBeGreaterThan(0.8);
    expect(r.passed).toBeCloseTo(before, 1);
  });
  it('tells how near the nearest light is to a keep-out', () => {
    const p = Float32Array.from([0, 0, 0, 0, 0, 0, 0.5, 1, 1, 1, 0, -0.1, 1, 1, 1]),
      out = [-1, -1, 1, -1, 1, -0.4, -1, -0.4];
    expect(nearest(p, 3, [out])).toBeCloseTo(0.3, 6);
    expect(nearest(p, 3, [[-1, -1, 1, -1, 1, 0, -1, 0]])).toBe(0);
    expect(nearest(p, 3, [])).toBe(Infinity);
  });
});
