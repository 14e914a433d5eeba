import { Fate } from '../outlets';
import { type ChannelUse, type Kind, UNIVERSE_SIZE } from './kind';

/** What becomes of a channel when the show is not heard of any more: light goes out, what turns stays, what flashes or blows ends. */
function fateOf(use: ChannelUse, wide: boolean): Fate {
  switch (use) {
    case 'shutter':
    case 'haze':
    case 'fan':
      return Fate.Calm;
    case 'pan':
    case 'tilt':
    case 'zoom':
    case 'focus':
    case 'colours':
    case 'gobos':
    case 'cyan':
    case 'magenta':
    case 'yellow':
    case 'still':
      return Fate.Held;
    default:
      return wide ? Fate.LightPair : Fate.Light;
  }
}

/**
 * Writes what becomes of one lamp's channels.
 * @param fates - one {@link Fate} for each channel of its universe
 * @param calm - what each is sent where it is to be calm: no flashing, no haze
 */
export function writeFates(fates: Uint8Array, calm: Uint8Array, address: number, kind: Kind): void {
  for (const { use, at, fine, value } of kind.channels) {
    const place = address - 1 + at;
    if (place >= UNIVERSE_SIZE) continue;
    const next = fine === undefined ? -1 : address - 1 + fine;
    fates[place] = fateOf(use, next === place + 1);
    if (next >= 0 && next < UNIVERSE_SIZE && next !== place + 1) fates[next] = fateOf(use, false);
    else if (next >= 0 && next < UNIVERSE_SIZE)
      fates[next] = fates[place] === Fate.LightPair ? Fate.Light : fates[place]!;
    calm[place] = use === 'shutter' ? (kind.shutter?.open ?? 0) : use === 'still' ? (value ?? 0) : 0;
  }
}
