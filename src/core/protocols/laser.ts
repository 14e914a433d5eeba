import Joi from 'joi';
import { type DarkReason, LASER_ACTS, type LaserAct, laserSetting, type LaserSetting } from '../laser';
import type { IdnUnit } from './idn';

/** How a laser is, as the thread that sends its points says. */
export interface LaserState {
  readonly step: 'dark' | 'ready' | 'armed';
  /** Why nothing is lit; null where it may be. */
  readonly why: DarkReason | null;
  /** Light left it of late. */
  readonly lit: boolean;
  /** Of its points, those that were lit: 0 to 1. */
  readonly litShare: number;
  /** Points and pictures a second. */
  readonly points: number;
  readonly pictures: number;
  /** Most energy on any spot, of what is allowed: 0 to 1. */
  readonly hottest: number;
  readonly packets: number;
  readonly errors: number;
  /** When it was armed, in ms since 1970; null while it is not. */
  readonly armedAt: number | null;
}
/** Everything about the laser that the window is told. */
export interface LaserReport {
  readonly setting: LaserSetting;
  /** Whether the setting may be changed from here: no code was chosen yet, it is locked, or it is open. */
  readonly lock: 'none' | 'locked' | 'open';
  readonly state: LaserState | null;
  /** Why nothing goes out, or null. */
  readonly trouble: string | null;
  /** Where its points go. */
  readonly address: string;
  /** The projector that ships with us. */
  readonly projector: { readonly address: string; readonly packets: number; readonly bad: number };
  /** Others that answered, where they were looked for. */
  readonly found: readonly (IdnUnit & { readonly address: string })[];
}
/** What the window asks of the laser. */
export type LaserAsk =
  | { readonly type: 'laser'; readonly act: LaserAct }
  /** Opens the setting with its code, or chooses one where there is none; null: locks it again. */
  | { readonly type: 'laserLock'; readonly code: string | null }
  | { readonly type: 'laserSet'; readonly setting: LaserSetting }
  | { readonly type: 'laserSeek' };
export const LASER_CODE_LEAST = 4,
  LASER_CODE_MOST = 64;

const type = Joi.string();
export const laserAsks = [
  { is: 'laser', then: Joi.object({ type, act: Joi.valid(...LASER_ACTS).required() }) },
  {
    is: 'laserLock',
    then: Joi.object({
      type,
      code: Joi.string().min(LASER_CODE_LEAST).max(LASER_CODE_MOST).allow(null).required(),
    }),
  },
  { is: 'laserSet', then: Joi.object({ type, setting: laserSetting.required() }) },
  { is: 'laserSeek', then: Joi.object({ type }) },
] as const;

/** Marks of a laser's frame: dark was pressed; the show plays. */
export const LASER_DARK = 1,
  LASER_PLAYS = 2;
/**
 * What a laser's frame is marked with. It is dark as soon as anything is going dark, however slowly the rest does, and until all of
 * that is over. @param darkness - 0 to 1; what is no number is dark
 */
export const laserMarks = (darkness: number, plays: boolean): number =>
  (darkness === 0 ? 0 : LASER_DARK) | (plays ? LASER_PLAYS : 0);

/** The page that shows what the laser's mirrors draw. */
export const LASER_PAGE = 'laser';

/** What mirrors drew of late, for the window: `kind, 0, points (u16)`, then of each x and y (i16) and red, green, blue (u8). */
export const SEEN_HEAD = 4;
export const SEEN_POINT = 7;
export const SEEN_MOST = 3000;
