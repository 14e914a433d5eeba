import { type Hung, type Kind, kindOf, makeSeen, placesIn, seenLamp, type SeenLamp } from '../../core/lights';
import { carries, type LampProtocol } from '../../core/outlets';
import type { Fixture, Show } from '../../core/show';
import { theEngine } from '../state/session';

/** A lamp of the room: where it is, and what its packets say of it. */
export interface RoomLamp {
  readonly fixture: Fixture;
  readonly kind: Kind;
  readonly at: Hung;
  /** The protocol whose simulated receiver hears it; null where none does. */
  readonly heard: LampProtocol | null;
  readonly seen: SeenLamp;
}
type Rig = Pick<Show, 'fixtures' | 'kinds' | 'wires' | 'room'>;

/** The protocol by which the receivers that ship with us hear a universe, or null. */
export function heardBy(wires: Show['wires'], universe: number): LampProtocol | null {
  return wires.find((w) => w.target.kind === 'simulated' && carries(w.universes, universe))?.protocol ?? null;
}
export function roomLamps({ fixtures, kinds, wires, room }: Rig): RoomLamp[] {
  const lamps = fixtures.map((fixture) => ({ fixture, kind: kindOf(fixture, kinds), at: fixture.at })),
    places = placesIn(lamps, room);
  return lamps.map(({ fixture, kind }, i) => ({
    fixture,
    kind,
    at: places[i]!,
    heard: heardBy(wires, fixture.universe),
    seen: makeSeen(kind),
  }));
}

let bytes: Uint8Array | null = null,
  first = 0;
const level = (channel: number): number => bytes?.[first + channel] ?? 0;

/** Brings what is seen of a lamp up to its last packet. Allocates nothing. */
export function lookAt(lamp: RoomLamp): void {
  bytes = lamp.heard ? (theEngine()?.received.universe(lamp.heard, lamp.fixture.universe) ?? null) : null;
  first = lamp.fixture.address - 1;
  seenLamp(lamp.kind, level, lamp.seen);
}
