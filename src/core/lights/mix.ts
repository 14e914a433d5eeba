import { encode, toLinear } from '../parameters/colour';
import { brightLab, nearestInk } from './nearest';
import {
  cellsOf,
  has,
  type Kind,
  type LampChannel,
  type Light,
  type Shutter,
  type Span,
  UNIVERSE_SIZE,
} from './kind';
import { Lit } from './values';

/** Emitters of a lamp that does not say what its own shine like: a screen's primaries, amber of about 590 nm, whites of 2700 and 6500 K. */
const USUAL = {
  red: [1, 0, 0],
  green: [0, 1, 0],
  blue: [0, 0, 1],
  white: [1, 1, 1],
  amber: [1, 0.423, 0],
} as const satisfies Record<string, Light>;
/** Blue in the warm emitter's light where its red is 1; that of the cold one is 1. */
const WARM_BLUE = 0.095;

/** What mixing asks of a kind of lamp, worked out once and not in every tick. */
interface Mixer {
  /** Its colour comes from emitters, filters, a pair of whites, a wheel, or it has none. */
  readonly by: 'emitters' | 'filters' | 'whites' | 'wheel' | 'none';
  readonly dims: boolean;
  /** From linear light to shares of red, green and blue, row by row. */
  readonly inverse: Float64Array;
  /** White and amber, in shares of red, green and blue; null where it has none. */
  readonly white: Float64Array | null;
  readonly amber: Float64Array | null;
  /** OKLab of the wheel's colours. */
  readonly slots: Float64Array;
  readonly cells: number;
}

const mixers = new WeakMap<Kind, Mixer>();
function mixerOf(kind: Kind): Mixer {
  let known = mixers.get(kind);
  if (!known) mixers.set(kind, (known = makeMixer(kind)));
  return known;
}
function makeMixer(kind: Kind): Mixer {
  const light = (use: keyof typeof USUAL): Light => kind.emitters?.[use] ?? USUAL[use];
  const inverse = inverseOf(light('red'), light('green'), light('blue'));
  const share = (use: 'white' | 'amber'): Float64Array | null =>
    has(kind, use) ? times(inverse, light(use)) : null;
  const slots = new Float64Array(3 * kind.colours.length),
    ink = [0, 0, 0];
  kind.colours.forEach((s, i) => {
    toLinear(s.ink ?? '#ffffff', ink);
    brightLab(ink, 0, slots, 3 * i);
  });
  return {
    by: has(kind, 'red')
      ? 'emitters'
      : has(kind, 'cyan')
        ? 'filters'
        : has(kind, 'warm')
          ? 'whites'
          : has(kind, 'colours') && kind.colours.length > 0
            ? 'wheel'
            : 'none',
    dims: has(kind, 'dimmer'),
    inverse,
    white: share('white'),
    amber: share('amber'),
    slots,
    cells: cellsOf(kind),
  };
}

function inverseOf(r: Light, g: Light, b: Light): Float64Array {
  const m = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]] as const;
  const [a, c, d, e, f, h, i, j, k] = m;
  const det = a * (f * k - h * j) - c * (e * k - h * i) + d * (e * j - f * i);
  // Three emitters of one colour mix nothing: each is then taken for what its name says.
  if (!(Math.abs(det) > 1e-6)) return Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  return Float64Array.of(
    (f * k - h * j) / det,
    (d * j - c * k) / det,
    (c * h - d * f) / det,
    (h * i - e * k) / det,
    (a * k - d * i) / det,
    (d * e - a * h) / det,
    (e * j - f * i) / det,
    (c * i - a * j) / det,
    (a * f - c * e) / det,
  );
}
function times(m: Float64Array, [x, y, z]: Light): Float64Array {
  return Float64Array.of(
    m[0]! * x + m[1]! * y + m[2]! * z,
    m[3]! * x + m[4]! * y + m[5]! * z,
    m[6]! * x + m[7]! * y + m[8]! * z,
  );
}

const within = (x: number): number => (x > 0 ? (x < 1 ? x : 1) : 0);
/** The sRGB curve by a table, its values joined by straight lines: within a hundredth of a byte, and a tenth of the time. */
const STEPS = 8192;
const CODES = Float64Array.from({ length: STEPS + 2 }, (_, i) => encode(i / STEPS));
function coded(x: number): number {
  if (!(x > 0)) return 0;
  if (x >= 1) return 1;
  const at = x * STEPS,
    i = at | 0;
  return CODES[i]! + (CODES[i + 1]! - CODES[i]!) * (at - i);
}
/** Shares of the emitters for one colour: red, green, blue, white, amber; and how bright the whole is. */
const mixed = new Float64Array(6);

/** How much of another emitter the shares hold; what it takes over leaves them. */
function takeOut(of: Float64Array): number {
  let most = 1;
  for (let c = 0; c < 3; c++) if (of[c]! > 1e-6) most = Math.min(most, mixed[c]! / of[c]!);
  most = within(most);
  for (let c = 0; c < 3; c++) mixed[c] = Math.max(0, mixed[c]! - most * of[c]!);
  return most;
}
function mix({ by, inverse, white, amber }: Mixer, red: number, green: number, blue: number): void {
  const r = within(red),
    g = within(green),
    b = within(blue);
  mixed[3] = mixed[4] = 0;
  mixed[5] = Math.max(r, g, b);
  if (by !== 'emitters') {
    mixed[0] = r;
    mixed[1] = g;
    mixed[2] = b;
    return;
  }
  let most = 0;
  for (let c = 0; c < 3; c++) {
    // What its emitters cannot show at all is left out.
    const x = Math.max(0, inverse[3 * c]! * r + inverse[3 * c + 1]! * g + inverse[3 * c + 2]! * b);
    mixed[c] = x;
    if (x > most) most = x;
  }
  if (most > 1) for (let c = 0; c < 3; c++) mixed[c] = mixed[c]! / most;
  if (white) mixed[3] = takeOut(white);
  if (amber) mixed[4] = takeOut(amber);
}

/** @param share - 0 to 1; what is no number is 0 */
function put(universe: Uint8Array, at: number, fine: number, share: number): void {
  const x = within(share);
  if (fine < 0) {
    if (at >= 0 && at < UNIVERSE_SIZE) universe[at] = Math.round(x * 255);
    return;
  }
  const whole = Math.round(x * 65535);
  if (at >= 0 && at < UNIVERSE_SIZE) universe[at] = whole >> 8;
  if (fine < UNIVERSE_SIZE) universe[fine] = whole & 255;
}
const along = (span: Span | null, x: number): number =>
  span && span.to !== span.from ? (x - span.from) / (span.to - span.from) : 0;
/** What a shutter is sent, 0 to 1, for so many flashes a second. */
function shutterShare(shutter: Shutter | null, hz: number): number {
  if (!shutter) return 0;
  const { open, strobe } = shutter;
  // Slower than it can is steady: never quicker than was asked.
  if (!strobe || !(hz >= strobe.slow)) return open / 255;
  const x = within((hz - strobe.slow) / Math.max(1e-6, strobe.quick - strobe.slow));
  // The channel says whole steps only, and the one below is taken.
  return Math.floor(strobe.from + x * (strobe.to - strobe.from)) / 255;
}

const isMixed = (use: LampChannel['use']): boolean =>
  use === 'red' || use === 'green' || use === 'blue' || use === 'white' || use === 'amber';
/** Of a lamp with cells: how strongly each of its channels shines at full, and the colours for which that holds. */
export interface KeptColours {
  readonly of: Float64Array;
  readonly codes: Float32Array;
}
/** For a lamp of emitters in many cells, of which mostly only the levels move; null for any other. */
export function makeKept(kind: Kind): KeptColours | null {
  const { by, cells } = mixerOf(kind);
  return by === 'emitters' && cells > 1
    ? { of: new Float64Array(6).fill(NaN), codes: new Float32Array(kind.channels.length) }
    : null;
}
function holds({ of }: KeptColours, v: Float64Array): boolean {
  for (let i = 0; i < 6; i++) if (of[i] !== v[Lit.Red + i]) return false;
  return true;
}

/**
 * Writes one lamp into its universe: the colour is mixed, in linear light, from the emitters that the lamp has. White takes over what
 * red, green and blue have in common, and amber what is left of its own colour; filters take out what is missing from white; a wheel
 * turns to the slot that is nearest to the eye. A lamp without a dimmer is dimmed through its emitters. Channels past 512 are left
 * out. Allocates nothing, never throws.
 * @param address - 1 to 512, the lamp's first channel
 * @param v - what it is to do, by {@link Lit}; past the {@link LampGate}, or it is not safe
 * @param levels - one for each cell, 0 to 1; null: all as the values say
 * @param colours - linear light of each cell; null: from its colour to its far colour
 * @param kept - of this lamp alone, made by {@link makeKept}: what need not be mixed anew
 */
export function writeLamp(
  universe: Uint8Array,
  address: number,
  kind: Kind,
  v: Float64Array,
  levels: Float32Array | null = null,
  colours: Float32Array | null = null,
  kept: KeptColours | null = null,
): void {
  const mixer = mixerOf(kind),
    { channels, columns } = kind,
    { by, dims, cells } = mixer;
  const dimmer = within(v[Lit.Dimmer]!),
    scale = dims ? 1 : dimmer,
    filters = by === 'filters' || by === 'wheel';
  mix(mixer, v[Lit.Red]!, v[Lit.Green]!, v[Lit.Blue]!);
  // The picture's colours are others in every frame.
  const known = kept !== null && colours === null && holds(kept, v),
    keeps = kept !== null && colours === null && !known;
  if (kept && !known) for (let i = 0; i < 6; i++) kept.of[i] = keeps ? v[Lit.Red + i]! : NaN;
  let cell = -1,
    level = cells > 1 ? scale : scale * within(v[Lit.Cells]!);
  for (let i = 0; i < channels.length; i++) {
    const channel = channels[i]!;
    if (cells > 1 && channel.cell !== undefined && channel.cell !== cell) {
      cell = channel.cell;
      const way = columns > 1 ? (cell % columns) / (columns - 1) : 0;
      if (known) cell = channel.cell;
      else if (colours) mix(mixer, colours[3 * cell]!, colours[3 * cell + 1]!, colours[3 * cell + 2]!);
      else
        mix(
          mixer,
          v[Lit.Red]! + (v[Lit.FarRed]! - v[Lit.Red]!) * way,
          v[Lit.Green]! + (v[Lit.FarGreen]! - v[Lit.Green]!) * way,
          v[Lit.Blue]! + (v[Lit.FarBlue]! - v[Lit.Blue]!) * way,
        );
      level = scale * within(levels ? levels[cell]! : v[Lit.Cells]!);
    }
    const at = address - 1 + channel.at,
      fine = channel.fine === undefined ? -1 : address - 1 + channel.fine;
    let x = 0;
    if (known && channel.cell !== undefined && isMixed(channel.use)) {
      put(universe, at, fine, kept.codes[i]! * level);
      continue;
    }
    // What is kept is kept at full.
    const scaled = keeps && channel.cell !== undefined ? 1 : level;
    switch (channel.use) {
      case 'dimmer':
        // A lamp of filters has no other way to be darker than by its dimmer.
        x = filters ? dimmer * coded(mixed[5]!) : dimmer;
        break;
      case 'red':
        x = coded(mixed[0]!) * scaled;
        break;
      case 'green':
        x = coded(mixed[1]!) * scaled;
        break;
      case 'blue':
        x = coded(mixed[2]!) * scaled;
        break;
      case 'white':
        x = (by === 'emitters' ? coded(mixed[3]!) : coded(mixed[5]!)) * scaled;
        break;
      case 'amber':
        x = coded(mixed[4]!) * scaled;
        break;
      case 'uv':
        x = within(v[Lit.Uv]!) * scale;
        break;
      case 'warm':
      case 'cold': {
        const cold = within((mixed[2]! / Math.max(mixed[0]!, 1e-6) - WARM_BLUE) / (1 - WARM_BLUE));
        x = coded(mixed[5]! * (channel.use === 'cold' ? cold : 1 - cold)) * level;
        break;
      }
      case 'cyan':
        x = mixed[5]! > 0 ? 1 - coded(mixed[0]! / mixed[5]!) : 0;
        break;
      case 'magenta':
        x = mixed[5]! > 0 ? 1 - coded(mixed[1]! / mixed[5]!) : 0;
        break;
      case 'yellow':
        x = mixed[5]! > 0 ? 1 - coded(mixed[2]! / mixed[5]!) : 0;
        break;
      case 'pan':
        x = along(kind.pan, v[Lit.Pan]!);
        break;
      case 'tilt':
        x = along(kind.tilt, v[Lit.Tilt]!);
        break;
      case 'zoom':
        x = along(kind.zoom, v[Lit.Zoom]!);
        break;
      case 'focus':
        x = v[Lit.Focus]!;
        break;
      case 'colours':
        x = by === 'wheel' ? kind.colours[nearestInk(mixer.slots, mixed)]!.at / 255 : 0;
        break;
      case 'gobos': {
        const n = Math.round(v[Lit.Gobo]!),
          slot = kind.gobos[n > 0 ? Math.min(n, kind.gobos.length - 1) : 0];
        x = slot ? slot.at / 255 : 0;
        break;
      }
      case 'shutter':
        x =
          !dims && dimmer <= 0 && kind.shutter?.closed != null
            ? kind.shutter.closed / 255
            : shutterShare(kind.shutter, v[Lit.Strobe]!);
        break;
      case 'haze':
        x = v[Lit.Haze]!;
        break;
      case 'fan':
        x = v[Lit.Fan]!;
        break;
      case 'still':
        x = (channel.value ?? 0) / 255;
        break;
    }
    if (keeps && channel.cell !== undefined && isMixed(channel.use)) {
      kept.codes[i] = x;
      x *= level;
    }
    put(universe, at, fine, x);
  }
}
