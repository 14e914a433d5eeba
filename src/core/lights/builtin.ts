import { type ChannelUse, type Kind, type LampChannel, UNIVERSE_SIZE } from './kind';

const PLAIN = {
  columns: 1,
  rows: 1,
  pan: null,
  tilt: null,
  zoom: null,
  beam: 40,
  colours: [],
  gobos: [],
  shutter: null,
  emitters: null,
  flashes: false,
} as const satisfies Partial<Kind>;

/** One byte a channel, in this order. */
function plain(id: string, label: string, uses: readonly ChannelUse[], more: Partial<Kind> = {}): Kind {
  return {
    ...PLAIN,
    id,
    label: `${label}, ${uses.length} channel${uses.length === 1 ? '' : 's'}`,
    channels: uses.map((use, at) => ({ use, at })),
    footprint: uses.length,
    ...more,
  };
}
/** Uses in order; those that end in “16” take a coarse byte and then a fine one. */
function wide(id: string, label: string, uses: readonly string[], more: Partial<Kind>): Kind {
  const channels: LampChannel[] = [];
  let at = 0;
  for (const use of uses)
    if (use.endsWith('16')) {
      channels.push({ use: use.slice(0, -2) as ChannelUse, at, fine: at + 1 });
      at += 2;
    } else channels.push({ use: use as ChannelUse, at: at++ });
  return { ...PLAIN, id, label: `${label}, ${at} channels`, channels, footprint: at, ...more };
}

const HEAD = {
  pan: { from: -270, to: 270 },
  tilt: { from: -135, to: 135 },
  zoom: { from: 5, to: 45 },
  shutter: { closed: 0, open: 32, strobe: { from: 64, to: 223, slow: 1, quick: 20 } },
} as const satisfies Partial<Kind>;
const WHEELS = {
  colours: [
    { name: 'open', ink: '#ffffff', at: 0 },
    { name: 'red', ink: '#e01f1f', at: 16 },
    { name: 'amber', ink: '#f5a524', at: 32 },
    { name: 'yellow', ink: '#f2e21b', at: 48 },
    { name: 'green', ink: '#1fae4b', at: 64 },
    { name: 'cyan', ink: '#35c8d8', at: 80 },
    { name: 'blue', ink: '#2440d8', at: 96 },
    { name: 'magenta', ink: '#c62bbf', at: 112 },
  ],
  gobos: [
    { name: 'open', at: 0 },
    { name: 'dots', at: 20 },
    { name: 'bars', at: 40 },
    { name: 'ring', at: 60 },
    { name: 'cone', at: 80 },
    { name: 'star', at: 100 },
  ],
} as const satisfies Partial<Kind>;

const SINGLE: readonly Kind[] = [
  plain('dimmer', 'dimmer', ['dimmer']),
  plain('rgb', 'colour lamp', ['red', 'green', 'blue']),
  plain('drgb', 'colour lamp with dimmer', ['dimmer', 'red', 'green', 'blue']),
  plain('rgbw', 'colour lamp with white', ['red', 'green', 'blue', 'white']),
  plain('drgbw', 'colour lamp with white and dimmer', ['dimmer', 'red', 'green', 'blue', 'white']),
  plain('rgba', 'colour lamp with amber', ['red', 'green', 'blue', 'amber']),
  plain('rgbuv', 'colour lamp with ultraviolet', ['red', 'green', 'blue', 'uv']),
  plain('drgbwauv', 'colour lamp with white, amber, ultraviolet and dimmer', [
    'dimmer',
    'red',
    'green',
    'blue',
    'white',
    'amber',
    'uv',
  ]),
  plain('white2', 'tunable white', ['warm', 'cold']),
  plain('dcmy', 'white lamp with cyan, magenta and yellow filters', ['dimmer', 'cyan', 'magenta', 'yellow']),
  wide(
    'head',
    'moving head with wheels',
    ['pan16', 'tilt16', 'dimmer16', 'shutter', 'colours', 'gobos', 'zoom', 'focus'],
    { ...HEAD, ...WHEELS },
  ),
  wide(
    'head8',
    'moving head in 8 bit, with wheels',
    ['pan', 'tilt', 'dimmer', 'shutter', 'colours', 'gobos'],
    {
      ...HEAD,
      ...WHEELS,
      zoom: null,
      beam: 12,
    },
  ),
  wide(
    'wash',
    'moving head with colours and white',
    ['pan16', 'tilt16', 'dimmer16', 'shutter', 'red', 'green', 'blue', 'white', 'zoom'],
    HEAD,
  ),
  plain('strobe', 'strobe', ['dimmer', 'shutter'], {
    beam: 100,
    shutter: { closed: null, open: 0, strobe: { from: 1, to: 255, slow: 0.5, quick: 25 } },
    flashes: true,
  }),
  plain('haze', 'haze', ['haze', 'fan'], { beam: 0 }),
];

/** Cells that are lit by themselves, each of these uses in order, row after row. */
function ofCells(
  id: string,
  label: string,
  uses: readonly ChannelUse[],
  columns: number,
  rows: number,
): Kind {
  const channels: LampChannel[] = [];
  for (let cell = 0; cell < columns * rows; cell++)
    for (const use of uses) channels.push({ use, at: channels.length, cell });
  return {
    ...PLAIN,
    id,
    label: `${label}, ${rows > 1 ? `${columns} × ${rows}` : columns} cells`,
    channels,
    footprint: channels.length,
    columns,
    rows,
    beam: 60,
  };
}
const CELLED = {
  bar: { label: 'pixel bar', uses: ['red', 'green', 'blue'] },
  barw: { label: 'pixel bar with white', uses: ['red', 'green', 'blue', 'white'] },
  panel: { label: 'pixel panel', uses: ['red', 'green', 'blue'] },
} as const satisfies Record<string, { label: string; uses: readonly ChannelUse[] }>;

/** Kinds that are there without any file, in the order in which they are offered: the id of each and its name. */
export const BUILT_IN: readonly (readonly [id: string, label: string])[] = [
  ...SINGLE.map((k) => [k.id, k.label] as const),
  ...Object.entries(CELLED).map(([id, { label }]) => [id, `${label}, any number of cells`] as const),
];
/** Whether a lamp of this kind says itself how many cells it has. */
export const isCelled = (mode: string): boolean => Object.hasOwn(CELLED, mode);
/** Cells of one that was not told how many. */
export const USUAL_CELLS = { columns: 16, rows: 1 } as const;
export const USUAL_PANEL = { columns: 8, rows: 8 } as const;

/** Most columns of so many rows that fit into one universe. */
export function columnsMost(mode: string, rows: number): number {
  const uses = CELLED[mode as keyof typeof CELLED]?.uses.length ?? 1;
  return Math.max(1, Math.floor(UNIVERSE_SIZE / uses / Math.max(1, rows)));
}

const byId = new Map(SINGLE.map((k) => [k.id, k]));
const celled = new Map<string, Kind>();

/** What is asked of a lamp to know its kind. */
export interface Kinded {
  readonly mode: string;
  readonly cells?: { readonly columns: number; readonly rows: number };
}

/**
 * The kind of a lamp: built in, or one of those that were read from files. A kind that is not there any more is a lamp of one still
 * channel: it stays dark, and nothing is thrown. The same answer for the same question, so that it may be kept.
 */
export function kindOf({ mode, cells }: Kinded, read: readonly Kind[] = []): Kind {
  const single = byId.get(mode);
  if (single) return single;
  if (!isCelled(mode)) return read.find((k) => k.id === mode) ?? MISSING;
  const usual = mode === 'panel' ? USUAL_PANEL : USUAL_CELLS,
    rows = Math.max(1, Math.floor(cells?.rows ?? usual.rows)),
    columns = Math.min(columnsMost(mode, rows), Math.max(1, Math.floor(cells?.columns ?? usual.columns))),
    key = `${mode} ${columns} ${rows}`;
  let kind = celled.get(key);
  if (!kind) {
    const { label, uses } = CELLED[mode as keyof typeof CELLED];
    celled.set(key, (kind = ofCells(mode, label, uses, columns, rows)));
  }
  return kind;
}
const MISSING: Kind = {
  ...PLAIN,
  id: 'missing',
  label: 'a kind that is not in this show',
  channels: [{ use: 'still', at: 0, value: 0 }],
  footprint: 1,
};

/** Channels that a lamp takes. */
export const footprintOf = (lamp: Kinded, read: readonly Kind[] = []): number => kindOf(lamp, read).footprint;
