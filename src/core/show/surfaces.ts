import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../figures/kinds';
import { CAMERA_ID, WHOLE_PICTURE, type Figure, type FigureGroup, type Finish, type Show } from './types';

/** What figures are drawn on: the picture, or an overlay. Sizes in its own pixels; its origin is its lower left corner. */
export interface Surface {
  /** {@link WHOLE_PICTURE}, or an overlay's id. Finishes on it treat the whole of it. */
  readonly id: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** The thing whose parameters say how it is looked at. */
  readonly camera: string;
  /** What lies behind its figures; null: nothing, it is open. Of the picture: black. */
  readonly ground: string | null;
}
export const PICTURE_SURFACE: Surface = {
  id: WHOLE_PICTURE,
  name: 'Picture',
  width: PICTURE_WIDTH,
  height: PICTURE_HEIGHT,
  camera: CAMERA_ID,
  ground: '#000000',
};

type Drawn = Pick<Show, 'figures' | 'figureGroups' | 'finishes'>;
type Overlays = Pick<Show, 'overlays'>;

/** A surface by its id, or null when there is none of it. */
export function surfaceOf(show: Overlays, id: string): Surface | null {
  if (id === WHOLE_PICTURE) return PICTURE_SURFACE;
  const o = show.overlays.find((x) => x.id === id);
  return o ? { id, name: o.name, width: o.width, height: o.height, camera: id, ground: o.ground } : null;
}
export const surfacesOf = (show: Overlays): Surface[] => [
  PICTURE_SURFACE,
  ...show.overlays.map((o) => surfaceOf(show, o.id)!),
];

/** On which surface a figure or a group is drawn. */
export const surfaceIdOf = (x: Pick<Figure | FigureGroup, 'surface'>): string => x.surface ?? WHOLE_PICTURE;

/** Of a thing: the surface that it is on, or that it is; null for what is on none, as a lamp. */
export function surfaceOfThing(show: Drawn & Overlays, thing: string): Surface | null {
  if (thing === CAMERA_ID) return PICTURE_SURFACE;
  const finish = show.finishes.find((f) => f.id === thing),
    id = finish?.on ?? thing,
    drawn = show.figures.find((f) => f.id === id) ?? show.figureGroups.find((g) => g.id === id);
  return surfaceOf(show, drawn ? surfaceIdOf(drawn) : id);
}

export interface OnSurface {
  /** Back to front. */
  readonly figures: readonly Figure[];
  readonly figureGroups: readonly FigureGroup[];
  readonly finishes: readonly Finish[];
}
/** What is drawn on one surface, in the show's order. */
export function onSurface(show: Drawn, surface: string): OnSurface {
  const on = <T extends Figure | FigureGroup>(list: readonly T[]): T[] =>
    list.filter((x) => surfaceIdOf(x) === surface);
  const figures = on(show.figures),
    figureGroups = on(show.figureGroups),
    ids = new Set([surface, ...figures.map((f) => f.id), ...figureGroups.map((g) => g.id)]);
  return { figures, figureGroups, finishes: show.finishes.filter((f) => ids.has(f.on)) };
}

/** Ids of everything that is on a surface, its own among them. */
export function idsOnSurface(show: Drawn, surface: string): ReadonlySet<string> {
  const { figures, figureGroups, finishes } = onSurface(show, surface);
  return new Set([surface, ...[...figures, ...figureGroups, ...finishes].map((x) => x.id)]);
}

/** Whether two of them say the same: every part of them the same object. */
export function sameOnSurface(a: OnSurface, b: OnSurface): boolean {
  const same = (x: readonly unknown[], y: readonly unknown[]): boolean =>
    x.length === y.length && x.every((one, i) => one === y[i]);
  return same(a.figures, b.figures) && same(a.figureGroups, b.figureGroups) && same(a.finishes, b.finishes);
}
