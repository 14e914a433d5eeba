import { SHOW_FORMAT, SHOW_VERSION } from './types';

/** The file cannot be brought to today's form; the message is for people. */
export class UpgradeError extends Error {
  override readonly name = 'UpgradeError';
}

type Document = Record<string, unknown>;
/** Takes a document from version `from` to `from + 1`. Pure, frozen once shipped, and ignorant of today's types. */
export interface Upgrade {
  readonly from: number;
  readonly name: string;
  readonly run: (document: Document) => Document;
}

type Row = Record<string, unknown>;
const rows = (x: unknown): Row[] =>
  Array.isArray(x) ? x.filter((r): r is Row => typeof r === 'object' && r !== null) : [];
const settings = (x: unknown): Row => (typeof x === 'object' && x !== null ? (x as Row) : {});

/** Ears got channels and more to listen for, inputs automatic gain, a delay and a part, the tempo an owner among the inputs. */
const earsThatHearMore: Upgrade = {
  from: 1,
  name: 'ears that hear more',
  run: (d) => ({
    ...d,
    tempo: { ...settings(d.tempo), input: null, multiple: 1 },
    inputs: rows(d.inputs).map((i) => ({
      ...i,
      autoGain: false,
      delayMs: 0,
      ...(i.kind === 'files' && { part: null }),
    })),
    ears: rows(d.ears).map((e) => {
      const l = settings(e.listening);
      const listening =
        l.kind === 'band'
          ? { ...l, reading: 'energy', weighting: { kind: 'flat' }, gainDb: 0 }
          : l.kind === 'hit'
            ? { ...l, what: 'range', holdOffMs: 85 }
            : l;
      return { ...e, channel: 'sum', listening };
    }),
  }),
};

/** Makers, groups and saved shapes; routes that combine, solo and are scaled; twins. */
const routesThatCombine: Upgrade = {
  from: 2,
  name: 'routes that combine',
  run: (d) => ({
    ...d,
    makers: [],
    groups: [],
    shapes: [],
    routes: rows(d.routes).map((r) => ({
      ...r,
      soloed: false,
      bypassed: false,
      combine: 'add',
      group: null,
      amountBy: null,
      unseen: null,
    })),
    figures: rows(d.figures).map((f) => ({ ...f, twin: null })),
  }),
};

/** Finishes, groups of figures, the camera, screens, and a limit on flashes. */
const picturesThatAreFinished: Upgrade = {
  from: 3,
  name: 'pictures that are finished',
  run: (d) => ({
    ...d,
    figures: rows(d.figures).map((f) => ({ ...f, locked: false, group: null, blend: 'over' })),
    figureGroups: [],
    finishes: [],
    camera: { id: 'camera', name: 'Camera', rest: {} },
    screens: [
      {
        id: 'screen-main',
        name: 'Screen',
        width: 1280,
        height: 720,
        crop: { left: 0, bottom: 0, right: 1, top: 1 },
        turn: 0,
        corners: [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
        delayMs: 0,
      },
    ],
    flashLimit: 3,
    budget: {
      on: true,
      framesPerSecond: 30,
      order: ['edges', 'resolution', 'counts'],
      leastResolution: 0.5,
      leastCounts: 0.25,
    },
  }),
};

/** Wires say what their lamps do without a show; until then they held. */
const wiresWithASafeState: Upgrade = {
  from: 4,
  name: 'wires with a safe state',
  run: (d) => ({ ...d, wires: rows(d.wires).map((w) => ({ ...w, safe: { then: 'hold' } })) }),
};

/** Kept ramps. What else came then may be left out: stems, one of every so many, keys, colours at chance, anchors, ramps. */
const rampsThatAreKept: Upgrade = { from: 5, name: 'ramps that are kept', run: (d) => ({ ...d, ramps: [] }) };

/** Kinds of lamps that were read from files, a room with spots, messages to other programs; wires of several protocols, each with its universes. */
const lampsInARoom: Upgrade = {
  from: 6,
  name: 'lamps in a room',
  run: (d) => ({
    ...d,
    kinds: [],
    room: { width: 12, depth: 8, height: 5 },
    spots: [],
    messages: [],
    wires: rows(d.wires).map((w) => ({ ...w, universes: null, priority: 100, sync: false })),
  }),
};

/** Universes that are shared with a desk. What else came then may be left out: parked channels, where the picture lies, bundles, leads. */
const desksThatShare: Upgrade = { from: 7, name: 'desks that share', run: (d) => ({ ...d, merges: [] }) };

/** What a laser draws. */
const lasersThatDraw: Upgrade = {
  from: 8,
  name: 'lasers that draw',
  run: (d) => ({ ...d, laserFigures: [] }),
};

/** The colour of a frame's cut line, and how an image's plate is measured; both as they were drawn then. */
const PLATE = 480,
  BADGE_SIZE = 150 / PLATE,
  GLOW_AT_EDGE = 0.45;
/** What moved a frame, and the figure, the parameter and the measure in which that is moved now. */
const FRAME_PARTS: Readonly<Record<string, readonly [part: string, parameter: string, by: number]>> = {
  swell: ['edge', 'swell', 1],
  glow: ['edge', 'glow', GLOW_AT_EDGE],
  ink: ['edge', 'ink', 1],
  spark: ['edge', 'spark', 1],
  badge: ['badge', 'size', BADGE_SIZE],
};
const measured = (value: unknown, by: number): unknown => (typeof value === 'number' ? value * by : value);
const plainFigure = (id: string, name: string, surface: string, more: Row): Row => ({
  id,
  name,
  hidden: false,
  locked: false,
  group: null,
  blend: 'over',
  twin: null,
  surface,
  ...more,
});

/** An overlay, which was one fixed frame, is a surface with that frame and its badge as figures. */
const overlaysAsSurfaces: Upgrade = {
  from: 9,
  name: 'overlays as surfaces',
  run: (d) => {
    const overlays = rows(d.overlays),
      frames = new Set(overlays.map((o) => o.id)),
      taken = new Set(
        Object.values(d).flatMap((list) => (Array.isArray(list) ? rows(list).map((r) => r.id) : [])),
      );
    const parts = new Map<string, string>();
    const partOf = (overlay: unknown, part: string): string => {
      const key = `${String(overlay)}/${part}`;
      let id = parts.get(key);
      if (id === undefined) {
        const wish = `${String(overlay).slice(0, 50)}-${part}`;
        for (let n = 1, free = wish; id === undefined; free = `${wish}-${++n}`)
          if (!taken.has(free)) id = free;
        taken.add(id);
        parts.set(key, id);
      }
      return id;
    };
    const restOf = (overlay: Row, part: string): Row =>
      Object.fromEntries(
        Object.entries(settings(overlay.rest)).flatMap(([key, value]) => {
          const [to, parameter, by] = FRAME_PARTS[key] ?? [];
          return to === part ? [[parameter!, measured(value, by!)]] : [];
        }),
      );
    const figures = overlays.flatMap((o): Row[] => [
      plainFigure(partOf(o.id, 'edge'), 'Edge', o.id as string, {
        form: {
          kind: 'edge',
          outline: 'rectangle',
          width: 1280,
          height: 720,
          corner: 0,
          drawing: [],
          way: 'inward',
          bulge: 'middle',
          cuts: false,
          line: true,
        },
        at: { x: 640, y: 360 },
        rest: restOf(o, 'edge'),
      }),
      ...(typeof o.badge === 'string'
        ? [
            plainFigure(partOf(o.id, 'badge'), 'Badge', o.id as string, {
              form: { kind: 'image', media: o.badge, fileName: 'badge', flipX: false, flipY: false },
              at: { x: 118, y: 118 },
              rest: { size: BADGE_SIZE, ...restOf(o, 'badge') },
            }),
          ]
        : []),
    ]);
    return {
      ...d,
      overlays: overlays.map(({ kind: _, badge: __, ...o }) => ({
        ...o,
        rest: {},
        width: 1280,
        height: 720,
        ground: null,
        still: null,
      })),
      figures: [...rows(d.figures), ...figures],
      routes: rows(d.routes).map((r) => {
        const { thing, parameter } = settings(r.target),
          [part, to, by] = frames.has(thing) ? (FRAME_PARTS[parameter as string] ?? []) : [];
        return part === undefined
          ? r
          : {
              ...r,
              target: { thing: partOf(thing, part), parameter: to },
              reach: measured(r.reach, by!),
            };
      }),
    };
  },
};

/** Looks, cues that take them, songs, the safe look, and what controllers do. */
const nightsOfLooks: Upgrade = {
  from: 10,
  name: 'nights of looks',
  run: (d) => ({ ...d, looks: [], cues: [], songs: [], home: null, darkOver: 0, freezeOver: 0, grips: [] }),
};

/** Controllers with pages that are told where things stand, and a phone's page of one's own. */
const controllersWithPages: Upgrade = {
  from: 11,
  name: 'controllers with pages',
  run: (d) => ({ ...d, grips: rows(d.grips).map((g) => ({ ...g, page: null, answers: false })), phone: [] }),
};

/** In order; each has a saved old file as its test. */
export const UPGRADES: readonly Upgrade[] = [
  earsThatHearMore,
  routesThatCombine,
  picturesThatAreFinished,
  wiresWithASafeState,
  rampsThatAreKept,
  lampsInARoom,
  desksThatShare,
  lasersThatDraw,
  overlaysAsSurfaces,
  nightsOfLooks,
  controllersWithPages,
];

/**
 * Brings a document of an older version to today's.
 * @throws UpgradeError when it is not a show at all, or made by a newer Batucada
 */
export function upgrade(
  raw: unknown,
  upgrades: readonly Upgrade[] = UPGRADES,
  today: number = SHOW_VERSION,
): Document {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw))
    throw new UpgradeError('This is not a Batucada show.');
  let document = raw as Document;
  if (document.format !== SHOW_FORMAT) throw new UpgradeError('This is not a Batucada show.');
  const version = document.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    throw new UpgradeError('This show does not say which version it is.');
  if (version > today)
    throw new UpgradeError(
      `This show was made by a newer Batucada (form ${version}; this one reads up to ${today}). Update Batucada, then open it again.`,
    );
  for (let at = version; at < today; at++) {
    const step = upgrades.find((u) => u.from === at);
    if (!step) throw new UpgradeError(`This show is of form ${at}, which can no longer be read.`);
    document = { ...step.run(document), version: at + 1 };
  }
  return document;
}
