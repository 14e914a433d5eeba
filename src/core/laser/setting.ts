import Joi from 'joi';
import { isHostName } from '../protocols/hostName';
import { type LaserField, WHOLE_FIELD } from './field';
import { type LaserLimits, limitsSchema, USUAL_LIMITS } from './limits';
import { type PointSetting, USUAL_POINTS } from './pointMaker';
import { type ScannerSetting, USUAL_SCANNER } from './scanner';

/** Where the points go. */
export type LaserTarget =
  { readonly kind: 'simulated' } | { readonly kind: 'network'; readonly host: string; readonly port: number };
/** What two mirrors can do, as their maker says. */
export interface LaserScanner {
  /** From one end of the field to the other, in degrees. */
  readonly angle: number;
  /** Fields a second, and a second squared. */
  readonly speed: number;
  readonly acceleration: number;
  /** Points by which colours come later than their places. */
  readonly colourShift: number;
  /** Dark points before a line begins, and lit ones where it ends. */
  readonly anchors: number;
}
/**
 * Everything about a laser that belongs to the machine and the house, and never to a show: what it can do, how it hangs, where it may
 * shine, and where its points go.
 */
export interface LaserSetting {
  readonly limits: LaserLimits;
  readonly field: LaserField;
  readonly scanner: LaserScanner;
  readonly to: LaserTarget;
  readonly bits: 8 | 16;
  /** A stream of points, or whole pictures that are each drawn once. */
  readonly mode: 'wave' | 'frame';
  /** A channel of a universe that is full while it may be lit, and 0 while it may not; null: none. */
  readonly shutter: { readonly universe: number; readonly address: number } | null;
}
export const USUAL_LASER: LaserSetting = {
  limits: USUAL_LIMITS,
  field: WHOLE_FIELD,
  scanner: {
    angle: 40,
    speed: USUAL_SCANNER.speed,
    acceleration: USUAL_SCANNER.acceleration,
    colourShift: USUAL_POINTS.colourShift,
    anchors: USUAL_POINTS.anchors,
  },
  to: { kind: 'simulated' },
  bits: 16,
  mode: 'wave',
  shutter: null,
};

const corner = Joi.array()
  .ordered(Joi.number().min(-1).max(2).required(), Joi.number().min(-1).max(2).required())
  .required();
const whole = (least: number, most: number): Joi.NumberSchema =>
  Joi.number().integer().min(least).max(most).required();
export const laserSetting = Joi.object({
  limits: limitsSchema.required(),
  field: Joi.object({
    corners: Joi.array().ordered(corner, corner, corner, corner).required(),
    mirrorX: Joi.boolean().required(),
    mirrorY: Joi.boolean().required(),
  }).required(),
  scanner: Joi.object({
    angle: Joi.number().min(1).max(120).required(),
    speed: Joi.number().min(50).max(20000).required(),
    acceleration: Joi.number().min(1e5).max(1e9).required(),
    colourShift: whole(0, 40),
    anchors: whole(0, 30),
  }).required(),
  to: Joi.alternatives(
    Joi.object({ kind: Joi.valid('simulated').required() }),
    Joi.object({
      kind: Joi.valid('network').required(),
      host: Joi.string()
        .required()
        .custom((x: string, { error }) => (isHostName(x) ? x : error('any.invalid'))),
      port: whole(1, 65535),
    }),
  ).required(),
  bits: Joi.valid(8, 16).required(),
  mode: Joi.valid('wave', 'frame').required(),
  shutter: Joi.object({ universe: whole(0, 32767), address: whole(1, 512) })
    .allow(null)
    .required(),
});

/** Reads a setting from anywhere. @returns it, or what is wrong, in words that say the range */
export function readLaserSetting(
  raw: unknown,
): { readonly setting: LaserSetting; readonly why: null } | { readonly setting: null; readonly why: string } {
  const { error, value } = laserSetting.validate(raw, { convert: false });
  if (error || value === undefined)
    return {
      setting: null,
      why: `This cannot be set on a laser: ${error?.message ?? 'there is nothing'}.`,
    };
  return { setting: value as LaserSetting, why: null };
}

const DWELL_MOST = 24;
/** How points are made for a scanner: no two of a line further apart than its mirrors go in that time, and longer at corners the more slowly they turn. */
export function pointsFor({ limits, scanner }: Pick<LaserSetting, 'limits' | 'scanner'>): PointSetting {
  const most = scanner.speed / limits.pointsPerSecond,
    // What turns half as quickly needs a time at a corner that is longer by the root of two.
    slow = Math.sqrt(USUAL_SCANNER.acceleration / scanner.acceleration);
  return {
    ...USUAL_POINTS,
    pointsPerSecond: limits.pointsPerSecond,
    spacing: Math.min(USUAL_POINTS.spacing, most),
    darkSpacing: Math.min(USUAL_POINTS.darkSpacing, most),
    dwell: Math.min(DWELL_MOST, Math.round(USUAL_POINTS.dwell * slow)),
    colourShift: scanner.colourShift,
    anchors: scanner.anchors,
  };
}
/** How its mirrors move, for whoever draws what they do. */
export const scannerFor = ({ scanner }: Pick<LaserSetting, 'scanner'>): ScannerSetting => ({
  ...USUAL_SCANNER,
  speed: scanner.speed,
  acceleration: scanner.acceleration,
});
/** What may change under a laser that is armed, without another way for its points: only where it may shine and how it is laid. */
export const onlyWhere = (a: LaserSetting, b: LaserSetting): boolean =>
  JSON.stringify({ ...a, limits: { ...a.limits, keepOuts: 0, zones: 0 }, field: 0 }) ===
  JSON.stringify({ ...b, limits: { ...b.limits, keepOuts: 0, zones: 0 }, field: 0 });
