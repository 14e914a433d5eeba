import Joi from 'joi';
import type { Hz, Milliseconds } from '../units';
import { RATE_LEAST, RATE_MOST } from './points';
import { CORNERS_MOST, type Polygon } from './zones';

/** A part of the field where less than full brightness is let through. */
export interface LaserZone {
  readonly polygon: Polygon;
  /** 0 to 1. */
  readonly most: number;
}
/**
 * What a laser may do in a house: part of the machine's own settings, never of a show. A design limit in the spirit of the published
 * exposure standards, and no certificate of any.
 */
export interface LaserLimits {
  /** Never lit, and never gone through. */
  readonly keepOuts: readonly Polygon[];
  readonly zones: readonly LaserZone[];
  /** How near to a keep-out the beam may come: mirrors overshoot. Of the field, whose half is 1. */
  readonly margin: number;
  /** Of everything, 0 to 1. */
  readonly most: number;
  /** A frame whose lit part is smaller than this in both directions is dark. Of the field. */
  readonly leastSize: number;
  /** A beam that moves more slowly than this, over half a millisecond, is dark. Of the field, a second. */
  readonly leastSpeed: number;
  /** Most energy on any spot: full brightness for so long, within {@link doseMs}. */
  readonly dose: Milliseconds;
  readonly doseMs: Milliseconds;
  readonly pointsPerSecond: Hz;
}
/** Where nothing was set: half the brightness, the lower third of the field kept out, nothing that stands. */
export const USUAL_LIMITS: LaserLimits = {
  keepOuts: [[-1, -1, 1, -1, 1, -0.4, -1, -0.4]],
  zones: [],
  margin: 0.02,
  most: 0.5,
  leastSize: 0.1,
  leastSpeed: 12,
  dose: 4,
  doseMs: 250,
  pointsPerSecond: 30000,
};

const polygon = Joi.array()
  .items(Joi.number().min(-1).max(1).required())
  .min(6)
  .max(2 * CORNERS_MOST)
  .custom((list: number[], { error }) => (list.length % 2 === 0 ? list : error('any.invalid')));
export const limitsSchema = Joi.object({
  keepOuts: Joi.array().max(32).items(polygon).required(),
  zones: Joi.array()
    .max(32)
    .items(Joi.object({ polygon: polygon.required(), most: Joi.number().min(0).max(1).required() }))
    .required(),
  margin: Joi.number().min(0).max(0.5).required(),
  most: Joi.number().min(0).max(1).required(),
  leastSize: Joi.number().min(0.02).max(2).required(),
  leastSpeed: Joi.number().min(2).max(1000).required(),
  dose: Joi.number().min(0.05).max(50).required(),
  doseMs: Joi.number().min(50).max(2000).required(),
  pointsPerSecond: Joi.number().integer().min(RATE_LEAST).max(RATE_MOST).required(),
});

/** Reads limits from anywhere. @returns them, or what is wrong, in words that say the range */
export function readLimits(
  raw: unknown,
): { readonly limits: LaserLimits; readonly why: null } | { readonly limits: null; readonly why: string } {
  const { error, value } = limitsSchema.validate(raw, { convert: false });
  if (error || value === undefined)
    return { limits: null, why: `The laser’s limits cannot be used: ${error?.message ?? 'there are none'}.` };
  return { limits: value as LaserLimits, why: null };
}
