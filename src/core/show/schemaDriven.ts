import Joi from 'joi';
import { DIMMER_CURVES } from '../lights/curve';
import { kindSchema } from '../lights/kindSchema';
import { MERGES } from '../lights/foreign';
import { ROW_ORDERS } from '../lights/rowOver';
import { DELAY_MOST, LAMP_PROTOCOLS } from '../outlets';
import { laserForm } from '../laser/formSchema';
import { BUNDLE_AFTER_MOST, isOscAddress, OSC_TYPES } from '../messages';
import { messageTarget, wireTarget } from '../protocols/wireFields';
import { LIMITS } from './limits';
import {
  id,
  name,
  thingFields,
  flag,
  twin,
  universe,
  cells,
  metres,
  length,
  point,
  degrees,
  span,
  midiForm,
} from './schemaParts';

/** What is driven: lamps and the wires they hang on, messages, lasers. Each list as a show's document has it. */
export const drivenLists = {
  fixtures: Joi.array()
    .max(LIMITS.fixtures)
    .items(
      Joi.object({
        ...thingFields,
        mode: Joi.string().max(64).required(),
        cells: Joi.object({ columns: cells, rows: cells }),
        curve: Joi.valid(...DIMMER_CURVES),
        order: Joi.valid(...ROW_ORDERS),
        at: Joi.object({ ...point, turn: degrees, hangs: flag }),
        aim: Joi.object({
          swap: Joi.boolean(),
          invertPan: Joi.boolean(),
          invertTilt: Joi.boolean(),
          pan: span,
          tilt: span,
          speed: Joi.number().min(1).max(2000),
        }),
        parked: Joi.array()
          .max(512)
          .unique('at')
          .items(
            Joi.object({
              at: Joi.number().integer().min(0).max(511).required(),
              value: Joi.number().integer().min(0).max(255).required(),
            }),
          ),
        group: Joi.string().max(120).allow(''),
        universe,
        address: Joi.number().integer().min(1).max(512).required(),
      }),
    )
    .required(),
  kinds: Joi.array().max(LIMITS.kinds).items(kindSchema).required(),
  room: Joi.object({
    width: metres,
    depth: metres,
    height: metres,
    sheet: Joi.object({
      left: length,
      right: length.greater(Joi.ref('left')),
      bottom: length,
      top: length.greater(Joi.ref('bottom')),
    }),
  }).required(),
  spots: Joi.array()
    .max(LIMITS.spots)
    .items(Joi.object({ id, name, ...point }))
    .required(),
  messages: Joi.array()
    .max(LIMITS.messages)
    .items(
      Joi.object({
        ...thingFields,
        form: Joi.alternatives(
          midiForm,
          Joi.object({
            kind: Joi.valid('osc').required(),
            target: messageTarget,
            address: Joi.string()
              .required()
              .custom((x: string, { error }) => (isOscAddress(x) ? x : error('any.invalid'))),
            type: Joi.valid(...OSC_TYPES).required(),
            low: Joi.number().min(-1e9).max(1e9).required(),
            high: Joi.number().min(-1e9).max(1e9).required(),
            bundle: Joi.object({
              afterMs: Joi.number().min(0).max(BUNDLE_AFTER_MOST).allow(null).required(),
            }),
          }),
        ).required(),
      }),
    )
    .required(),
  laserFigures: Joi.array()
    .max(LIMITS.laserFigures)
    .items(Joi.object({ ...thingFields, form: laserForm, off: flag, twin }))
    .required(),
  wires: Joi.array()
    .max(LIMITS.wires)
    .items(
      Joi.object({
        id,
        name,
        protocol: Joi.valid(...LAMP_PROTOCOLS).required(),
        universes: Joi.object({ from: universe, to: universe }).allow(null).required(),
        target: wireTarget,
        priority: Joi.number().integer().min(0).max(200).required(),
        sync: flag,
        lagMs: Joi.number().min(0).max(5000),
        delayMs: Joi.number().min(0).max(DELAY_MOST),
        rate: Joi.number().min(1).max(44).required(),
        keepAlive: Joi.number().min(200).max(4000).required(),
        safe: Joi.alternatives(
          Joi.object({ then: Joi.valid('hold').required() }),
          Joi.object({
            then: Joi.valid('rest', 'dark').required(),
            afterMs: Joi.number().min(0).max(600000).required(),
            overMs: Joi.number().min(0).max(60000).required(),
          }),
        ).required(),
      }),
    )
    .required(),
  merges: Joi.array()
    .max(LIMITS.merges)
    .unique('universe')
    .items(Joi.object({ universe, how: Joi.valid(...MERGES).required() }))
    .required(),
};
