import Joi from 'joi';
import { CELLS_MOST, CHANNEL_USES, EMITTERS, UNIVERSE_SIZE } from './kind';

const byte = Joi.number().integer().min(0).max(255);
const span = Joi.object({
  from: Joi.number().min(-3600).max(3600).required(),
  to: Joi.number().min(-3600).max(3600).required(),
});
const slots = Joi.array()
  .max(64)
  .items(
    Joi.object({
      name: Joi.string().max(120).required(),
      ink: Joi.string().pattern(/^#[0-9a-f]{6}$/i),
      at: byte.required(),
    }),
  )
  .required();
const light = Joi.array().length(3).items(Joi.number().min(-2).max(4));

/** A kind of lamp as it stands in a show. */
export const kindSchema = Joi.object({
  id: Joi.string().max(64).required(),
  label: Joi.string().max(200).required(),
  channels: Joi.array()
    .min(1)
    .max(UNIVERSE_SIZE)
    .items(
      Joi.object({
        use: Joi.valid(...CHANNEL_USES).required(),
        at: Joi.number().integer().min(0).less(UNIVERSE_SIZE).required(),
        fine: Joi.number().integer().min(0).less(UNIVERSE_SIZE),
        cell: Joi.number().integer().min(0).less(CELLS_MOST),
        value: byte,
      }),
    )
    .required(),
  footprint: Joi.number().integer().min(1).max(UNIVERSE_SIZE).required(),
  columns: Joi.number().integer().min(1).max(CELLS_MOST).required(),
  rows: Joi.number().integer().min(1).max(CELLS_MOST).required(),
  pan: span.allow(null).required(),
  tilt: span.allow(null).required(),
  zoom: span.allow(null).required(),
  beam: Joi.number().min(0).max(180).required(),
  colours: slots,
  gobos: slots,
  shutter: Joi.object({
    open: byte.required(),
    closed: byte.allow(null).required(),
    strobe: Joi.object({
      from: byte.required(),
      to: byte.required(),
      slow: Joi.number().min(0).max(100).required(),
      quick: Joi.number().min(0).max(100).required(),
    })
      .allow(null)
      .required(),
  })
    .allow(null)
    .required(),
  emitters: Joi.object(Object.fromEntries(EMITTERS.map((e) => [e, light])))
    .allow(null)
    .required(),
  flashes: Joi.boolean().required(),
});
