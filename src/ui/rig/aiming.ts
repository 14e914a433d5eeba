import { type Aim, aimAt, answered, asked, beamOf, type Point, reachOf, type Room } from '../../core/lights';
import {
  type Command,
  findParameter,
  restOf,
  type Route,
  setReach,
  setRest,
  type Show,
} from '../../core/show';
import type { RoomLamp } from './roomLamps';

/** Which of a head's two ends is aimed: where it rests, or where its routes take it. */
export type AimEnd = 'rest' | 'reach';

const turning = ['pan', 'tilt'] as const;
const routesOf = (show: Show, lamp: string, parameter: string): readonly Route[] =>
  show.routes.filter((r) => r.target.thing === lamp && r.target.parameter === parameter);

/** Pan and tilt that a head is asked for at rest, or when its routes are at full; null for what does not turn. */
export function aimOf(show: Show, { fixture, kind }: RoomLamp, end: AimEnd): Aim | null {
  if (!kind.pan || !kind.tilt) return null;
  const [pan, tilt] = turning.map((id) => {
    const found = findParameter(show, { thing: fixture.id, parameter: id });
    if (!found) return 0;
    const rest = Number(restOf(found.thing, found.parameter)),
      routes = end === 'reach' ? routesOf(show, fixture.id, id) : [];
    return routes.length > 0 ? Number(routes.at(-1)!.reach) : rest;
  });
  return { pan: pan!, tilt: tilt! };
}
/** Whether its routes turn it at all. */
export function isTurned(show: Show, lamp: string): boolean {
  return turning.some((id) => routesOf(show, lamp, id).length > 0);
}

const way = [0, 0, 0];
/** Where a head's beam lands that was asked for so much. */
export function spotOf({ fixture, kind, at }: RoomLamp, want: Aim, room: Room): Point {
  const { pan, tilt } = answered(want, kind, fixture.aim);
  beamOf(at, pan, tilt, way);
  const far = reachOf(at, way, room.depth, room.width, room.height);
  return { x: at.x + way[0]! * far, y: at.y + way[1]! * far, z: at.z + way[2]! * far };
}

/** Aims heads at a spot of the room. @returns the edit, and how many of them cannot reach it */
export function aimAll(
  show: Show,
  lamps: readonly RoomLamp[],
  spot: Point,
  end: AimEnd = 'rest',
): { readonly command: Command; readonly missed: number } {
  const edits: Command[] = [];
  let missed = 0;
  for (const lamp of lamps) {
    const { kind, fixture } = lamp,
      now = aimOf(show, lamp, end);
    if (!now || !kind.pan || !kind.tilt) continue;
    const pan = fixture.aim?.pan ?? kind.pan,
      tilt = fixture.aim?.tilt ?? kind.tilt,
      found = aimAt(lamp.at, spot, pan, tilt, answered(now, kind, fixture.aim));
    if (!found) {
      missed++;
      continue;
    }
    const want = asked(found, kind, fixture.aim);
    for (const id of turning) {
      const routes = end === 'reach' ? routesOf(show, fixture.id, id) : [],
        value = Math.round(want[id] * 100) / 100;
      if (routes.length > 0) edits.push(setReach(routes.at(-1)!.id, value));
      else if (end === 'rest') edits.push(setRest({ thing: fixture.id, parameter: id }, value));
    }
  }
  return { command: (d) => edits.forEach((e) => e(d)), missed };
}
