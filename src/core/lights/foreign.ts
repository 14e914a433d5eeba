import { Fate } from '../outlets';
import { UNIVERSE_SIZE } from './kind';

/** What becomes of a universe on which a desk sends as well. */
export const MERGES = ['ours', 'highest', 'latest'] as const;
export type MergeWay = (typeof MERGES)[number];

/** One channel of a lamp that stays at a value, whatever moves the lamp. */
export interface Parked {
  /** Its place after the lamp's first channel, 0 for that. */
  readonly at: number;
  /** 0 to 255. */
  readonly value: number;
}

/**
 * Lays a desk's channels over ours. *Highest*: of each channel of light the higher, while what turns, flashes or blows stays ours.
 * *Latest*: of each channel the one that changed last. Allocates nothing.
 */
export class DeskMerge {
  readonly #ours = new Uint8Array(UNIVERSE_SIZE);
  readonly #desk = new Uint8Array(UNIVERSE_SIZE);
  /** 1 where the desk has a channel. */
  readonly #has = new Uint8Array(UNIVERSE_SIZE);
  #met = false;

  /**
   * @param out - ours, and then what is sent @param desk - its channels; null while it is not heard
   * @param fates - what each channel is, by {@link Fate} @param lightShare - 0 to 1, of what the desk gives in light: in the dark none
   */
  step(out: Uint8Array, desk: Uint8Array | null, how: MergeWay, fates: Uint8Array, lightShare: number): void {
    if (!desk || how === 'ours') {
      this.#met = false;
      return;
    }
    const fresh = !this.#met;
    this.#met = true;
    for (let i = 0; i < UNIVERSE_SIZE; i++) {
      const mine = out[i]!,
        its = desk[i]!,
        light = fates[i] === Fate.Light || fates[i] === Fate.LightPair;
      if (how === 'latest') {
        // A desk that is heard for the first time has touched nothing yet.
        if (fresh) this.#has[i] = 0;
        else if (its !== this.#desk[i]) this.#has[i] = 1;
        else if (lightShare >= 1 && mine !== this.#ours[i]) this.#has[i] = 0;
        if (this.#has[i] === 1) out[i] = light ? Math.round(its * lightShare) : its;
      } else if (light) out[i] = Math.max(mine, Math.round(its * lightShare));
      // Dark is nobody's touch: a channel that a desk has is its own again afterwards.
      if (fresh || lightShare >= 1) this.#ours[i] = mine;
      this.#desk[i] = its;
    }
  }
}

/**
 * Writes what of a lamp is parked. Allocates nothing.
 * @param first - the lamp's first channel, from 0 @param lightShare - 0 to 1, of what is parked in light: in the dark none
 */
export function writeParked(
  out: Uint8Array,
  first: number,
  parked: readonly Parked[],
  fates: Uint8Array,
  lightShare: number,
): void {
  for (let i = 0; i < parked.length; i++) {
    const { at, value } = parked[i]!,
      place = first + at;
    if (place >= UNIVERSE_SIZE) continue;
    const light = fates[place] === Fate.Light || fates[place] === Fate.LightPair;
    out[place] = light ? Math.round(value * lightShare) : value;
  }
}
