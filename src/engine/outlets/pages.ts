import { blinkCode } from '../../core/outlets';
import { type ParameterDescription, toLinear } from '../../core/parameters';
import { filmKey, frameNumbers, type PlanMap } from '../../core/plan';
import { overlayPage, type PageDocument, PICTURE_PAGE } from '../../core/protocols';
import { restOf, type Show, type Thing, thingsOf } from '../../core/show';
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

export function overlayPages(show: OutletShow, things: readonly Thing[]): Page[] {
  return show.overlays.map((overlay, i): Page => {
    const own = things.filter((t) => t.id === overlay.id);
    return {
      document: {
        id: overlayPage(overlay.id),
        show: { overlays: [overlay] },
        ...layOut(own, {}),
        media: overlay.badge === null ? [] : [overlay.badge],
        kept: true,
      },
      events: own.flatMap((t) =>
        t.parameters.flatMap((p) => (p.kind === 'number' && p.takesEvents ? [`${t.id}/${p.id}`] : [])),
      ),
      moves: false,
      blinks: blinkCode('overlay', i),
    };
  });
}

const NOT_DRAWN: ReadonlySet<Thing['kind']> = new Set(['overlay', 'fixture', 'message', 'laser']);
export function picturePage(show: OutletShow & Drawn, things: readonly Thing[], map: PlanMap): Page {
  const drawn = things.filter((t) => !NOT_DRAWN.has(t.kind)),
    media = show.figures.flatMap((f) => ('media' in f.form && f.form.media ? [f.form.media] : []));
  return {
    document: {
      id: PICTURE_PAGE,
      show: Object.fromEntries(PICTURE_PARTS.map((part) => [part, show[part]])),
      ...layOut(drawn, map.vectors),
      media: [...new Set(media)],
      kept: false,
    },
    events: null,
    moves: true,
    blinks: 0,
  };
}

/** What of a show has parameters and goes out. The rest of a show has no things. */
export function outletThings(show: OutletShow): readonly Thing[] {
  return thingsOf({ ...NO_PICTURE, ...show } as Show);
}
const NO_PICTURE = { figureGroups: [], finishes: [], camera: { id: '', name: '', rest: {} } };
