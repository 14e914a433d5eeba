import Joi from 'joi';
import { BAND_SETS } from '../ears/bandSet';
import {
  BAND_READINGS,
  BEAT_READINGS,
  CHORD_MOST,
  HIT_KINDS,
  LEVEL_READINGS,
  NOTE_READINGS,
  NOTE_BEGINS_READINGS,
  PHRASES,
  PITCH_READINGS,
  STRUCTURE_READINGS,
} from '../ears/listening';
import { POINTS_LEAST, POINTS_MOST } from '../ears/vector';
import { CHANNELS } from '../hearing/hearing';
import { TRACKS } from '../notes/noteState';
import { LIMITS } from './limits';
import { WAVES } from './types';
import { id, name, db, hz, media, input, range, weighting, noteKey, nth } from './schemaParts';

/** What is heard: inputs, and ears on them. Each list as a show's document has it. */
export const heardLists = {
  inputs: Joi.array()
    .max(LIMITS.inputs)
    .items(
      Joi.alternatives(
        Joi.object({
          ...input,
          kind: Joi.valid('files').required(),
          loop: Joi.boolean().required(),
          part: Joi.object({
            from: Joi.number().min(0).required(),
            to: Joi.number().greater(Joi.ref('from')).required(),
          })
            .allow(null)
            .required(),
          stems: Joi.array()
            .min(1)
            .max(32)
            .items(Joi.object({ name, media: media.required(), gainDb: db }))
            .required(),
        }),
        Joi.object({
          ...input,
          kind: Joi.valid('device').required(),
          deviceId: Joi.string().allow('').max(200).required(),
          deviceName: Joi.string().allow('').max(200).required(),
        }),
        Joi.object({ ...input, kind: Joi.valid('tab').required() }),
        Joi.object({
          ...input,
          kind: Joi.valid('tone').required(),
          wave: Joi.valid(...WAVES).required(),
          hz,
          db,
        }),
        Joi.object({
          ...input,
          kind: Joi.valid('notes').required(),
          from: Joi.alternatives(
            Joi.object({
              kind: Joi.valid('file').required(),
              media: media.required(),
              fileName: name,
              loop: Joi.boolean().required(),
              beside: Joi.string().max(64).allow(null).required(),
            }),
            Joi.object({
              kind: Joi.valid('midi').required(),
              deviceId: Joi.string().allow('').max(200).required(),
              deviceName: Joi.string().allow('').max(200).required(),
            }),
          ).required(),
        }),
        Joi.object({
          ...input,
          kind: Joi.valid('mix').required(),
          parts: Joi.array()
            .max(16)
            .items(
              Joi.object({
                input: Joi.string().max(64).required(),
                gainDb: db,
                channel: Joi.valid(...CHANNELS).required(),
              }),
            )
            .required(),
        }),
      ),
    )
    .required(),
  ears: Joi.array()
    .max(LIMITS.ears)
    .items(
      Joi.object({
        id,
        name,
        input: Joi.string().max(64).required(),
        channel: Joi.valid(...CHANNELS).required(),
        stem: media.allow(null),
        listening: Joi.alternatives(
          Joi.object({
            kind: Joi.valid('level').required(),
            reading: Joi.valid(...LEVEL_READINGS).required(),
          }),
          Joi.object({
            kind: Joi.valid('band').required(),
            ...range,
            reading: Joi.valid(...BAND_READINGS).required(),
            weighting,
            gainDb: db,
          }),
          Joi.object({
            kind: Joi.valid('bands').required(),
            set: Joi.valid(...BAND_SETS).required(),
            crossovers: Joi.array().max(4).items(hz.optional()).required(),
            weighting,
            gainsDb: Joi.array().max(40).items(db.optional()).required(),
          }),
          Joi.object({
            kind: Joi.valid('hit').required(),
            what: Joi.valid(...HIT_KINDS).required(),
            ...range,
            sensitivity: Joi.number().min(0).max(1).required(),
            holdOffMs: Joi.number().min(10).max(5000).required(),
            nth,
          }),
          Joi.object({
            kind: Joi.valid('pitch').required(),
            reading: Joi.valid(...PITCH_READINGS).required(),
          }),
          Joi.object({
            kind: Joi.valid('noteBegins').required(),
            reading: Joi.valid(...NOTE_BEGINS_READINGS).required(),
            nth,
          }),
          Joi.object({ kind: Joi.valid('brightness').required() }),
          Joi.object({
            kind: Joi.valid('presence').required(),
            what: Joi.valid('sound', 'speech').required(),
          }),
          Joi.object({
            kind: Joi.valid('beat').required(),
            reading: Joi.valid(...BEAT_READINGS).required(),
            multiple: Joi.valid(0.25, 0.5, 1, 2, 4).required(),
            nth,
          }),
          Joi.object({
            kind: Joi.valid('structure').required(),
            reading: Joi.valid(...STRUCTURE_READINGS).required(),
            bars: Joi.valid(...PHRASES).required(),
            nth,
          }),
          Joi.object({
            kind: Joi.valid('vector').required(),
            of: Joi.valid('spectrum', 'waveform').required(),
            scale: Joi.valid('linear', 'log', 'mel').required(),
            points: Joi.number().integer().min(POINTS_LEAST).max(POINTS_MOST).required(),
          }),
          Joi.object({
            kind: Joi.valid('notes').required(),
            channels: Joi.array().max(16).items(Joi.number().integer().min(1).max(16)).required(),
            tracks: Joi.array().max(TRACKS).items(Joi.number().integer().min(1).max(TRACKS)).required(),
            reading: Joi.valid(...NOTE_READINGS).required(),
            low: noteKey,
            high: noteKey.min(Joi.ref('low')),
            keys: Joi.array().min(1).max(CHORD_MOST).items(noteKey),
            nth,
          }),
        ).required(),
      }),
    )
    .required(),
};
