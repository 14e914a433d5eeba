import type { FigureKind } from '../../core/figures';
import { blinkCode } from '../../core/outlets';
import { type ParameterDescription, toLinear } from '../../core/parameters';
import { filmKey, frameNumbers, type PlanMap } from '../../core/plan';
import {
  type NamedSignal,
  overlayPage,
  type PageDocument,
  PICTURE_PAGE,
  SIGNALS_PAGE,
} from '../../core/protocols';
import {
  idsOnSurface,
  onSurface,
  restOf,
  type Show,
  type Thing,
  thingsOf,
  WHOLE_PICTURE,
} from '../../core/show';
import { PICTURE_PARTS, type OUTLET_PARTS } from '../memory/messages';

/** What is told of the picture only while somebody elsewhere looks at it. */
type Drawn = Pick<Show, (typeof PICTURE_PARTS)[number]>;
export type OutletShow = Pick<Show, (typeof OUTLET_PARTS)[number]> & Partial<Drawn>;
export const hasPicture = (show: OutletShow): show is OutletShow & Drawn => show.camera !== undefined;

/** A document before it has a version, and what of its parameters takes events. */
export interface Page {
  readonly document: Omit<PageDocument, 'version'>;
  /** Keys of parameters whose events are passed on one by one; null where sums in the numbers say enough. */
  readonly events: readonly string[] | null;
  /** It moves by itself: it is sent while the picture's time goes on, though no number changes. */
  readonly moves: boolean;
  /** By which a frame says that it blinks; 0: it is for several outputs. */
  readonly blinks: number;
}

/** The pages that a show has, whether anybody looks or not. */
export const pageIds = (show: OutletShow): string[] => [
  PICTURE_PAGE,
  ...show.overlays.map((o) => overlayPage(o.id)),
];

/** What a parameter is at rest, in a frame's numbers. */
function restNumbers(thing: Thing, p: ParameterDescription, size: number): number[] {
  const value = restOf(thing, p),
    numbers = [0, 0, 0];
  if (typeof value === 'string') toLinear(value, numbers);
  else numbers[0] = value;
  return numbers.slice(0, size);
}
/** Where the numbers of things stand in a frame of their own, and what they are at rest. */
function layOut(
  things: readonly Thing[],
  vectors: PlanMap['vectors'],
): Pick<PageDocument, 'map' | 'numbers' | 'points' | 'rest'> {
  const parameters: Record<string, number> = {},
    rows: Record<string, readonly [number, number]> = {},
    rest: number[] = [];
  let points = 0;
  for (const thing of things)
    for (const [key, size, p] of frameNumbers(thing)) {
      parameters[key] = rest.length;
      const own = `${thing.id}/${p.id}`;
      // A sum over time begins at 0; a film’s sound is not known yet.
      rest.push(...(key === own ? restNumbers(thing, p, size) : [key === filmKey(own) ? -1 : 0]));
      const row = vectors[key];
      if (!row) continue;
      rows[key] = [points, row[1]];
      points += row[1];
    }
  return { map: { parameters, vectors: rows }, numbers: rest.length, points, rest };
}

export function overlayPages(
  show: OutletShow,
  things: readonly Thing[],
  map: Pick<PlanMap, 'vectors'>,
): Page[] {
  return show.overlays.map((overlay, i): Page => {
    const on = onSurface(show, overlay.id),
      ids = idsOnSurface(show, overlay.id),
      own = things.filter((t) => ids.has(t.id));
    return {
      document: {
        id: overlayPage(overlay.id),
        show: {
          ...on,
          camera: NO_CAMERA,
          screens: [],
          flashLimit: show.flashLimit,
          budget: show.budget,
          overlays: [overlay],
        } satisfies Drawn,
        ...layOut(own, map.vectors),
        media: mediaOf(on.figures),
        kept: true,
      },
      events: own.flatMap((t) =>
        t.parameters.flatMap((p) => (p.kind === 'number' && p.takesEvents ? [`${t.id}/${p.id}`] : [])),
      ),
      moves:
        on.figures.some((f) => LIVES.has(f.form.kind)) || on.finishes.some((f) => f.form.kind === 'trails'),
      blinks: blinkCode('overlay', i),
    };
  });
}
/** Kinds of figures that move though none of their numbers does. */
const LIVES: ReadonlySet<FigureKind> = new Set([
  'emitter',
  'trace',
  'spectrogram',
  'lanterns',
  'video',
  'camera',
]);
const mediaOf = (figures: Show['figures']): string[] => [
  ...new Set(figures.flatMap((f) => ('media' in f.form && f.form.media ? [f.form.media] : []))),
];

const NOT_DRAWN: ReadonlySet<Thing['kind']> = new Set(['overlay', 'fixture', 'message', 'laser']);
export function picturePage(show: OutletShow & Drawn, things: readonly Thing[], map: PlanMap): Page {
  const on = onSurface(show, WHOLE_PICTURE),
    others = new Set(show.overlays.flatMap((o) => [...idsOnSurface(show, o.id)])),
    drawn = things.filter((t) => !NOT_DRAWN.has(t.kind) && !others.has(t.id));
  return {
    document: {
      id: PICTURE_PAGE,
      show: { ...Object.fromEntries(PICTURE_PARTS.map((part) => [part, show[part]])), ...on, overlays: [] },
      ...layOut(drawn, map.vectors),
      media: mediaOf(on.figures),
      kept: false,
    },
    events: null,
    moves: true,
    blinks: 0,
  };
}

/** What of a show has parameters and goes out. The rest of a show has no things. */
export function outletThings(show: OutletShow): readonly Thing[] {
  return thingsOf({ camera: NO_CAMERA, ...show } as Show);
}
const NO_CAMERA: Show['camera'] = { id: '', name: '', rest: {} };

/** Signals that other programs read, as a page of numbers that nobody draws. */
export function signalsPage(signals: readonly NamedSignal[]): Page {
  return {
    document: {
      id: SIGNALS_PAGE,
      show: { names: Object.fromEntries(signals.map(({ id, name }) => [id, name])) },
      map: { parameters: Object.fromEntries(signals.map(({ id }, i) => [id, i])), vectors: {} },
      numbers: signals.length,
      points: 0,
      rest: signals.map(() => 0),
      media: [],
      kept: false,
    },
    events: null,
    moves: false,
    blinks: 0,
  };
}
