import type { Seconds } from '../units';
import { FLASHES_A_SECOND, FlashGuard } from './flashes';
import { type AimSetting, towards, USUAL_SPEED } from './gate';
import { type Kind, type LampChannel, type Span, UNIVERSE_SIZE } from './kind';

/**
 * The last word over the bytes of one lamp that did not come by way of its {@link LampGate}: from a desk, or parked. Where it may
 * turn and how quickly, and how often it may flash. Pure; stepped in the thread that writes its packets. Allocates nothing.
 */
export class ByteGate {
  readonly #kind: Kind;
  readonly #aim: AimSetting;
  readonly #first: number;
  readonly #flashes: FlashGuard | null;
  #pan = NaN;
  #tilt = NaN;

  /** @param address - its first channel, 1 to 512 */
  constructor(kind: Kind, address: number, aim: AimSetting = {}) {
    this.#kind = kind;
    this.#aim = aim;
    this.#first = address - 1;
    this.#flashes = kind.flashes ? new FlashGuard() : null;
  }

  /** Goes on from another's, when only the setting of its lamp is another. */
  follow(other: ByteGate): void {
    this.#pan = other.#pan;
    this.#tilt = other.#tilt;
  }

  /** @param universe - 512 channels; those of this lamp are brought within what is allowed @param quick - quick flashes are allowed on this machine */
  step(universe: Uint8Array, dt: Seconds, quick: boolean): void {
    const { channels, pan, tilt, shutter } = this.#kind,
      { speed = USUAL_SPEED } = this.#aim,
      most = dt > 0 ? speed * dt : 0;
    for (let i = 0; i < channels.length; i++) {
      const channel = channels[i]!,
        at = this.#first + channel.at;
      if (at >= UNIVERSE_SIZE) continue;
      switch (channel.use) {
        case 'pan':
          if (pan) this.#pan = this.#turn(universe, channel, pan, this.#aim.pan, this.#pan, most);
          break;
        case 'tilt':
          if (tilt) this.#tilt = this.#turn(universe, channel, tilt, this.#aim.tilt, this.#tilt, most);
          break;
        case 'shutter': {
          const strobe = shutter?.strobe;
          if (quick || !strobe || universe[at]! < strobe.from || universe[at]! > strobe.to) break;
          const share = (universe[at]! - strobe.from) / Math.max(1, strobe.to - strobe.from);
          if (strobe.slow + share * (strobe.quick - strobe.slow) > FLASHES_A_SECOND)
            universe[at] = shutter.open;
          break;
        }
        case 'dimmer':
          if (!this.#flashes || quick) break;
          // A light that may not come on again yet is held just below what counts as a flash.
          universe[at] = Math.floor(255 * this.#flashes.step(universe[at]! / 255, dt));
          break;
      }
    }
  }

  #turn(
    universe: Uint8Array,
    { at, fine }: LampChannel,
    whole: Span,
    limit: Span | undefined,
    now: number,
    most: number,
  ): number {
    const coarse = this.#first + at,
      low = fine === undefined ? -1 : this.#first + fine,
      wide = low >= 0 && low < UNIVERSE_SIZE;
    const steps = wide ? 65535 : 255,
      value = wide ? universe[coarse]! * 256 + universe[low]! : universe[coarse]!,
      way = whole.to - whole.from;
    if (way === 0) return now;
    const wanted = whole.from + (value / steps) * way,
      goes = towards(now, wanted, whole, limit, most, false);
    if (goes === wanted) return goes;
    const code = Math.round(((goes - whole.from) / way) * steps);
    universe[coarse] = wide ? code >> 8 : code;
    if (wide) universe[low] = code & 255;
    return goes;
  }
}
