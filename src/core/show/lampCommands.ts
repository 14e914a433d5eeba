import { current, type Draft } from 'immer';
import { footprintOf, kindOf } from '../lights/builtin';
import type { MergeWay } from '../lights/foreign';
import type { Kind } from '../lights/kind';
import { kindParameters } from '../lights/parameters';
import type { Room } from '../lights/room';
import { acceptsValue, type ParameterValue } from '../parameters/description';
import { clamp } from '../units';
import { find, remove } from './commands';
import type { Command } from './history';
import type { MessageForm } from '../messages';
import type { Fixture, Message, Show, Spot, Wire } from './types';

/** Edits of the rig: lamps, their kinds, the room, and the wires. */

/** Kinds as they are, and not as drafts of them: what is worked out of one is kept by it. */
const readKinds = (d: Draft<Show>): Show['kinds'] => current(d.kinds) as Show['kinds'];

export const addFixture =
  (fixture: Fixture): Command =>
  (d) => {
    d.fixtures.push(fixture as Draft<Fixture>);
  };
export const patchFixture =
  (id: string, change: Partial<Omit<Fixture, 'id' | 'name' | 'rest'>>): Command =>
  (d) => {
    const x = find(d.fixtures, id);
    if (!x) return;
    Object.assign(x, change);
    x.address = clamp(x.address, 1, 513 - footprintOf(x, readKinds(d)));
    if (change.mode !== undefined || change.cells !== undefined) {
      suitKind(d, x as Fixture);
      // Its channels mean something else now.
      delete x.parked;
    }
  };

/** A lamp of another kind keeps what suits it: its rests and the reaches of its routes are brought within what it can do. */
function suitKind(d: Draft<Show>, lamp: Fixture): void {
  const parameters = kindParameters(kindOf(lamp, readKinds(d)));
  const suited = (id: string, value: ParameterValue): ParameterValue | null => {
    const p = parameters.find((x) => x.id === id);
    if (!p) return null;
    if (acceptsValue(p, value)) return value;
    return p.kind === 'number' && typeof value === 'number' ? clamp(value, p.min, p.max) : p.rest;
  };
  const rest: Record<string, ParameterValue> = {};
  for (const [id, value] of Object.entries(lamp.rest)) {
    const now = suited(id, value);
    if (now !== null) rest[id] = now;
  }
  (lamp as Draft<Fixture>).rest = rest;
  for (const route of d.routes)
    if (route.target.thing === lamp.id)
      route.reach = suited(route.target.parameter, route.reach) ?? route.reach;
}
export const changeWire =
  (id: string, change: Partial<Omit<Wire, 'id'>>): Command =>
  (d) => {
    const x = find(d.wires, id);
    if (x) Object.assign(x, change);
  };

export const addWire =
  (wire: Wire): Command =>
  (d) => {
    d.wires.push(wire as Draft<Wire>);
  };
export const removeWire =
  (id: string): Command =>
  (d) => {
    remove(d.wires, id);
  };
export const addMessage =
  (message: Message): Command =>
  (d) => {
    d.messages.push(message as Draft<Message>);
  };
export const changeMessage =
  (id: string, form: MessageForm): Command =>
  (d) => {
    const x = find(d.messages, id);
    if (x) x.form = form;
  };
export const setRoom =
  (room: Room): Command =>
  (d) => {
    d.room = room;
  };
/** What becomes of a universe that a desk sends as well. */
export const shareUniverse =
  (universe: number, how: MergeWay): Command =>
  (d) => {
    const known = d.merges.find((m) => m.universe === universe);
    if (known) known.how = how;
    else d.merges.push({ universe, how });
  };
export const addSpot =
  (spot: Spot): Command =>
  (d) => {
    d.spots.push(spot);
  };
export const removeSpot =
  (id: string): Command =>
  (d) => {
    remove(d.spots, id);
  };
/** Kinds that were read; one of an id that is there takes its place, and its lamps keep what suits them. */
export const takeKinds =
  (kinds: readonly Kind[]): Command =>
  (d) => {
    for (const kind of kinds) {
      const at = d.kinds.findIndex((k) => k.id === kind.id);
      if (at >= 0) d.kinds[at] = kind as Draft<Kind>;
      else d.kinds.push(kind as Draft<Kind>);
      for (const lamp of d.fixtures) if (lamp.mode === kind.id) suitKind(d, lamp as Fixture);
    }
  };

/** The first address at which a fixture fits into a universe beside the others, or null when it is full. */
export function freeAddress(show: Show, universe: number, channels: number): number | null {
  const taken = new Uint8Array(513);
  for (const f of show.fixtures)
    if (f.universe === universe) taken.fill(1, f.address, f.address + footprintOf(f, show.kinds));
  for (let at = 1; at + channels - 1 <= 512; at++) {
    let free = true;
    for (let i = 0; i < channels; i++)
      if (taken[at + i]) {
        free = false;
        break;
      }
    if (free) return at;
  }
  return null;
}
