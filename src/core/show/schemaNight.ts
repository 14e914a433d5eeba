import Joi from 'joi';
import { LIMITS } from './limits';
import { PHONE_SIZES } from './types';
import {
  id,
  name,
  value,
  share,
  endOrNone,
  leftOut,
  fade,
  keyTouch,
  gripPage,
  deed,
  phoneDeed,
  touch,
} from './schemaParts';

/** What a night is played with: looks, cues, songs, grips, the phone’s page. Each list as a show's document has it. */
export const nightLists = {
  looks: Joi.array()
    .max(LIMITS.looks)
    .items(
      Joi.object({
        id,
        name,
        values: Joi.object().pattern(Joi.string().max(120), value).max(20000).required(),
        routes: Joi.object().pattern(Joi.string().max(64), Joi.number().min(0).max(2)).required(),
        key: Joi.string().length(1).allow(null).required(),
      }),
    )
    .required(),
  cues: Joi.array()
    .max(LIMITS.cues)
    .unique('number')
    .items(
      Joi.object({
        id,
        number: Joi.number().min(0.01).max(9999.99).required(),
        name,
        note: Joi.string().max(400).allow('').required(),
        look: endOrNone,
        leaveOut: leftOut,
        fade: fade.required(),
        delay: Joi.number().min(0).max(3600).required(),
        follow: Joi.alternatives(
          Joi.object({
            kind: Joi.valid('seconds', 'bars').required(),
            after: Joi.number().min(0).max(36000).required(),
          }),
          Joi.object({ kind: Joi.valid('event').required(), signal: Joi.string().max(80).required() }),
          Joi.object({
            kind: Joi.valid('time').required(),
            at: Joi.string()
              .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
              .required(),
          }),
        )
          .allow(null)
          .required(),
        song: endOrNone,
      }),
    )
    .required(),
  songs: Joi.array()
    .max(LIMITS.songs)
    .items(
      Joi.object({
        id,
        name,
        note: Joi.string().max(400).allow('').required(),
        bpm: Joi.number().min(20).max(400).allow(null).required(),
        inputs: Joi.array().max(LIMITS.inputs).items(Joi.string().max(64)).allow(null).required(),
      }),
    )
    .required(),
  home: endOrNone,
  darkOver: Joi.number().min(0).max(60).required(),
  freezeOver: Joi.number().min(0).max(60).required(),
  grips: Joi.array()
    .max(LIMITS.grips)
    .items(
      Joi.object({
        id,
        touch: Joi.alternatives(keyTouch, touch).invalid(null).required(),
        deed,
        page: gripPage.allow(null).required(),
        answers: Joi.boolean().required(),
      }),
    )
    .required(),
  phone: Joi.array()
    .max(LIMITS.phone)
    .items(Joi.object({ id, deed: phoneDeed, size: Joi.valid(...PHONE_SIZES).required() }))
    .required(),
};

/** Where a night stands. */
export const stageSchema = Joi.object({
  cue: endOrNone,
  next: endOrNone,
  look: endOrNone,
  leaveOut: leftOut,
  byHand: Joi.boolean().default(false),
  phase: Joi.valid('waits', 'fades', 'in').required(),
  delay: Joi.number().min(0).required(),
  fade: fade.allow(null).required(),
  seconds: Joi.number().min(0).required(),
  bars: Joi.number().min(0).required(),
  values: Joi.object()
    .pattern(Joi.string().max(120), Joi.array().min(1).max(3).items(Joi.number()))
    .required(),
  routes: Joi.object().pattern(Joi.string().max(64), Joi.number().min(0).max(2)).required(),
  masters: Joi.object().pattern(Joi.string().max(130), share).required(),
  page: gripPage.default(1),
});
