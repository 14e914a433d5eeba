import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { LASER_LETTERS, textStrokes } from './letters';
import { LaserPaths } from './paths';
import { darkTravel, PathOrder } from './pathOrder';
import { PointMaker, type PointSetting, USUAL_POINTS } from './pointMaker';
import { addFigure, NO_ROWS, pathsOfForm } from './draw';
import { Do } from './kinds';
import { At, POINT } from './points';
import { Scanner } from './scanner';
import { addDots, addGrid, addPolygon, addRing, addText, addWave, type Ray } from './shapes';

const WHITE: Ray = [1, 1, 1];
/** Beams across, as they rest. */
function fanValues(): Float64Array {
  const v = new Float64Array(Do.Length);
  v[Do.Size] = v[Do.Bright] = v[Do.Drawn] = v[Do.Dashes] = v[Do.Red] = v[Do.FarRed] = v[Do.Mirror] = 1;
  return v;
}
const made = (fill: (paths: LaserPaths) => void): LaserPaths => {
  const paths = new LaserPaths();
  fill(paths);
  return paths;
};
const scaled = (paths: LaserPaths, by: number): LaserPaths => {
  for (let i = 0; i < paths.starts[paths.paths]!; i++)
    for (const c of [At.X, At.Y]) paths.corners[i * POINT + c] = paths.corners[i * POINT + c]! * by;
  return paths;
};
/** The largest distance of what the mirrors draw, lit, from the lines that were wanted. */
function deviation(paths: LaserPaths, setting: PointSetting): number {
  const maker = new PointMaker(setting),
    scanner = new Scanner();
  let worst = 0;
  for (let round = 0; round < 3; round++) {
    maker.make(paths);
    for (let i = 0; i < maker.count; i++) {
      const at = i * POINT;
      scanner.step(maker.points[at]!, maker.points[at + 1]!, 1 / setting.pointsPerSecond);
      const lit = maker.points[at + At.Green]! > 0;
      if (round === 2 && lit) worst = Math.max(worst, apartFrom(paths, scanner.x, scanner.y));
    }
  }
  return worst;
}
function apartFrom(paths: LaserPaths, x: number, y: number): number {
  let least = Infinity;
  for (let p = 0; p < paths.paths; p++)
    for (let i = paths.starts[p]! + 1; i < paths.starts[p + 1]!; i++) {
      const a = (i - 1) * POINT,
        b = i * POINT,
        ax = paths.corners[a]!,
        ay = paths.corners[a + 1]!,
        dx = paths.corners[b]! - ax,
        dy = paths.corners[b + 1]! - ay,
        t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, Math.hypot(x - ax - t * dx, y - ay - t * dy));
    }
  return least;
}

describe('points of a frame', () => {
  it('lie evenly along the lines, no further apart than was asked, dark between lines and anchored at both ends', () => {
    const paths = made((p) => {
        addWave(p, [0, 0], WHITE);
        p.begin();
        p.corner(-1, 0.5, 1, 0, 0);
        p.corner(1, 0.5, 1, 0, 0);
        p.end();
      }),
      maker = new PointMaker({ ...USUAL_POINTS, colourShift: 0 });
    maker.make(paths);
    expect(maker.litWay).toBeCloseTo(4, 6);
    let litSteps = 0;
    for (let i = 1; i < maker.count; i++) {
      const at = i * POINT,
        step = Math.hypot(
          maker.points[at]! - maker.points[at - POINT]!,
          maker.points[at + 1]! - maker.points[at - POINT + 1]!,
        );
      const lit = maker.points[at + At.Red]! > 0;
      if (lit && step > 0) {
        expect(step).toBeLessThanOrEqual(0.03 + 1e-6);
        expect(step).toBeGreaterThan(0.029);
        litSteps++;
      }
    }
    // Two lines of 2 each, 67 steps of 0.03 at most.
    expect(litSteps).toBe(134);
  });
  it('stay at a corner by how much the line turns there', () => {
    const points = (degrees: number, dwell: number): number => {
      const maker = new PointMaker({ ...USUAL_POINTS, dwell }),
        a = (degrees * Math.PI) / 180;
      return maker.make(
        made((p) => {
          p.begin();
          p.corner(0, 0, 1, 1, 1);
          p.corner(0.5, 0, 1, 1, 1);
          p.corner(0.5 + 0.4 * Math.cos(a), 0.4 * Math.sin(a), 1, 1, 1);
          p.end();
        }),
      );
    };
    const corner = (degrees: number): number => points(degrees, 10) - points(degrees, 0);
    expect([0, 90, 180].map(corner)).toEqual([0, 5, 10]);
  });
  it('bring colours as many points later than their places as was set, round the frame', () => {
    const paths = made((p) => addWave(p, [0, 0.2, 0], WHITE)),
      plain = new PointMaker({ ...USUAL_POINTS, anchors: 0, colourShift: 0 }),
      late = new PointMaker({ ...USUAL_POINTS, anchors: 0, colourShift: 3 });
    const n = plain.make(paths);
    expect(late.make(paths)).toBe(n);
    for (let i = 0; i < n; i++) {
      expect(late.points[i * POINT]).toBe(plain.points[i * POINT]);
      expect(late.points[((i + 3) % n) * POINT + At.Red]).toBe(plain.points[i * POINT + At.Red]);
    }
  });
  it('keep to the rate: spacing gives way first, then repeats, then what comes last', () => {
    const costs = [1, 4, 6, 8, 12, 20, 60].map((n) => {
      const paths = made((p) => {
        for (let i = 0; i < n; i++) addPolygon(p, 5, 0.4, WHITE);
      });
      const maker = new PointMaker();
      expect(maker.make(paths)).toBeLessThanOrEqual(1000);
      return maker.cost;
    });
    expect(costs[0]).toEqual({ spacing: 1, repeats: 1, leftOut: 0 });
    expect(costs.at(-1)!.leftOut).toBeGreaterThan(0);
    expect(costs.some((c) => c.spacing > 1 && c.repeats === 1 && c.leftOut === 0)).toBe(true);
    for (const c of costs) if (c.repeats < 1) expect(c.spacing).toBeGreaterThanOrEqual(3);
    for (const c of costs) if (c.leftOut > 0) expect(c.repeats).toBeLessThan(0.4);
  });
  it('twelve figures of a show hold thirty frames a second without any left out', () => {
    const paths = made((p) => {
      for (let i = 0; i < 3; i++) addPolygon(p, 3, 1, WHITE);
      for (let i = 0; i < 4; i++) addRing(p, WHITE);
      for (let i = 0; i < 3; i++)
        addWave(
          p,
          Array.from({ length: 16 }, (_, k) => 0.1 * Math.sin(k)),
          WHITE,
        );
      addText(p, 'GULL', WHITE);
      addFigure(p, pathsOfForm({ kind: 'fan', beams: 5 }), fanValues(), NO_ROWS);
    });
    const maker = new PointMaker();
    maker.make(scaled(paths, 0.3));
    expect(maker.count).toBeLessThanOrEqual(1000);
    expect(maker.cost.leftOut).toBe(0);
  });
  it('are none for nothing, and no path of a single corner is drawn', () => {
    const maker = new PointMaker();
    expect(maker.make(new LaserPaths())).toBe(0);
    const paths = made((p) => {
      p.begin();
      p.corner(0, 0, 1, 1, 1);
      p.begin();
      p.corner(0, 0, 1, 1, 1);
      p.corner(1, 0, 1, 1, 1);
      p.begin();
      p.corner(1, 1, 1, 1, 1);
      p.end();
    });
    expect(paths.paths).toBe(1);
    expect(paths.length).toBe(1);
  });
});

describe('the order of paths', () => {
  it.each(['NIGHT FERRY', 'BATUCADA', 'THE LAST CROSSING'])(
    'saves a third of the dark ways of “%s” and more',
    (text) => {
      const paths = made((p) => addText(p, text, WHITE)),
        order = new PathOrder(),
        naive = Int32Array.from({ length: paths.paths }, (_, i) => i);
      order.find(paths, 0, 0);
      const all = [...order.order.subarray(0, paths.paths)].map((c) => (c < 0 ? -1 - c : c));
      expect(all.sort((a, b) => a - b)).toEqual([...naive]);
      expect(darkTravel(paths, order.order, 0, 0) / darkTravel(paths, naive, 0, 0)).toBeLessThanOrEqual(0.67);
    },
  );
  it('is never longer than from each to the nearest, for random strokes', () => {
    const random = seeded(5);
    for (let k = 0; k < 20; k++) {
      const paths = made((p) => {
        for (let i = 0; i < 40; i++) {
          p.begin();
          for (let c = 0; c < 3; c++) p.corner(random() * 2 - 1, random() * 2 - 1, 1, 1, 1);
        }
        p.end();
      });
      const order = new PathOrder();
      order.find(paths, 0, 0);
      const naive = Int32Array.from({ length: paths.paths }, (_, i) => i);
      expect(darkTravel(paths, order.order, 0, 0)).toBeLessThan(0.5 * darkTravel(paths, naive, 0, 0));
    }
  });
});

describe('mirrors', () => {
  it('answer a step as a mass on a spring does: they go past by the share that their damping lets them', () => {
    for (const damping of [0.5, 0.8]) {
      const scanner = new Scanner({ hz: 1000, damping, speed: 1e9, acceleration: 1e12 });
      let most = 0;
      for (let i = 0; i < 400; i++) {
        scanner.step(0.5, 0, 1e-5);
        most = Math.max(most, scanner.x);
      }
      // exp(−πζ/√(1−ζ²))
      const past = Math.exp((-Math.PI * damping) / Math.sqrt(1 - damping * damping));
      expect(most / 0.5 - 1).toBeCloseTo(past, 1);
      expect(scanner.x).toBeCloseTo(0.5, 3);
      expect(scanner.y).toBe(0);
    }
  });
  it('draw corners nearer to where they are wanted when points dwell there, and lines as they are', () => {
    const shapes: readonly (readonly [string, LaserPaths])[] = [
      [
        'square',
        scaled(
          made((p) => addPolygon(p, 4, 1, WHITE)),
          0.8,
        ),
      ],
      [
        'star',
        scaled(
          made((p) => addPolygon(p, 5, 0.4, WHITE)),
          0.8,
        ),
      ],
      [
        'text',
        scaled(
          made((p) => addText(p, 'FERRY', WHITE)),
          0.8,
        ),
      ],
    ];
    for (const [, paths] of shapes) {
      const plain = deviation(paths, { ...USUAL_POINTS, dwell: 0 }),
        dwelt = deviation(paths, USUAL_POINTS);
      expect(dwelt).toBeLessThan(0.1);
      expect(dwelt).toBeLessThanOrEqual(plain + 1e-3);
    }
    const wave = made((p) =>
      addWave(
        p,
        Array.from({ length: 64 }, (_, i) => 0.3 * Math.sin(i / 5)),
        WHITE,
      ),
    );
    expect(deviation(wave, USUAL_POINTS)).toBeLessThan(0.05);
  });
});

describe('a text as mirrors draw it', () => {
  it('is lit where it was wanted and nowhere else, to a hundredth of the field', () => {
    const paths = scaled(
        made((p) => addText(p, 'NIGHT FERRY', WHITE)),
        0.56,
      ),
      maker = new PointMaker(),
      mirrors = new Scanner(),
      seen: [number, number][] = [];
    maker.make(paths);
    for (let lap = 0; lap < 3; lap++)
      for (let i = 0; i < maker.count; i++) {
        mirrors.step(maker.points[i * POINT]!, maker.points[i * POINT + 1]!, 1 / 30000);
        if (lap === 2 && maker.points[i * POINT + At.Red]! > 0) seen.push([mirrors.x, mirrors.y]);
      }
    const wanted: [number, number][] = [];
    for (let p = 0; p < paths.paths; p++)
      for (let i = paths.starts[p]! + 1; i < paths.starts[p + 1]!; i++)
        for (let t = 0; t <= 1; t += 0.05) {
          const a = (i - 1) * POINT,
            b = i * POINT;
          wanted.push([
            paths.corners[a]! + (paths.corners[b]! - paths.corners[a]!) * t,
            paths.corners[a + 1]! + (paths.corners[b + 1]! - paths.corners[a + 1]!) * t,
          ]);
        }
    const far = ([x, y]: [number, number], list: readonly [number, number][]): number =>
      Math.min(...list.map(([u, v]) => Math.hypot(u - x, v - y)));
    expect(Math.max(...seen.map((p) => far(p, wanted)))).toBeLessThan(0.01);
    // Two points of a line are 0.03 apart: nothing that was wanted is further than that from light.
    expect(Math.max(...wanted.map((p) => far(p, seen)))).toBeLessThan(0.03);
  });
});

describe('shapes', () => {
  it('are what they are called: corners on their circle, strokes on their grid', () => {
    const square = made((p) => addPolygon(p, 4, 1, WHITE));
    expect(square.paths).toBe(1);
    for (let i = 0; i < 5; i++)
      expect(Math.hypot(square.corners[i * POINT]!, square.corners[i * POINT + 1]!)).toBeCloseTo(1, 6);
    expect(square.corners[4 * POINT]).toBeCloseTo(square.corners[0]!, 6);
    expect(made((p) => addRing(p, WHITE)).length).toBeCloseTo(2 * Math.PI, 1);
    expect(made((p) => addGrid(p, 3, 2, WHITE)).length).toBeCloseTo(10, 5);
    expect(made((p) => addDots(p, 7, false, WHITE)).paths).toBe(7);
  });
  it('every letter is drawn within its box, and the whole text in the middle', () => {
    expect(LASER_LETTERS.length).toBe(40);
    for (const letter of LASER_LETTERS) {
      const runs = textStrokes(letter);
      expect(runs.length).toBeGreaterThan(0);
      for (const run of runs)
        for (let i = 0; i < run.length; i += 2) {
          expect(Math.abs(run[i]!)).toBeLessThanOrEqual(1 + 1e-9);
          expect(Math.abs(run[i + 1]!)).toBeLessThanOrEqual(1.5 + 1e-9);
        }
    }
    expect(textStrokes('~')).toEqual([]);
    const xs = textStrokes('HH').flatMap((run) => run.filter((_, i) => i % 2 === 0));
    expect([Math.min(...xs), Math.max(...xs)]).toEqual([-1, expect.closeTo(1, 9)]);
  });
});
