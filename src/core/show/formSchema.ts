import Joi from 'joi';
import { ANCHORS } from '../figures/anchors';
import { EDGE_BULGES, EDGE_DRAWING_MOST, EDGE_OUTLINES, EDGE_WAYS } from '../figures/edge';
import { LETTERS_ALIGNED, LETTERS_TEXT_MOST } from '../figures/surfaceKinds';
import { SURFACE_MOST } from '../overlays/kinds';
import { APPEAR_WAYS } from '../finishes/kinds';
import {
  COPIES_MOST,
  COPY_SHAPES,
  COPY_WAYS,
  PARTICLES_MOST,
  PRINT_FORMS,
  SOLID_LOOKS,
  SOLID_SHAPES,
  TEXT_FACES,
  TEXTURE_PATTERNS,
} from '../figures/kinds';
import { FINISH_KINDS, MIRROR_WAYS } from '../finishes/kinds';

/** What the fixed settings of figures and finishes may be. */

const flag = Joi.boolean().required();
const media = Joi.string()
  .pattern(/^[0-9a-f]{64}$/)
  .allow(null)
  .required();
const fileName = Joi.string().allow('').max(200).required();
const figureId = Joi.string().max(64).allow(null).required();
const of = <T extends readonly unknown[]>(list: T): Joi.Schema => Joi.valid(...list).required();
const whole = (least: number, most: number): Joi.Schema =>
  Joi.number().integer().min(least).max(most).required();
const kind = (name: string, settings: Joi.SchemaMap = {}): Joi.ObjectSchema =>
  Joi.object({ kind: Joi.valid(name).required(), ...settings });
const look = { look: of(SOLID_LOOKS), anchor: of(ANCHORS) },
  flips = { flipX: flag, flipY: flag, aspect: Joi.number().min(0.01).max(100) };

export const figureForm = Joi.alternatives(
  kind('ground'),
  kind('print', { form: of(PRINT_FORMS) }),
  kind('waves', { rows: whole(1, 24) }),
  kind('lanterns', { count: whole(1, 200), width: Joi.number().min(10).max(4000).required() }),
  kind('stars', { count: whole(1, 500) }),
  kind('dial', { marks: whole(2, 61) }),
  kind('meter', { segments: whole(1, 200), upright: flag }),
  kind('solid', { shape: of(SOLID_SHAPES), ...look }),
  kind('model', { media, fileName, ...look }),
  kind('copies', {
    shape: of(COPY_SHAPES),
    count: whole(1, COPIES_MOST),
    along: of(COPY_WAYS),
    of: figureId,
    fromMiddle: flag,
  }),
  kind('light'),
  kind('emitter', {
    shape: Joi.valid(...COPY_SHAPES, 'picture').required(),
    media,
    fileName,
    most: whole(1, PARTICLES_MOST),
  }),
  kind('trace'),
  kind('bars', { count: whole(1, 512), bothWays: flag }),
  kind('waveform', { round: flag }),
  kind('spectrogram', { seconds: Joi.number().min(1).max(60).required() }),
  kind('image', { media, fileName, ...flips }),
  kind('video', { media, fileName, ...flips }),
  kind('camera', {
    deviceId: Joi.string().allow('').max(200).required(),
    deviceName: Joi.string().allow('').max(200).required(),
    ...flips,
  }),
  kind('texture', { pattern: of(TEXTURE_PATTERNS), whole: flag }),
  kind('text', { text: Joi.string().allow('').max(2000).required(), face: of(TEXT_FACES) }),
  kind('edge', {
    outline: of(EDGE_OUTLINES),
    width: Joi.number().min(4).max(SURFACE_MOST).required(),
    height: Joi.number().min(4).max(SURFACE_MOST).required(),
    corner: Joi.number().min(0).max(SURFACE_MOST).required(),
    drawing: Joi.array()
      .max(2 * EDGE_DRAWING_MOST)
      .items(Joi.number().min(-1).max(1))
      .required(),
    way: of(EDGE_WAYS),
    bulge: of(EDGE_BULGES),
    cuts: flag,
    line: flag,
  }),
  kind('letters', {
    text: Joi.string().allow('').max(LETTERS_TEXT_MOST).required(),
    of: figureId,
    face: of(TEXT_FACES),
    wide: Joi.number().min(0).max(SURFACE_MOST).required(),
    align: of(LETTERS_ALIGNED),
    outline: Joi.number().min(0).max(20).required(),
  }),
  kind('switch', { of: Joi.array().max(64).items(Joi.string().max(64)).required() }),
).required();

const SETTINGS: Readonly<Record<string, Joi.SchemaMap>> = {
  shove: { by: figureId },
  mirror: { way: of(MIRROR_WAYS) },
  appear: { way: of(APPEAR_WAYS) },
  mask: { by: figureId, inverted: flag },
};
export const finishForm = Joi.alternatives(...FINISH_KINDS.map((k) => kind(k, SETTINGS[k]))).required();
