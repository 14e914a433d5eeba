import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';
import { encode } from '../parameters/colour';

/** What a channel of a fixture carries. */
export type ChannelUse = 'dimmer' | 'red' | 'green' | 'blue';

export const FIXTURE_MODES = {
  rgb: { label: 'colour lamp, 3 channels', channels: ['red', 'green', 'blue'] },
  drgb: { label: 'colour lamp with dimmer, 4 channels', channels: ['dimmer', 'red', 'green', 'blue'] },
} as const satisfies Record<string, { label: string; channels: readonly ChannelUse[] }>;
export type FixtureMode = keyof typeof FIXTURE_MODES;

export const UNIVERSE_SIZE = 512;
/** Art-Net 4: 15-bit port address. */
export const UNIVERSE_MAX = 32767;

const PARAMETERS: readonly ParameterDescription[] = [
  numberParameter({
    id: 'dimmer',
    label: 'dimmer',
    help: 'How bright the lamp is.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 6,
    reach: 100,
    attackMs: 4,
    releaseMs: 240,
    dark: 0,
  }),
  colourParameter({
    id: 'colour',
    label: 'colour',
    help: 'The colour of its light.',
    rest: '#f0b53c',
    reach: '#e8572a',
  }),
];

export function fixtureParameters(): readonly ParameterDescription[] {
  return PARAMETERS;
}

export function channelCount(mode: FixtureMode): number {
  return FIXTURE_MODES[mode].channels.length;
}

/**
 * Writes one lamp into its universe. A lamp without a dimmer channel is dimmed through its colours.
 * @param address - 1 to 512, the lamp's first channel; channels past 512 are left out
 * @param dimmer - 0 to 1
 * @param r @param g @param b - linear light, 0 to 1; sent with the sRGB curve, which lamps approximate
 */
export function writeLamp(
  universe: Uint8Array,
  address: number,
  mode: FixtureMode,
  dimmer: number,
  r: number,
  g: number,
  b: number,
): void {
  const channels: readonly ChannelUse[] = FIXTURE_MODES[mode].channels;
  const scale = channels[0] === 'dimmer' ? 1 : dimmer;
  for (let i = 0; i < channels.length; i++) {
    const at = address - 1 + i;
    if (at < 0 || at >= UNIVERSE_SIZE) continue;
    let x: number;
    switch (channels[i]!) {
      case 'dimmer':
        x = dimmer;
        break;
      case 'red':
        x = encode(r) * scale;
        break;
      case 'green':
        x = encode(g) * scale;
        break;
      case 'blue':
        x = encode(b) * scale;
        break;
    }
    universe[at] = x > 0 ? (x < 1 ? Math.round(x * 255) : 255) : 0;
  }
}
