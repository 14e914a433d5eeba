import { isNumbered } from '../makers/making';
import { type Deed, type Grip, GRIP_PAGES, type Show } from '../show/types';
import { clamp } from '../units';
import type { Act } from './act';
import { SIMULATED_MIDI_ID, type MidiTouch } from './mapping';

/** What was moved or pressed, wherever it is. */
export type Moved =
  | ({ readonly by: 'midi' } & MidiTouch)
  | { readonly by: 'osc'; readonly address: string; readonly value: number }
  | { readonly by: 'key'; readonly key: string; readonly down: boolean };

/** How near a controller must be to where the value stands, to take it. */
const NEAR = 0.03,
  /** Nobody else moved what differs by less from where this controller left it. */
  OURS = 0.005;

interface Held {
  readonly grip: Grip;
  /** Where it was last; NaN before it was moved. */
  last: number;
  /** What it set last; NaN while it has not taken its value. */
  set: number;
}

/** Whether a deed moves a value, lasts as long as it is held, or is a press. */
export function deedKind({ do: what }: Deed): 'value' | 'held' | 'press' {
  return what === 'master' || what === 'hand'
    ? 'value'
    : what === 'flash' || what === 'alone'
      ? 'held'
      : 'press';
}

/**
 * What keys, controllers and messages do. A controller that stands elsewhere than its value takes it when it comes to where that is, or
 * past it, and never makes it leap; whoever moves the value otherwise takes it away again.
 */
export class GripBoard {
  #held: Held[] = [];

  /** @param simulatedId - the id of the keyboard that needs no cable */
  constructor(readonly simulatedId: string) {}

  set(grips: readonly Grip[]): void {
    const before = new Map(this.#held.map((h) => [h.grip, h]));
    this.#held = grips.map((grip) => before.get(grip) ?? { grip, last: NaN, set: NaN });
  }

  /**
   * @param stands - where what a deed moves stands, 0 to 1, and 1 for what is on; NaN for what is gone
   * @param page - of the controllers: what is on another does nothing, but knows where it was left
   */
  acts(moved: Moved, stands: (deed: Deed) => number, page = 1): Act[] {
    const acts: Act[] = [];
    for (const held of this.#held) {
      const value = this.#value(held.grip, moved);
      if (value === value) {
        const { deed } = held.grip,
          here = isOnPage(held.grip, page) || letsGo(deed, held.last, value);
        const act = !here
          ? null
          : deed.do === 'page'
            ? this.#turn(held, value, page)
            : actOf(held, value, stands(deed));
        if (!here) held.set = NaN;
        held.last = value;
        if (act) acts.push(act);
      }
    }
    return acts;
  }

  /** Pages go round: after the last that has anything comes the first. */
  #turn(held: Held, value: number, page: number): Act | null {
    const { deed, touch } = held.grip;
    if (
      deed.do !== 'page' ||
      !isPressed(touch, value) ||
      (held.last === held.last && isPressed(touch, held.last))
    )
      return null;
    const most = pagesOf(this.#held.map((h) => h.grip)),
      by = deed.page === 'next' ? 1 : -1;
    return {
      do: 'page',
      page: typeof deed.page === 'number' ? deed.page : ((page - 1 + by + most) % most) + 1,
    };
  }

  /** 0 to 1; NaN where the grip is another. */
  #value({ touch }: Grip, moved: Moved): number {
    switch (touch.by) {
      case 'key':
        return moved.by === 'key' && moved.key === touch.key ? Number(moved.down) : NaN;
      case 'osc':
        return moved.by === 'osc' && moved.address === touch.address
          ? clamp((moved.value - touch.low) / (touch.high - touch.low), 0, 1)
          : NaN;
      case 'midi': {
        if (moved.by !== 'midi') return NaN;
        return touch.message === moved.message &&
          touch.channel === moved.channel + 1 &&
          (!isNumbered(touch.message) || touch.number === moved.number) &&
          (touch.device === this.simulatedId) === moved.simulated
          ? moved.value
          : NaN;
      }
    }
  }
}

/** A note is pressed however softly; a controller from its middle on. */
const isPressed = (touch: Grip['touch'], x: number): boolean =>
  touch.by === 'midi' && touch.message === 'note' ? x > 0 : x > 0.5;
/** What was held on one page is let go on any. */
const letsGo = (deed: Deed, last: number, value: number): boolean =>
  deedKind(deed) === 'held' && last > 0.5 && value <= 0.5;

export const isOnPage = ({ page }: Grip, now: number): boolean => page === null || page === now;
/** How many pages of controllers a show has: up to the last that has a grip on it, or is turned to. */
export const pagesOf = (grips: readonly Grip[]): number =>
  Math.min(
    GRIP_PAGES,
    grips.reduce(
      (n, { page, deed }) =>
        Math.max(n, page ?? 1, deed.do === 'page' && typeof deed.page === 'number' ? deed.page : 1),
      1,
    ),
  );

function actOf(held: Held, value: number, stands: number): Act | null {
  const { deed, touch } = held.grip;
  const is = isPressed(touch, value),
    was = held.last === held.last && isPressed(touch, held.last);
  switch (deed.do) {
    case 'master':
    case 'hand': {
      // A key is nowhere between its ends.
      if (stands !== stands || touch.by === 'key') return null;
      const { last } = held,
        ours = Math.abs(stands - held.set) <= OURS,
        near = Math.abs(stands - value) <= NEAR,
        past = (last - stands) * (value - stands) <= 0;
      if (!ours && !near && !past) {
        held.set = NaN;
        return null;
      }
      held.set = value;
      if (deed.do === 'hand')
        return { do: 'hand place', thing: deed.thing, parameter: deed.parameter, place: value };
      return { do: 'master', master: deed.master, value };
    }
    case 'flash':
    case 'alone':
      return is === was ? null : { do: deed.do, master: deed.master, on: is };
    case 'page':
      return null;
    default:
      return is && !was ? pressOf(deed, stands) : null;
  }
}
function pressOf(
  deed: Exclude<Deed, { do: 'master' | 'hand' | 'flash' | 'alone' | 'page' }>,
  stands: number,
): Act {
  switch (deed.do) {
    case 'dark':
    case 'freeze':
      return { do: deed.do, on: stands !== 1 };
    case 'look':
      return { do: 'look', look: deed.look };
    case 'cue':
      return { do: 'cue', cue: deed.cue };
    default:
      return { do: deed.do };
  }
}

/** What a touch is known by: where it is, whatever becomes of its numbers. */
const placeOf = (touch: Grip['touch']): string =>
  touch.by === 'key'
    ? `key ${touch.key}`
    : touch.by === 'osc'
      ? `osc ${touch.address}`
      : `midi ${touch.device === SIMULATED_MIDI_ID} ${touch.message} ${touch.channel} ${isNumbered(touch.message) ? touch.number : ''}`;

/**
 * Grips of one key, controller or address, with how many things are on it: other grips, looks that have the key for their own, and
 * hand controls. More than one does more than one thing.
 */
export function clashes({
  grips,
  looks,
  makers,
}: Pick<Show, 'grips' | 'looks' | 'makers'>): ReadonlyMap<string, number> {
  const others = new Map<string, number>(),
    note = (touch: Grip['touch']): void =>
      void others.set(placeOf(touch), (others.get(placeOf(touch)) ?? 0) + 1);
  for (const { key } of looks) if (key) note({ by: 'key', key });
  for (const { making } of makers) {
    if (making.kind === 'button' && making.key) note({ by: 'key', key: making.key });
    if ((making.kind === 'button' || making.kind === 'slider') && making.touch) note(making.touch);
  }
  // On two pages there is one thing at a time.
  const meets = (a: Grip, b: Grip): boolean => a.page === null || b.page === null || a.page === b.page;
  return new Map(
    grips.flatMap((grip) => {
      const place = placeOf(grip.touch),
        alike = grips.filter((g) => placeOf(g.touch) === place && meets(grip, g)).length,
        count = alike + (others.get(place) ?? 0);
      return count > 1 ? [[grip.id, count] as const] : [];
    }),
  );
}
