import type { AimSetting } from './gate';
import type { Kind, Span } from './kind';

/** A point of the room, in metres: x to the right as the audience sees it, y up from the floor, z from the back wall to the audience. */
export interface Point {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}
/** Where a lamp is and how it hangs. */
export interface Hung extends Point {
  /** Degrees about the upright, as seen from above; 0: its front is to the audience. */
  readonly turn: number;
  /** From above, head down; or it stands on its foot. */
  readonly hangs: boolean;
}

const RAD = Math.PI / 180;

/**
 * The way a beam leaves: straight down from a lamp that hangs, up from one that stands, and tipped from there by `tilt` towards
 * where `pan` and its turn point.
 * @param out - receives a vector of length 1: x, y, z
 */
export function beamOf(
  { turn, hangs }: Pick<Hung, 'turn' | 'hangs'>,
  pan: number,
  tilt: number,
  out: Float64Array | number[],
): void {
  const p = (pan + turn) * RAD,
    t = tilt * RAD;
  out[0] = Math.sin(t) * Math.sin(p);
  out[1] = hangs ? -Math.cos(t) : Math.cos(t);
  out[2] = Math.sin(t) * Math.cos(p);
}

export interface Aim {
  readonly pan: number;
  readonly tilt: number;
}

/**
 * Pan and tilt at which a lamp points at a spot: of all that do, the one that is least far from where it is now. Null when the
 * lamp cannot reach it.
 */
export function aimAt(
  lamp: Hung,
  spot: Point,
  pan: Span,
  tilt: Span,
  now: Aim = { pan: 0, tilt: 0 },
): Aim | null {
  const dx = spot.x - lamp.x,
    dy = spot.y - lamp.y,
    dz = spot.z - lamp.z,
    far = Math.hypot(dx, dy, dz);
  if (!(far > 1e-9)) return null;
  const t = Math.acos(Math.max(-1, Math.min(1, (lamp.hangs ? -dy : dy) / far))) / RAD;
  // Straight above or below, any pan will do: it stays.
  const p = Math.hypot(dx, dz) > 1e-9 ? Math.atan2(dx, dz) / RAD - lamp.turn : now.pan;
  let best: Aim | null = null,
    least = Infinity;
  for (const [q, u] of [
    [p, t],
    [p + 180, -t],
  ] as const) {
    if (u < Math.min(tilt.from, tilt.to) - 1e-9 || u > Math.max(tilt.from, tilt.to) + 1e-9) continue;
    for (let k = -3; k <= 3; k++) {
      const x = q + 360 * k;
      if (x < Math.min(pan.from, pan.to) - 1e-9 || x > Math.max(pan.from, pan.to) + 1e-9) continue;
      const way = Math.abs(x - now.pan) + Math.abs(u - now.tilt);
      if (way < least) {
        least = way;
        best = { pan: x, tilt: u };
      }
    }
  }
  return best;
}

/**
 * What is to be asked of a lamp so that it gets to an aim, however it is hung: the way back through its swap and inversions.
 * @param aim - as its channels are to be
 */
export function asked({ pan, tilt }: Aim, kind: Pick<Kind, 'pan' | 'tilt'>, setting: AimSetting = {}): Aim {
  const p = setting.invertPan && kind.pan ? kind.pan.from + kind.pan.to - pan : pan,
    t = setting.invertTilt && kind.tilt ? kind.tilt.from + kind.tilt.to - tilt : tilt;
  return setting.swap ? { pan: t, tilt: p } : { pan: p, tilt: t };
}
/** Where a lamp gets to when this is asked of it. */
export function answered(want: Aim, kind: Pick<Kind, 'pan' | 'tilt'>, setting: AimSetting = {}): Aim {
  const { pan, tilt } = setting.swap ? { pan: want.tilt, tilt: want.pan } : want;
  return {
    pan: setting.invertPan && kind.pan ? kind.pan.from + kind.pan.to - pan : pan,
    tilt: setting.invertTilt && kind.tilt ? kind.tilt.from + kind.tilt.to - tilt : tilt,
  };
}

/**
 * Where a beam meets the floor, the back wall, or the end of the room, whichever comes first.
 * @param depth - z of the audience's end @returns how far away it is, in metres
 */
export function reachOf(
  lamp: Point,
  way: ArrayLike<number>,
  depth: number,
  width: number,
  height: number,
): number {
  let far = Infinity;
  const wall = (at: number, towards: number, where: number): void => {
    if (Math.abs(towards) > 1e-9) {
      const t = (where - at) / towards;
      if (t > 1e-6 && t < far) far = t;
    }
  };
  wall(lamp.y, way[1]!, 0);
  wall(lamp.y, way[1]!, height);
  wall(lamp.z, way[2]!, 0);
  wall(lamp.z, way[2]!, depth);
  wall(lamp.x, way[0]!, -width / 2);
  wall(lamp.x, way[0]!, width / 2);
  return Number.isFinite(far) ? far : 0;
}
