import { decode } from '../parameters/colour';
import type { ChannelUse } from './fixtures';

/**
 * The light of each emitter, in linear red, green and blue, as an eye would see it: a table of its own, so that a mistake in mixing
 * shows. Ultraviolet is a faint violet.
 */
const LIGHT: Readonly<Partial<Record<ChannelUse, readonly [number, number, number]>>> = {
  red: [1, 0, 0],
  green: [0, 1, 0],
  blue: [0, 0, 1],
  white: [1, 1, 1],
  amber: [1, 0.423, 0],
  uv: [0.09, 0, 0.4],
  warm: [1, 0.386, 0.095],
  cold: [1, 1, 1],
};

/**
 * What is seen of a lamp that receives these channels, in linear light. Allocates nothing.
 * @param channels - what each carries @param level - of each channel, 0 to 255 @param out - receives red, green and blue, 0 to 1
 */
export function seenLight(
  channels: readonly ChannelUse[],
  level: (channel: number) => number,
  out: number[] | Float32Array,
): void {
  out[0] = out[1] = out[2] = 0;
  let dimmer = 1,
    filtered = false;
  for (let i = 0; i < channels.length; i++) {
    const use = channels[i]!,
      x = level(i) / 255;
    const light = LIGHT[use];
    if (light) for (let c = 0; c < 3; c++) out[c]! += light[c]! * decode(x);
    else if (use === 'dimmer') dimmer = x;
    else {
      if (!filtered) out[0] = out[1] = out[2] = 1;
      filtered = true;
      out[use === 'cyan' ? 0 : use === 'magenta' ? 1 : 2] = decode(1 - x);
    }
  }
  if (channels.length === 1 && channels[0] === 'dimmer') out[0] = out[1] = out[2] = 1;
  // What dims a white lamp dims what is seen, not the drive of an emitter: the curve is the same.
  const share = filtered ? decode(dimmer) : dimmer;
  for (let c = 0; c < 3; c++) {
    const x = out[c]! * share;
    out[c] = x < 1 ? x : 1;
  }
}
