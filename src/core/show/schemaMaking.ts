import Joi from 'joi';
import { CLOCK_READINGS, GATE_SHUT, LIST_ORDERS, PAIRINGS, WAVE_SHAPES, WAYS } from '../makers/making';
import { ms, share, flag, nth, two, from, touch } from './schemaParts';

const order = Joi.valid(...LIST_ORDERS).required();
/** How each maker is checked. */
export const making = Joi.alternatives(
  Joi.object({
    kind: Joi.valid('oscillator').required(),
    shape: Joi.valid(...WAVE_SHAPES).required(),
    every: Joi.alternatives(
      Joi.object({ unit: Joi.valid('hz').required(), value: Joi.number().min(0).max(50).required() }),
      Joi.object({
        unit: Joi.valid('beats').required(),
        value: Joi.number().min(0.0625).max(1024).required(),
      }),
    ).required(),
    phase: share.required(),
  }),
  Joi.object({
    kind: Joi.valid('random').required(),
    on: from,
    nth,
    choices: Joi.number().integer().min(2).max(1000).allow(null).required(),
  }),
  Joi.object({
    kind: Joi.valid('colours').required(),
    on: from,
    nth,
    palette: Joi.array()
      .min(1)
      .max(64)
      .items(Joi.string().pattern(/^#[0-9a-f]{6}$/i))
      .required(),
    order,
    chance: Joi.object({ hue: two(360), lightness: two(1), strength: two(1) }).allow(null),
  }),
  Joi.object({ kind: Joi.valid('flip').required(), on: from }),
  Joi.object({
    kind: Joi.valid('oneShot').required(),
    on: from,
    nth,
    attackMs: ms,
    holdMs: ms,
    releaseMs: ms,
  }),
  Joi.object({
    kind: Joi.valid('glide').required(),
    of: from,
    seconds: Joi.number().min(0).max(3600).required(),
  }),
  Joi.object({
    kind: Joi.valid('list').required(),
    on: from,
    nth,
    values: Joi.array().min(1).max(1000).items(Joi.number()).required(),
    order,
  }),
  Joi.object({
    kind: Joi.valid('crossing').required(),
    of: from,
    at: Joi.number().required(),
    back: Joi.number().min(0).required(),
    way: Joi.valid(...WAYS).required(),
    gives: Joi.valid('event', 'switch').required(),
  }),
  Joi.object({
    kind: Joi.valid('gate').required(),
    of: from,
    and: from,
    at: Joi.number().required(),
    back: Joi.number().min(0).required(),
    shut: Joi.valid(...GATE_SHUT).required(),
  }),
  Joi.object({
    kind: Joi.valid('pair').required(),
    of: from,
    and: from,
    makes: Joi.valid(...PAIRINGS).required(),
  }),
  Joi.object({ kind: Joi.valid('change').required(), of: from, by: Joi.number().greater(0).required() }),
  Joi.object({ kind: Joi.valid('slider').required(), touch }),
  Joi.object({
    kind: Joi.valid('button').required(),
    latching: flag,
    key: Joi.string()
      .pattern(/^[a-z]$/)
      .allow(null)
      .required(),
    touch,
  }),
  Joi.object({ kind: Joi.valid('clock').required(), reading: Joi.valid(...CLOCK_READINGS).required() }),
  Joi.object({
    kind: Joi.valid('prompter').required(),
    lines: Joi.array()
      .max(1000)
      .items(
        Joi.object({
          at: Joi.number().min(0).max(86400).required(),
          text: Joi.string().allow('').max(200).required(),
        }),
      )
      .required(),
  }),
).required();
