/** What a laser costs, and how well its mirrors follow: pure, bundled as it ships, or through the real thread. */
import {
  addFigure,
  addPolygon,
  addText,
  addWave,
  At,
  Do,
  FieldMap,
  FrameBlend,
  LaserGate,
  LaserPaths,
  NO_ROWS,
  pathsOfForm,
  POINT,
  PointMaker,
  type PointSetting,
  Scanner,
  USUAL_LASER,
  USUAL_POINTS,
  WHOLE_FIELD,
} from '../../src/core/laser';
import { encodeIdnSamples, IDN_SAMPLES_MOST, idnBytes } from '../../src/core/protocols';
import { FERRY_BEAMS } from '../../src/core/ferry/beams';

const WHITE = [1, 1, 1] as const;
const shape = (fill: (p: LaserPaths) => void, by: number): LaserPaths => {
  const paths = new LaserPaths();
  fill(paths);
  for (let i = 0; i < paths.starts[paths.paths]! * POINT; i += POINT) {
    paths.corners[i] = paths.corners[i]! * by;
    paths.corners[i + 1] = paths.corners[i + 1]! * by;
  }
  return paths;
};
export const SHAPES: Readonly<Record<string, () => LaserPaths>> = {
  square: () => shape((p) => addPolygon(p, 4, 1, WHITE), 0.6),
  star: () => shape((p) => addPolygon(p, 5, 0.42, WHITE), 0.6),
  text: () => shape((p) => addText(p, 'NIGHT FERRY', WHITE), 0.7),
  wave: () =>
    shape(
      (p) =>
        addWave(
          p,
          Float32Array.from({ length: 48 }, (_, i) => 0.4 * Math.sin(i / 3)),
          WHITE,
        ),
      0.8,
    ),
};

/** How far the lit way of the mirrors is from what was wanted, at most: in thousandths of the field. */
export function deviation(paths: LaserPaths, setting: Partial<PointSetting>): number {
  const maker = new PointMaker({ ...USUAL_POINTS, ...setting }),
    mirrors = new Scanner();
  maker.make(paths);
  let worst = 0;
  for (let lap = 0; lap < 3; lap++)
    for (let i = 0; i < maker.count; i++) {
      const at = i * POINT;
      mirrors.step(maker.points[at]!, maker.points[at + 1]!, 1 / USUAL_POINTS.pointsPerSecond);
      if (lap === 2 && maker.points[at + At.Red]! > 0)
        worst = Math.max(worst, apart(paths, mirrors.x, mirrors.y));
    }
  return worst * 1000;
}
/** How far the furthest corner that was wanted is from any light, in thousandths of the field. */
export function cornersMissed(paths: LaserPaths, setting: Partial<PointSetting>): number {
  const maker = new PointMaker({ ...USUAL_POINTS, ...setting }),
    mirrors = new Scanner(),
    seen: number[] = [];
  maker.make(paths);
  for (let lap = 0; lap < 2; lap++)
    for (let i = 0; i < maker.count; i++) {
      const at = i * POINT;
      mirrors.step(maker.points[at]!, maker.points[at + 1]!, 1 / USUAL_POINTS.pointsPerSecond);
      if (lap === 1 && maker.points[at + At.Red]! > 0) seen.push(mirrors.x, mirrors.y);
    }
  let worst = 0;
  for (let i = 0; i < paths.starts[paths.paths]!; i++) {
    let least = Infinity;
    for (let k = 0; k < seen.length; k += 2)
      least = Math.min(
        least,
        Math.hypot(seen[k]! - paths.corners[i * POINT]!, seen[k + 1]! - paths.corners[i * POINT + 1]!),
      );
    worst = Math.max(worst, least);
  }
  return worst * 1000;
}
function apart(paths: LaserPaths, x: number, y: number): number {
  let least = Infinity;
  for (let p = 0; p < paths.paths; p++)
    for (let i = paths.starts[p]! + 1; i < paths.starts[p + 1]!; i++) {
      const a = (i - 1) * POINT,
        dx = paths.corners[a + POINT]! - paths.corners[a]!,
        dy = paths.corners[a + POINT + 1]! - paths.corners[a + 1]!,
        long2 = dx * dx + dy * dy,
        ux = x - paths.corners[a]!,
        uy = y - paths.corners[a + 1]!,
        t = long2 > 0 ? Math.max(0, Math.min(1, (ux * dx + uy * dy) / long2)) : 0;
      least = Math.min(least, Math.hypot(ux - t * dx, uy - t * dy));
    }
  return least;
}

/** Four of each of the demo's figures, as they rest: twelve. @returns the points of a picture, and what was left out */
export function twelve(): { readonly points: number; readonly leftOut: number; readonly paths: LaserPaths } {
  const paths = new LaserPaths(),
    maker = new PointMaker();
  FERRY_BEAMS.forEach(({ form, rest }, f) => {
    for (let k = 0; k < 4; k++) {
      const v = new Float64Array(Do.Length);
      v[Do.Bright] = v[Do.Drawn] = v[Do.Dashes] = v[Do.Mirror] = v[Do.Copies] = 1;
      v[Do.Red] = v[Do.Green] = v[Do.Blue] = v[Do.FarRed] = v[Do.FarGreen] = v[Do.FarBlue] = 1;
      v[Do.Size] = Number(rest.size) / 200;
      v[Do.Across] = k % 2 ? 0.5 : -0.5;
      v[Do.Height] = 0.9 - 0.1 * f - (k > 1 ? 0.6 : 0);
      addFigure(paths, pathsOfForm(form), v, NO_ROWS);
    }
  });
  maker.make(paths);
  return { points: maker.count, leftOut: maker.cost.leftOut, paths };
}

/** Share of a core, in per cent, that a second of the laser takes: a hundred frames made, thirty thousand points laid, led, gated and written. */
export function cost(): number {
  const { paths } = twelve(),
    maker = new PointMaker(),
    { limits } = USUAL_LASER,
    gate = new LaserGate(limits),
    blend = new FrameBlend(),
    map = new FieldMap(WHOLE_FIELD),
    due = new Float32Array(POINT * IDN_SAMPLES_MOST),
    packet = new Uint8Array(idnBytes(IDN_SAMPLES_MOST, 16)),
    stream = { mode: 'wave', bits: 16, pointsPerSecond: limits.pointsPerSecond, service: 0 } as const;
  gate.arm();
  const second = (from: number): number => {
    const at = performance.now();
    for (let f = 0; f < 100; f++) {
      const now = from + f * 10;
      maker.make(paths);
      map.apply(maker.points, maker.count);
      blend.take(maker.points, maker.count, now);
      gate.look(maker.points, maker.count);
      for (let sent = 0; sent < 300; sent += IDN_SAMPLES_MOST) {
        for (let i = 0; i < IDN_SAMPLES_MOST; i++)
          blend.put((sent + i) % Math.max(1, blend.count), now + i / 30, due, i * POINT);
        gate.pass(due, IDN_SAMPLES_MOST, { now, frameAge: 1, driverAge: 1, dark: false }, due);
        encodeIdnSamples(packet, stream, sent, now, due, 0, IDN_SAMPLES_MOST, false);
      }
    }
    return performance.now() - at;
  };
  const took = Array.from({ length: 9 }, (_, k) => second(k * 1000)).sort((a, b) => a - b);
  return took[4]! / 10;
}
