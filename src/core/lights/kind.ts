/** What a channel of a lamp carries: light, what turns or shapes it, or a number that always stays. */
export const CHANNEL_USES = [
  'dimmer',
  'red',
  'green',
  'blue',
  'white',
  'amber',
  'uv',
  'warm',
  'cold',
  'cyan',
  'magenta',
  'yellow',
  'pan',
  'tilt',
  'zoom',
  'focus',
  'colours',
  'gobos',
  'shutter',
  'haze',
  'fan',
  'still',
] as const;
export type ChannelUse = (typeof CHANNEL_USES)[number];

export interface LampChannel {
  readonly use: ChannelUse;
  /** Its place after the lamp's first channel, 0 for that. */
  readonly at: number;
  /** Place of its finer byte; absent: it has none. */
  readonly fine?: number;
  /** Which of the lamp's cells; absent: all of the lamp. */
  readonly cell?: number;
  /** Of a *still* channel: what is sent, 0 to 255. */
  readonly value?: number;
}

/** What is meant by a channel's two ends, in the unit of what it moves. */
export interface Span {
  readonly from: number;
  readonly to: number;
}
/** One of a wheel's places. */
export interface WheelSlot {
  readonly name: string;
  /** `#rrggbb`, of a colour. */
  readonly ink?: string;
  /** What is sent for it, 0 to 255. */
  readonly at: number;
}
export interface Shutter {
  /** What is sent for steady light and for none, 0 to 255; `closed` is null where the channel cannot close it. */
  readonly open: number;
  readonly closed: number | null;
  /** Channel values that make it flash, and how often at either end, in Hz. */
  readonly strobe: {
    readonly from: number;
    readonly to: number;
    readonly slow: number;
    readonly quick: number;
  } | null;
}
export const EMITTERS = ['red', 'green', 'blue', 'white', 'amber', 'uv', 'warm', 'cold'] as const;
export type Emitter = (typeof EMITTERS)[number];
/** Linear red, green and blue of an emitter at full, as a screen would show it; the brightest of them 1. */
export type Light = readonly [r: number, g: number, b: number];

/** A kind of lamp: what it has, and where on its channels. Plain JSON: those that were read from files travel in the show. */
export interface Kind {
  readonly id: string;
  readonly label: string;
  readonly channels: readonly LampChannel[];
  /** Channels that it takes. */
  readonly footprint: number;
  /** Parts that are lit by themselves, row after row from the top left; most lamps are one. */
  readonly columns: number;
  readonly rows: number;
  /** Degrees at the channel's two ends; null where it does not turn. */
  readonly pan: Span | null;
  readonly tilt: Span | null;
  /** Whole angle of the beam, in degrees, at the zoom's two ends; null where it has no zoom. */
  readonly zoom: Span | null;
  /** Whole angle of the beam, in degrees, without a zoom. */
  readonly beam: number;
  readonly colours: readonly WheelSlot[];
  readonly gobos: readonly WheelSlot[];
  readonly shutter: Shutter | null;
  /** Measured light of its emitters; null where it was not told. */
  readonly emitters: Readonly<Partial<Record<Emitter, Light>>> | null;
  /** It is made to flash: more than three flashes a second leave it only where that is allowed. */
  readonly flashes: boolean;
}

export const UNIVERSE_SIZE = 512;
/** Art-Net 4: 15-bit port address. */
export const UNIVERSE_MAX = 32767;
/** Universes are counted from 0 in a show, and shown from 1. */
export const shownUniverse = (universe: number): number => universe + 1;
/** Cells of one lamp: a panel of three channels a cell over six universes has fewer. */
export const CELLS_MOST = 1024;

/** Whether a kind has a channel of this use, for all of the lamp or for a cell. */
export function has(kind: Kind, use: ChannelUse): boolean {
  return kind.channels.some((c) => c.use === use);
}
/** Whether it turns at all. */
export const turns = (kind: Kind): boolean => has(kind, 'pan') || has(kind, 'tilt');
/** A head: it turns both ways, and can be aimed. */
export const isHead = (kind: Kind): boolean => kind.pan !== null && kind.tilt !== null;
/** Kinds that are built of many cells. */
export const cellsOf = (kind: Kind): number => kind.columns * kind.rows;
