import { decode, toLinear } from '../parameters/colour';
import type { Kind, LampChannel, Light, WheelSlot } from './kind';

/** What is seen of one lamp. */
export interface SeenLamp {
  /** Linear red, green and blue of each cell. */
  readonly light: Float32Array;
  /** Degrees; 0 where it does not turn. */
  pan: number;
  tilt: number;
  /** Whole angle of its beam, in degrees. */
  beam: number;
  /** Which slot is in the beam; 0 where it has none. */
  gobo: number;
  /** Flashes a second; 0 is steady. */
  strobe: number;
  /** 0 to 1. */
  haze: number;
}
export function makeSeen(kind: Kind): SeenLamp {
  return {
    light: new Float32Array(3 * kind.columns * kind.rows),
    pan: 0,
    tilt: 0,
    beam: kind.beam,
    gobo: 0,
    strobe: 0,
    haze: 0,
  };
}

/**
 * The light of each emitter, in linear red, green and blue, as an eye would see it: a table of its own, so that a mistake in mixing
 * shows. Ultraviolet is a faint violet.
 */
const LIGHT: Readonly<Record<string, Light>> = {
  red: [1, 0, 0],
  green: [0, 1, 0],
  blue: [0, 0, 1],
  white: [1, 1, 1],
  amber: [1, 0.423, 0],
  uv: [0.09, 0, 0.4],
  warm: [1, 0.386, 0.095],
  cold: [1, 1, 1],
};
const FILTERS: readonly string[] = ['cyan', 'magenta', 'yellow'];

/** The slot of a wheel that stands in the light: the last that begins at this value or before. */
function slotAt(slots: readonly WheelSlot[], value: number): number {
  let best = 0;
  for (let i = 0; i < slots.length; i++)
    if (slots[i]!.at <= value && slots[i]!.at >= slots[best]!.at) best = i;
  return best;
}
const slotInk = [0, 0, 0];

/**
 * What is seen of a lamp that receives these channels. Allocates nothing.
 * @param level - of a channel, 0 to 255, by its place after the lamp's first @param out - made by {@link makeSeen} for this kind
 */
export function seenLamp(kind: Kind, level: (channel: number) => number, out: SeenLamp): void {
  const { light } = out,
    { channels } = kind;
  light.fill(0);
  let dimmer = 1,
    filtered = false,
    coloured = false,
    lit = true;
  out.pan = out.tilt = out.strobe = out.haze = 0;
  out.beam = kind.beam;
  for (let i = 0; i < channels.length; i++) {
    const channel = channels[i]!,
      { use } = channel,
      x = share(channel, level);
    const emitter = kind.emitters?.[use as 'red'] ?? LIGHT[use];
    if (emitter) {
      coloured = true;
      const drive = decode(x);
      if (channel.cell !== undefined)
        for (let c = 0; c < 3; c++) light[3 * channel.cell + c]! += emitter[c]! * drive;
      else for (let k = 0; k < light.length; k++) light[k]! += emitter[k % 3]! * drive;
    } else if (FILTERS.includes(use)) {
      if (!filtered) light.fill(1);
      filtered = coloured = true;
      const c = FILTERS.indexOf(use);
      for (let k = c; k < light.length; k += 3) light[k] = decode(1 - x);
    } else if (use === 'colours' && kind.colours.length > 0) {
      filtered = coloured = true;
      toLinear(kind.colours[slotAt(kind.colours, level(channel.at))]!.ink ?? '#ffffff', slotInk);
      for (let k = 0; k < light.length; k++) light[k] = slotInk[k % 3]!;
    } else if (use === 'dimmer') dimmer = x;
    else if (use === 'pan' && kind.pan) out.pan = kind.pan.from + x * (kind.pan.to - kind.pan.from);
    else if (use === 'tilt' && kind.tilt) out.tilt = kind.tilt.from + x * (kind.tilt.to - kind.tilt.from);
    else if (use === 'zoom' && kind.zoom) out.beam = kind.zoom.from + x * (kind.zoom.to - kind.zoom.from);
    else if (use === 'gobos') out.gobo = slotAt(kind.gobos, level(channel.at));
    else if (use === 'shutter' && kind.shutter) {
      const value = level(channel.at),
        { strobe, closed } = kind.shutter;
      if (closed !== null && value === closed) lit = false;
      if (strobe && value >= strobe.from && value <= strobe.to)
        out.strobe =
          strobe.slow + ((value - strobe.from) / (strobe.to - strobe.from)) * (strobe.quick - strobe.slow);
    } else if (use === 'haze') {
      out.haze = x;
      dimmer = 0;
    }
  }
  if (!coloured) light.fill(1);
  // What dims a white lamp dims what is seen, not the drive of an emitter: the curve is the same.
  const part = !lit ? 0 : filtered ? decode(dimmer) : dimmer;
  for (let k = 0; k < light.length; k++) {
    const x = light[k]! * part;
    light[k] = x < 1 ? x : 1;
  }
}
function share({ at, fine }: LampChannel, level: (channel: number) => number): number {
  return fine === undefined ? level(at) / 255 : (level(at) * 256 + level(fine)) / 65535;
}
