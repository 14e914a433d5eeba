import Joi from 'joi';

/**
 * What pages elsewhere are drawn from: an overlay in a streaming program, or the picture on another machine. A document says what
 * is drawn and where its numbers stand; frames bring the numbers. The bridge passes both on and understands neither.
 */
export interface PageDocument {
  /** {@link PICTURE_PAGE}, or that of an overlay: {@link overlayPage}. */
  readonly id: string;
  /** Its frames name it: numbers are never read by another document's places. */
  readonly version: number;
  /** The part of the show that is drawn, as it stands in the show. */
  readonly show: Readonly<Record<string, unknown>>;
  readonly map: PageMap;
  /** Numbers in a frame, and points of rows after them. */
  readonly numbers: number;
  readonly points: number;
  /** What the numbers are before any came; 0 where it says nothing. */
  readonly rest: readonly number[];
  /** Hashes of the files that it is made of. */
  readonly media: readonly string[];
  /** It is shown after a restart of the bridge too, before a control window is there. */
  readonly kept: boolean;
}
/** Where its numbers stand in a frame. */
export interface PageMap {
  readonly parameters: Readonly<Record<string, number>>;
  /** First place and number of points of each row. */
  readonly vectors: Readonly<Record<string, readonly [at: number, points: number]>>;
}

export const PICTURE_PAGE = 'picture';
export const overlayPage = (overlay: string): string => `overlay/${overlay}`;
/** Pages that one show may have. */
export const PAGES_MOST = 101;
/** Longest id of a page. */
export const PAGE_ID_MOST = 80;

export type ToPage =
  /** Null when the show has no such page (any more). `live`: whether a control window drives now. */
  | { readonly type: 'page'; readonly live: boolean; readonly document: PageDocument | null }
  | { readonly type: 'live'; readonly live: boolean };

/** Before the numbers: `version (u32), 0 (u32), show time (f64, s), the picture's time (f64, s), darkness (f32), which output blinks (f32)`. */
export const PAGE_HEAD = 32;
export const pageBytes = ({ numbers, points }: Pick<PageDocument, 'numbers' | 'points'>): number =>
  PAGE_HEAD + 4 * (numbers + points);

/** Before events: `version (u32), 0 (u32)`. */
export const EVENTS_HEAD = 8;
/** Of an event: its time (f64, s of the show), the place of its number (u32), and how much (f32, the parameter's unit). */
export const EVENT_BYTES = 16;
export const EVENTS_MOST = 1024;

/** Writes the head of a page's value. Allocates nothing. */
export function writePageHead(
  view: DataView,
  version: number,
  time: number,
  pictureTime: number,
  darkness: number,
  blink: number,
): void {
  view.setUint32(0, version, true);
  view.setFloat64(8, time, true);
  view.setFloat64(16, pictureTime, true);
  view.setFloat32(24, darkness, true);
  view.setFloat32(28, blink, true);
}

const count = (most: number): Joi.NumberSchema => Joi.number().integer().min(0).max(most).required();
const NUMBERS_MOST = 1 << 18;
const isMap = (map: unknown): boolean => {
  const { parameters, vectors } = (map ?? {}) as Record<string, unknown>;
  const whole = (n: unknown): boolean => Number.isInteger(n) && (n as number) >= 0;
  const every = (x: unknown, good: (value: unknown) => boolean): boolean =>
    typeof x === 'object' && x !== null && !Array.isArray(x) && Object.values(x).every(good);
  return (
    every(parameters, whole) &&
    every(vectors, (v) => Array.isArray(v) && v.length === 2 && whole(v[0]) && whole(v[1]))
  );
};
/** A document as it is checked wherever it comes from. Maps are long, and checked by hand. */
export const pageDocument = Joi.object({
  id: Joi.string().max(PAGE_ID_MOST).required(),
  version: count(0xffffffff),
  show: Joi.object().unknown().required(),
  map: Joi.object()
    .unknown()
    .required()
    .custom((value: unknown, { error }) => (isMap(value) ? value : error('any.invalid'))),
  numbers: count(NUMBERS_MOST),
  points: count(NUMBERS_MOST),
  rest: Joi.array()
    .max(NUMBERS_MOST)
    .required()
    .custom((value: unknown[], { error }) => (value.every(Number.isFinite) ? value : error('any.invalid'))),
  media: Joi.array()
    .max(2000)
    .items(Joi.string().pattern(/^[0-9a-f]{64}$/))
    .required(),
  kept: Joi.boolean().required(),
});
const pageDocuments = Joi.array().max(PAGES_MOST).items(pageDocument).required();

/** Documents from a file that anybody may have changed; null when they cannot be used. */
export function parseDocuments(raw: unknown): readonly PageDocument[] | null {
  const { error, value } = pageDocuments.validate(raw, { convert: false });
  return error || value === undefined ? null : (value as readonly PageDocument[]);
}
