import Joi from 'joi';
import { FRAME_POINTS_MOST } from './frames';
import { LASER_COUNTS, LASER_TEXT_MOST } from './kinds';

const count = (key: keyof typeof LASER_COUNTS): Joi.NumberSchema => {
  const [least, most] = LASER_COUNTS[key];
  return Joi.number().integer().min(least).max(most).required();
};
const kind = (name: string): Joi.StringSchema => Joi.string().valid(name).required();
const fileName = Joi.string().max(200).required();
const place = Joi.number().min(-1.001).max(1.001).required();

/** Checks what a laser draws, as a show carries it. */
export const laserForm = Joi.alternatives(
  Joi.object({ kind: kind('ring') }),
  Joi.object({ kind: kind('polygon'), corners: count('corners'), star: Joi.boolean().required() }),
  Joi.object({ kind: kind('wave'), points: count('points') }),
  Joi.object({ kind: kind('fan'), beams: count('beams') }),
  Joi.object({ kind: kind('grid'), across: count('lines'), up: count('lines') }),
  Joi.object({ kind: kind('tunnel'), rings: count('rings') }),
  Joi.object({ kind: kind('text'), text: Joi.string().allow('').max(LASER_TEXT_MOST).required() }),
  Joi.object({
    kind: kind('drawing'),
    strokes: Joi.array()
      .min(1)
      .max(400)
      .items(Joi.array().min(4).max(8000).items(place))
      .custom((runs: number[][], { error }) =>
        runs.every((r) => r.length % 2 === 0) && runs.reduce((n, r) => n + r.length, 0) <= 8000
          ? runs
          : error('any.invalid'),
      )
      .required(),
    fileName,
  }),
  Joi.object({ kind: kind('points'), count: count('dots') }),
  Joi.object({
    kind: kind('frames'),
    frames: Joi.object({
      counts: Joi.array()
        .min(1)
        .max(2000)
        .items(Joi.number().integer().min(0).max(65535).required())
        .required(),
      data: Joi.string()
        .base64()
        .allow('')
        .max(Math.ceil((FRAME_POINTS_MOST * 7) / 3) * 4 + 4)
        .required(),
    }).required(),
    fileName,
  }),
  Joi.object({ kind: kind('figure'), of: Joi.string().max(64).allow('').required() }),
).required();
