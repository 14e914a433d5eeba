import type { Fade, LookPart } from '../show/types';
import type { Milliseconds, Seconds } from '../units';

/** All that is performed rather than edited: it is no part of undo, and acts within a tick, wherever it comes from. */
export type Act =
  /** @see ParameterStore: in within a tick, or over so many seconds */
  | { readonly do: 'dark' | 'freeze'; readonly on: boolean; readonly over?: Seconds }
  /** The next cue; the one before; a cue by itself; which one go takes (null: the one after). */
  | { readonly do: 'go' | 'back' }
  | { readonly do: 'cue'; readonly cue: string }
  | { readonly do: 'next'; readonly cue: string | null }
  /** A look, or (null) everything as it rests; the safe look. */
  | {
      readonly do: 'look';
      readonly look: string | null;
      readonly leaveOut?: readonly LookPart[];
      readonly fade?: Fade;
    }
  | { readonly do: 'home'; readonly fade?: Fade }
  /** A look that the control window alone shows; null: none. */
  | { readonly do: 'rehearse'; readonly look: string | null }
  /** A master moves, 0 to 1; is full, or the only one, for as long as it is held. */
  | { readonly do: 'master'; readonly master: string; readonly value: number }
  | { readonly do: 'flash' | 'alone'; readonly master: string; readonly on: boolean }
  /** Takes a parameter over by hand: one number, or three of a colour in linear light; null gives it back with a fade. */
  | { readonly do: 'hand'; readonly key: string; readonly value: readonly number[] | null }
  /** Takes one number over by hand, by its place between its least (0) and its most (1). */
  | { readonly do: 'hand place'; readonly thing: string; readonly parameter: string; readonly place: number }
  /** Gives back everything that is held by hand. */
  | { readonly do: 'give back' }
  /** A hand control moves, 0 to 1. */
  | { readonly do: 'touch'; readonly maker: string; readonly value: number }
  | { readonly do: 'play'; readonly on: boolean }
  | { readonly do: 'seek'; readonly to: Seconds }
  /** One output blinks, to be seen how late it is; 0 ends it. */
  | { readonly do: 'blink'; readonly output: number }
  /** A beat falls now; a bar begins at the nearest beat; bars are found again. */
  | { readonly do: 'beat now' | 'bar now' | 'bar found' }
  /** In time with the music: the tempo is as these come, and a beat falls now where it is tapped. */
  | { readonly do: 'tap' }
  /** Controllers are turned to a page, from 1. */
  | { readonly do: 'page'; readonly page: number };

/** Who performs: this window, a controller, a program on the network, or a phone. */
export type Who = 'window' | 'midi' | 'osc' | 'phone';

export interface Performed {
  readonly act: Act;
  readonly who: Who;
  /** Which of several, from 1: of phones. */
  readonly hand?: number;
  /** `performance.timeOrigin + now()` where it was done. */
  readonly at: Milliseconds;
}

/** The last acts, in their order, for the log and for doing them again. */
export class ActLog {
  #acts: Performed[] = [];
  constructor(readonly most = 500) {}

  note(performed: Performed): void {
    this.#acts.push(performed);
    if (this.#acts.length > 2 * this.most) this.#acts = this.#acts.slice(-this.most);
  }
  get list(): readonly Performed[] {
    return this.#acts.slice(-this.most);
  }
}

/**
 * Acts as they would be told to somebody who only needs to know how things stand: of many movements of one control only the last, and
 * everything else in its order.
 */
export function latestOf(acts: readonly Performed[]): readonly Performed[] {
  const last = new Map<string, number>();
  const moved = ({ act }: Performed): string | null =>
    act.do === 'touch'
      ? `touch ${act.maker}`
      : act.do === 'hand'
        ? `hand ${act.key}`
        : act.do === 'hand place'
          ? `hand ${act.thing}/${act.parameter}`
          : act.do === 'master'
            ? `master ${act.master}`
            : act.do === 'seek'
              ? 'seek'
              : null;
  acts.forEach((performed, i) => {
    const what = moved(performed);
    if (what !== null) last.set(what, i);
  });
  return acts.filter((performed, i) => {
    const what = moved(performed);
    return what === null || last.get(what) === i;
  });
}
