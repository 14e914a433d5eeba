import { length } from './length';
import type { Milliseconds } from '../units';
import type { LaserLimits } from './limits';
import { At, POINT } from './points';
import { comesNear } from './zones';

/** A frame that was made longer ago than this is not drawn any more, and a driver that is silent for so long draws nothing. */
export const FRAME_OLD_MS: Milliseconds = 50;
/** A beam may stand for as long as this, where lines meet. */
const DWELL_MS = 0.5;
/** The field is looked at in so many cells across for the energy on each. */
export const DOSE_CELLS = 48;

/** Why a laser is dark, in the order in which it matters. */
export const DARK_REASONS = [
  'not armed',
  'dark',
  'stopped',
  'let go',
  'no driver',
  'old frame',
  'no projector',
  'no number',
  'too small',
  'fault',
] as const;
export type DarkReason = (typeof DARK_REASONS)[number];
/** In words, with the way out. */
export const DARK_WORDS: Readonly<Record<DarkReason, string>> = {
  'not armed': 'It is not armed.',
  dark: 'Dark was pressed. Arm it again when you are ready.',
  stopped: 'The show was stopped. Arm it again when it plays.',
  'let go': 'It was disarmed.',
  'no driver': 'The show was not heard of in time. Arm it again when it is back.',
  'old frame': 'A frame was late by more than 50 ms. Arm it again.',
  'no projector': 'The projector does not answer any more. See to its network, and arm it again.',
  'no number': 'A point was no number. Arm it again.',
  'too small': 'What is drawn is smaller than the least size that was set.',
  fault: 'The thread that sends points failed, or stood still. Arm it again.',
};

/** What the gate is told with each stretch of points. */
export interface LaserMoment {
  /** Of the first point, by a steady clock. */
  readonly now: Milliseconds;
  /** Since the frame was made, and since its driver was heard of. */
  readonly frameAge: Milliseconds;
  readonly driverAge: Milliseconds;
  /** Dark was pressed. */
  readonly dark: boolean;
}

/**
 * The last word over every point of a laser, run in the thread that sends them and after everything that scales them. It begins shut,
 * and whatever goes wrong shuts it until it is armed anew. Pure: it has no clock and no way out but its points. Allocates nothing
 * after it is made, and never throws.
 */
export class LaserGate {
  #limits: LaserLimits;
  /** About each keep-out and each zone: left, low, right, high. What lies beyond is not looked at further. */
  #keptBoxes: Float64Array;
  #zoneBoxes: Float64Array;
  readonly #step: Milliseconds;
  /** Steps that make a dwell, the length of each of the last, and their sum. */
  readonly #lengths: Float64Array;
  #at = 0;
  readonly #energy = new Float64Array(DOSE_CELLS * DOSE_CELLS);
  readonly #energyAt = new Float64Array(DOSE_CELLS * DOSE_CELLS);
  #x = 0;
  #y = 0;
  #armed = false;
  /** The next point is dark, wherever it goes. */
  #jumped = false;
  #small = true;
  #why: DarkReason = 'not armed';
  /** Lit points of late. */
  lit = 0;
  /** The most energy on any spot in the last stretch, of what is allowed: 0 to 1. */
  hottest = 0;

  constructor(limits: LaserLimits) {
    this.#limits = limits;
    this.#keptBoxes = boxesOf(limits.keepOuts);
    this.#zoneBoxes = boxesOf(limits.zones.map((z) => z.polygon));
    this.#step = 1000 / limits.pointsPerSecond;
    this.#lengths = new Float64Array(Math.max(2, Math.ceil(DWELL_MS / this.#step)));
    this.#energyAt.fill(-Infinity);
    this.#awayFromKeepOuts();
  }
  /** It begins where it may be. */
  #awayFromKeepOuts(): void {
    for (let k = 0; k < 400; k++) {
      const r = k / 400,
        x = r * Math.cos(k * 2.4),
        y = r * Math.sin(k * 2.4);
      if (this.#kept(x, y, x, y)) continue;
      this.#x = x;
      this.#y = y;
      return;
    }
  }

  /** Other places where it may shine, from the next point on; how many points go a second stays as it was. */
  setWhere({ keepOuts, zones }: Pick<LaserLimits, 'keepOuts' | 'zones'>): void {
    this.#limits = { ...this.#limits, keepOuts, zones };
    this.#keptBoxes = boxesOf(keepOuts);
    this.#zoneBoxes = boxesOf(zones.map((z) => z.polygon));
    if (!this.#kept(this.#x, this.#y, this.#x, this.#y)) return;
    // The mirrors go there from where they may not be lit.
    this.#awayFromKeepOuts();
    this.#jumped = true;
  }

  get armed(): boolean {
    return this.#armed;
  }
  /** Why it is dark; null while it may be lit. */
  get why(): DarkReason | null {
    return !this.#armed ? this.#why : this.#small ? 'too small' : null;
  }
  arm(): void {
    this.#armed = true;
  }
  /** Dark until it is armed again. */
  shut(why: DarkReason): void {
    // Dark is what is to be lifted first, whatever else had shut it.
    if (this.#armed || why === 'dark') this.#why = why;
    this.#armed = false;
  }

  /** A new frame: whether what would be lit of it is large enough. @param count - of its points */
  look(points: Float32Array, count: number): void {
    let left = Infinity,
      right = -Infinity,
      low = Infinity,
      high = -Infinity,
      x0 = NaN,
      y0 = NaN;
    for (let i = 0; i < count; i++) {
      const at = i * POINT,
        x = points[at + At.X]!,
        y = points[at + At.Y]!,
        bright = Math.max(points[at + At.Red]!, points[at + At.Green]!, points[at + At.Blue]!);
      // Nothing after it will be lit.
      if (!Number.isFinite(x + y + bright)) break;
      if (bright > 0 && x0 === x0 && this.#most(x0, y0, x, y) > 0) {
        left = Math.min(left, x0, x);
        right = Math.max(right, x0, x);
        low = Math.min(low, y0, y);
        high = Math.max(high, y0, y);
      }
      x0 = x;
      y0 = y;
    }
    this.#small = !(Math.max(right - left, high - low) >= this.#limits.leastSize);
  }

  /**
   * Points as they are sent.
   * @param points - `count` of them, each {@link POINT} numbers @param out - receives as many; may be `points` itself
   */
  pass(points: Float32Array, count: number, moment: LaserMoment, out: Float32Array): void {
    if (moment.dark) this.shut('dark');
    if (!(moment.driverAge <= FRAME_OLD_MS)) this.shut('no driver');
    if (!(moment.frameAge <= FRAME_OLD_MS)) this.shut('old frame');
    if (!Number.isFinite(moment.now)) this.shut('fault');
    this.lit = 0;
    this.hottest = 0;
    for (let i = 0; i < count; i++) {
      const at = i * POINT,
        x = points[at + At.X]!,
        y = points[at + At.Y]!,
        r = points[at + At.Red]!,
        g = points[at + At.Green]!,
        b = points[at + At.Blue]!;
      // Of what is no number neither this nor what follows is lit. The sum is one exactly where one of them is.
      if (!Number.isFinite(x + y + r + g + b)) this.shut('no number');
      const share = this.#armed ? this.#share(x, y, r, g, b, moment.now + i * this.#step) : this.#dark(x, y);
      out[at + At.X] = this.#x;
      out[at + At.Y] = this.#y;
      out[at + At.Red] = share > 0 ? r * share : 0;
      out[at + At.Green] = share > 0 ? g * share : 0;
      out[at + At.Blue] = share > 0 ? b * share : 0;
      if (share > 0) this.lit++;
    }
  }

  /** Moves on dark, where it may. @returns 0 */
  #dark(x: number, y: number): number {
    if (Number.isFinite(x + y)) this.#move(x, y);
    return 0;
  }
  /** Goes to a place, or stays where it is if it may not go there. @returns whether it went */
  #move(x: number, y: number): boolean {
    const outside = x < -1 || x > 1 || y < -1 || y > 1,
      goes = !outside && !this.#kept(x, y, x, y);
    const long = goes ? length(x - this.#x, y - this.#y) : 0;
    this.#lengths[this.#at] = long;
    this.#at = (this.#at + 1) % this.#lengths.length;
    if (goes) {
      this.#x = x;
      this.#y = y;
    }
    return goes;
  }
  #kept(ax: number, ay: number, bx: number, by: number): boolean {
    const { keepOuts, margin } = this.#limits;
    for (let k = 0; k < keepOuts.length; k++)
      if (
        isAbout(this.#keptBoxes, k, ax, ay, bx, by, margin) &&
        comesNear(keepOuts[k]!, ax, ay, bx, by, margin)
      )
        return true;
    return false;
  }
  /** The most of its brightness that a way may have. */
  #most(ax: number, ay: number, bx: number, by: number): number {
    if (this.#kept(ax, ay, bx, by)) return 0;
    const { zones, most } = this.#limits;
    let least = most;
    for (let k = 0; k < zones.length; k++) {
      const zone = zones[k]!;
      if (
        zone.most < least &&
        isAbout(this.#zoneBoxes, k, ax, ay, bx, by, 0) &&
        comesNear(zone.polygon, ax, ay, bx, by, 0)
      )
        least = zone.most;
    }
    return least;
  }

  /** How much of its colour a point may have. It moves there, if it may. */
  #share(x: number, y: number, r: number, g: number, b: number, now: Milliseconds): number {
    const x0 = this.#x,
      y0 = this.#y,
      bright = Math.max(r, g, b);
    const wide = r < 0 || g < 0 || b < 0 || bright > 1;
    if (!this.#move(x, y)) return 0;
    if (this.#jumped) {
      this.#jumped = false;
      return 0;
    }
    if (wide || bright <= 0 || this.#small) return 0;
    const most = this.#most(x0, y0, x, y);
    if (most <= 0 || this.#isSlow()) return 0;
    // The zone's limit is on what is sent, whatever was asked.
    const wanted = Math.min(bright, most);
    return (this.#spend(x, y, wanted, now) * wanted) / bright;
  }
  #isSlow(): boolean {
    let sum = 0;
    for (let i = 0; i < this.#lengths.length; i++) sum += this.#lengths[i]!;
    return sum < (this.#limits.leastSpeed * this.#lengths.length) / this.#limits.pointsPerSecond;
  }
  /** Puts a point's energy onto its cell, as far as that may have it. @returns how much of it, 0 to 1 */
  #spend(x: number, y: number, bright: number, now: Milliseconds): number {
    const { dose, doseMs } = this.#limits,
      cell = doseCell(x, y),
      past = now - this.#energyAt[cell]!;
    // Time that goes backwards cools nothing.
    const left = past > 0 ? this.#energy[cell]! * Math.exp(-past / doseMs) : this.#energy[cell]!;
    const more = bright * this.#step,
      share = left + more <= dose ? 1 : Math.max(0, (dose - left) / more);
    this.#energy[cell] = left + more * share;
    if (past > 0) this.#energyAt[cell] = now;
    if (this.#energy[cell]! > this.hottest * dose) this.hottest = this.#energy[cell]! / dose;
    return share;
  }
}

function boxesOf(polygons: LaserLimits['keepOuts']): Float64Array {
  const out = new Float64Array(4 * polygons.length);
  polygons.forEach((p, k) => {
    const xs = p.filter((_, i) => i % 2 === 0),
      ys = p.filter((_, i) => i % 2 === 1);
    out.set([Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)], 4 * k);
  });
  return out;
}
/** Whether a way comes into the box about a shape, or nearer to it than a margin. What is no number does. */
function isAbout(
  boxes: Float64Array,
  k: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  margin: number,
): boolean {
  const at = 4 * k;
  return !(
    (ax < boxes[at]! - margin && bx < boxes[at]! - margin) ||
    (ax > boxes[at + 2]! + margin && bx > boxes[at + 2]! + margin) ||
    (ay < boxes[at + 1]! - margin && by < boxes[at + 1]! - margin) ||
    (ay > boxes[at + 3]! + margin && by > boxes[at + 3]! + margin)
  );
}

/** The cell in which a place's energy is counted. @param x @param y - from −1 to 1 */
export function doseCell(x: number, y: number): number {
  const across = Math.min(DOSE_CELLS - 1, Math.floor(((x + 1) / 2) * DOSE_CELLS)),
    up = Math.min(DOSE_CELLS - 1, Math.floor(((y + 1) / 2) * DOSE_CELLS));
  return up * DOSE_CELLS + across;
}
