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

/** Said first to every page: one of another version loads itself anew. */
export const PAGE_PROTOCOL = 1;
export type ToPage =
  | { readonly type: 'hello'; readonly protocol: number }
  /** Null when the show has no such page (any more). `live`: whether a control window drives now. */
  | { readonly type: 'page'; readonly live: boolean; readonly document: PageDocument | null }
  | { readonly type: 'live'; readonly live: boolean }
  /** Answers `seen`, with what that said of when it was sent. */
  | { readonly type: 'again'; readonly at: number }
  /** Other servers of the same pages, should this one go: where each begins, `http://name:port`. */
  | { readonly type: 'others'; readonly at: readonly string[] };

/** What a page says of itself, once a second. */
export interface FromPage {
  readonly type: 'seen';
  /** By its own clock, in ms. */
  readonly at: number;
  readonly name: string;
  readonly picturesPerSecond: number;
  /** From a frame's coming to its picture, and half of the way there and back, in ms. */
  readonly delayMs: number;
}
/** One page that looks, as the control window is told of it. */
export interface Watcher {
  readonly page: string;
  readonly name: string;
  /** Null until it said so. */
  readonly picturesPerSecond: number | null;
  readonly delayMs: number | null;
  /** The relay by which it looks; null: none. */
  readonly by: string | null;
}
/** Longest name of a page, and longest message of one. */
export const PAGE_NAME_MOST = 60;
export const FROM_PAGE_MOST_BYTES = 512;
/** Watchers that a control window is told of by name; of more only how many there are. */
export const WATCHERS_MOST = 40;

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
