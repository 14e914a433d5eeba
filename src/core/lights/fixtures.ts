import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';
import { encode } from '../parameters/colour';

/** What a channel of a fixture carries: its dimmer, the light of one emitter, or how far one filter is in. */
export type ChannelUse =
  | 'dimmer'
  | 'red'
  | 'green'
  | 'blue'
  | 'white'
  | 'amber'
  | 'uv'
  | 'warm'
  | 'cold'
  | 'cyan'
  | 'magenta'
  | 'yellow';

export const FIXTURE_MODES = {
  dimmer: { label: 'dimmer, 1 channel', channels: ['dimmer'] },
  rgb: { label: 'colour lamp, 3 channels', channels: ['red', 'green', 'blue'] },
  drgb: { label: 'colour lamp with dimmer, 4 channels', channels: ['dimmer', 'red', 'green', 'blue'] },
  rgbw: { label: 'colour lamp with white, 4 channels', channels: ['red', 'green', 'blue', 'white'] },
  drgbw: {
    label: 'colour lamp with white and dimmer, 5 channels',
    channels: ['dimmer', 'red', 'green', 'blue', 'white'],
  },
  rgba: { label: 'colour lamp with amber, 4 channels', channels: ['red', 'green', 'blue', 'amber'] },
  rgbuv: { label: 'colour lamp with ultraviolet, 4 channels', channels: ['red', 'green', 'blue', 'uv'] },
  drgbwauv: {
    label: 'colour lamp with white, amber, ultraviolet and dimmer, 7 channels',
    channels: ['dimmer', 'red', 'green', 'blue', 'white', 'amber', 'uv'],
  },
  white2: { label: 'tunable white, 2 channels', channels: ['warm', 'cold'] },
  dcmy: {
    label: 'white lamp with cyan, magenta and yellow filters, 4 channels',
    channels: ['dimmer', 'cyan', 'magenta', 'yellow'],
  },
} as const satisfies Record<string, { label: string; channels: readonly ChannelUse[] }>;
export type FixtureMode = keyof typeof FIXTURE_MODES;

export const UNIVERSE_SIZE = 512;
/** Art-Net 4: 15-bit port address. */
export const UNIVERSE_MAX = 32767;
/** Universes are counted from 0 on the wire, and shown from 1. */
export const shownUniverse = (universe: number): number => universe + 1;

const DIMMER = numberParameter({
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
});
const COLOUR = colourParameter({
  id: 'colour',
  label: 'colour',
  help: 'The colour of its light.',
  rest: '#f0b53c',
  reach: '#e8572a',
});
const UV = numberParameter({
  id: 'uv',
  label: 'ultraviolet',
  help: 'How strongly it shines in ultraviolet, which no colour stands for.',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  rest: 0,
  reach: 100,
  attackMs: 4,
  releaseMs: 240,
  dark: 0,
});

const has = (mode: FixtureMode, use: ChannelUse): boolean =>
  (FIXTURE_MODES[mode].channels as readonly ChannelUse[]).includes(use);
const BY_MODE = Object.fromEntries(
  (Object.keys(FIXTURE_MODES) as FixtureMode[]).map((mode) => [
    mode,
    [
      DIMMER,
      ...(FIXTURE_MODES[mode].channels.length > 1 ? [COLOUR] : []),
      ...(has(mode, 'uv') ? [UV] : []),
    ] as readonly ParameterDescription[],
  ]),
) as Readonly<Record<FixtureMode, readonly ParameterDescription[]>>;

export function fixtureParameters(mode: FixtureMode): readonly ParameterDescription[] {
  return BY_MODE[mode];
}

export function channelCount(mode: FixtureMode): number {
  return FIXTURE_MODES[mode].channels.length;
}

/** Green in an amber emitter’s light where its red is 1, in linear light: a lamp of about 590 nm, as a screen would show it. */
const AMBER_GREEN = 0.423;
/** Blue in the warm emitter’s light (2700 K) where its red is 1; that of the cold one (6500 K) is 1. */
const WARM_BLUE = 0.095;

/** What mixing asks of a kind of lamp, looked up once and not in every tick. */
const TRAITS = Object.fromEntries(
  (Object.keys(FIXTURE_MODES) as FixtureMode[]).map((mode) => [
    mode,
    {
      dims: has(mode, 'dimmer'),
      white: has(mode, 'white'),
      amber: has(mode, 'amber'),
      filters: has(mode, 'cyan'),
      tunable: has(mode, 'warm'),
    },
  ]),
) as Readonly<
  Record<FixtureMode, Readonly<Record<'dims' | 'white' | 'amber' | 'filters' | 'tunable', boolean>>>
>;

const within = (x: number): number => (x > 0 ? (x < 1 ? x : 1) : 0);
const byte = (x: number): number => (x > 0 ? (x < 1 ? Math.round(x * 255) : 255) : 0);

/**
 * Writes one lamp into its universe: the colour is mixed, in linear light, from the emitters that the lamp has. White takes over what
 * red, green and blue have in common, and amber what is left of its own colour; filters take out what is missing from white. A lamp
 * without a dimmer channel is dimmed through its emitters. Allocates nothing, never throws.
 * @param address - 1 to 512, the lamp's first channel; channels past 512 are left out
 * @param dimmer - 0 to 1
 * @param r @param g @param b - linear light, 0 to 1; sent with the sRGB curve, which lamps approximate
 * @param uv - 0 to 1
 */
export function writeLamp(
  universe: Uint8Array,
  address: number,
  mode: FixtureMode,
  dimmer: number,
  r: number,
  g: number,
  b: number,
  uv = 0,
): void {
  const channels: readonly ChannelUse[] = FIXTURE_MODES[mode].channels;
  const traits = TRAITS[mode],
    scale = traits.dims ? 1 : dimmer;
  let red = within(r),
    green = within(g),
    blue = within(b);
  const most = Math.max(red, green, blue);
  let white = 0,
    amber = 0,
    cold = 0;
  if (traits.white) {
    white = Math.min(red, green, blue);
    red -= white;
    green -= white;
    blue -= white;
  }
  if (traits.amber) {
    amber = Math.min(red, green / AMBER_GREEN);
    red -= amber;
    green -= amber * AMBER_GREEN;
  }
  if (traits.tunable) cold = within((blue / Math.max(red, 1e-6) - WARM_BLUE) / (1 - WARM_BLUE));
  for (let i = 0; i < channels.length; i++) {
    const at = address - 1 + i;
    if (at < 0 || at >= UNIVERSE_SIZE) continue;
    let x = 0;
    switch (channels[i]!) {
      case 'dimmer':
        // A lamp of filters has no other way to be darker.
        x = traits.filters ? dimmer * encode(most) : dimmer;
        break;
      case 'red':
        x = encode(red) * scale;
        break;
      case 'green':
        x = encode(green) * scale;
        break;
      case 'blue':
        x = encode(blue) * scale;
        break;
      case 'white':
        x = encode(white) * scale;
        break;
      case 'amber':
        x = encode(amber) * scale;
        break;
      case 'uv':
        x = uv * scale;
        break;
      case 'warm':
        x = encode(most * (1 - cold)) * scale;
        break;
      case 'cold':
        x = encode(most * cold) * scale;
        break;
      case 'cyan':
        x = most > 0 ? 1 - encode(red / most) : 0;
        break;
      case 'magenta':
        x = most > 0 ? 1 - encode(green / most) : 0;
        break;
      case 'yellow':
        x = most > 0 ? 1 - encode(blue / most) : 0;
        break;
    }
    universe[at] = byte(x);
  }
}
