import type { Tempo } from '../../core/show';
import type { Seconds } from '../../core/units';

/** Beats since bar 1 at a position of the show, where the tempo lies on it. */
export function beatAt(tempo: Pick<Tempo, 'anchor' | 'bpm'>, position: Seconds): number {
  return ((position - tempo.anchor) * tempo.bpm) / 60;
}

/** Longest pause between two taps of one count. */
const TAP_PAUSE_MS = 2500;

/** Finds a tempo from taps: the mean of the last seven spaces, once there are three taps. */
export class Taps {
  #times: number[] = [];
  /** @param at - ms on any steady clock @returns beats a minute, or null while there are too few taps */
  tap(at: number): number | null {
    const last = this.#times.at(-1);
    if (last !== undefined && at - last > TAP_PAUSE_MS) this.#times = [];
    this.#times.push(at);
    if (this.#times.length > 8) this.#times.shift();
    if (this.#times.length < 3) return null;
    const space = (at - this.#times[0]!) / (this.#times.length - 1);
    const bpm = 60000 / space;
    return bpm >= 20 && bpm <= 400 ? Math.round(bpm * 10) / 10 : null;
  }
}
