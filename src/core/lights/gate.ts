import type { Seconds } from '../units';
import { type Kind, type Span, turns } from './kind';
import { FlashGuard, FLASHES_A_SECOND } from './flashes';
import { Lit } from './values';

/** How a lamp that turns is hung, and where it may not go. Degrees, and degrees a second. */
export interface AimSetting {
  /** Pan and tilt change places: it hangs on its side. */
  readonly swap?: boolean;
  readonly invertPan?: boolean;
  readonly invertTilt?: boolean;
  readonly pan?: Span;
  readonly tilt?: Span;
  readonly speed?: number;
}
/** Quicker than this no head is moved where it was not set. */
export const USUAL_SPEED = 240;

/**
 * The last word over one lamp, after everything that moves it: where it may turn, how quickly, and how often it may flash. What is no
 * number is dark, and stays where it was. Pure; one for each lamp, stepped in the thread that writes its packets. Allocates nothing.
 */
export class LampGate {
  readonly #kind: Kind;
  readonly #aim: AimSetting;
  #flashes: FlashGuard | null;
  readonly #turns: boolean;
  #pan = NaN;
  #tilt = NaN;

  constructor(kind: Kind, aim: AimSetting = {}) {
    this.#kind = kind;
    this.#aim = aim;
    this.#turns = turns(kind);
    this.#flashes = kind.flashes ? new FlashGuard() : null;
  }

  /** Goes on from another's, when only its setting is another: a head from where it is, a strobe from how often it flashed. */
  follow(other: LampGate): void {
    this.#pan = other.#pan;
    this.#tilt = other.#tilt;
    if (this.#flashes) this.#flashes = other.#flashes ?? this.#flashes;
  }

  /**
   * @param v - by {@link Lit}; what is not allowed is taken out of it
   * @param dt - since the last step @param quick - quick flashes are allowed on this machine
   */
  step(v: Float64Array, dt: Seconds, quick: boolean): void {
    for (let i = 0; i < Lit.Length; i++) if (!Number.isFinite(v[i]!)) this.#lost(v, i);
    if (this.#turns) this.#turn(v, dt);
    const strobe = v[Lit.Strobe]!;
    v[Lit.Strobe] = strobe > 0 ? (quick ? strobe : Math.min(strobe, FLASHES_A_SECOND)) : 0;
    if (this.#flashes && !quick) v[Lit.Dimmer] = this.#flashes.step(v[Lit.Dimmer]!, dt);
  }

  #lost(v: Float64Array, i: number): void {
    v[i] = i === Lit.Pan ? this.#pan || 0 : i === Lit.Tilt ? this.#tilt || 0 : 0;
    v[Lit.Dimmer] = v[Lit.Uv] = v[Lit.Strobe] = v[Lit.Haze] = 0;
  }

  #turn(v: Float64Array, dt: Seconds): void {
    const { swap, invertPan, invertTilt, speed = USUAL_SPEED } = this.#aim,
      { pan, tilt } = this.#kind;
    const p = swap ? v[Lit.Tilt]! : v[Lit.Pan]!,
      t = swap ? v[Lit.Pan]! : v[Lit.Tilt]!,
      most = dt > 0 ? speed * dt : 0;
    if (pan) {
      this.#pan = towards(this.#pan, invertPan ? pan.from + pan.to - p : p, pan, this.#aim.pan, most, true);
      v[Lit.Pan] = this.#pan;
    }
    if (tilt) {
      this.#tilt = towards(
        this.#tilt,
        invertTilt ? tilt.from + tilt.to - t : t,
        tilt,
        this.#aim.tilt,
        most,
        false,
      );
      v[Lit.Tilt] = this.#tilt;
    }
  }
}

/**
 * One step of an axis towards where it is wanted, never past its limits and by no more than `most` degrees.
 * @param round - a whole turn is the same place: the shorter of the ways is taken
 */
export function towards(
  now: number,
  wanted: number,
  whole: Span,
  limit: Span | undefined,
  most: number,
  round: boolean,
): number {
  let low = Math.min(whole.from, whole.to),
    high = Math.max(whole.from, whole.to);
  if (limit) {
    const from = Math.max(low, Math.min(limit.from, limit.to)),
      to = Math.min(high, Math.max(limit.from, limit.to));
    // Limits that leave nothing leave the nearest place.
    low = Math.min(from, high);
    high = Math.max(to, low);
  }
  const clamp = (x: number): number => (x < low ? low : x > high ? high : x);
  let goal = clamp(wanted);
  if (!Number.isFinite(now)) return goal;
  if (round) goal = shortest(now, wanted, low, high, goal);
  const way = goal - now;
  return clamp(Math.abs(way) <= most ? goal : now + Math.sign(way) * most);
}
function shortest(now: number, wanted: number, low: number, high: number, otherwise: number): number {
  let best = otherwise,
    least = wanted >= low && wanted <= high ? Math.abs(wanted - now) : Infinity;
  for (let k = -2; k <= 2; k++) {
    const x = wanted + 360 * k;
    // As near as the wanted one: then that, so that a slow turn does not leap.
    if (x >= low && x <= high && Math.abs(x - now) < least - 1e-6) {
      best = x;
      least = Math.abs(x - now);
    }
  }
  return best;
}
