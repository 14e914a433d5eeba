import Joi from 'joi';
import { ANCHORS } from '../figures/anchors';
import { COVER_ROOM_MOST } from '../figures/cover';
import { SAVINGS } from '../figures/governor';
import { SURFACE_LEAST, SURFACE_MOST } from '../overlays/kinds';
import { LIES, SCREEN_DELAY_MOST, SCREEN_TURNS } from '../screens/screen';
import { figureForm, finishForm } from './formSchema';
import { DELAY_MOST } from '../outlets';
import { LIMITS } from './limits';
import { CAMERA_ID } from './types';
import {
  id,
  name,
  media,
  thingFields,
  share,
  flag,
  twin,
  surface,
  blend,
  pixels,
  corner,
  colour,
  ramp,
  place,
} from './schemaParts';

/** What is drawn: figures and what is done with them, screens, overlays. Each list as a show's document has it. */
export const drawnLists = {
  figures: Joi.array()
    .max(LIMITS.figures)
    .items(
      Joi.object({
        ...thingFields,
        form: figureForm,
        at: place.required(),
        hidden: flag,
        locked: flag,
        group: Joi.string().max(64).allow(null).required(),
        surface,
        anchor: Joi.valid(...ANCHORS),
        ramp,
        cover: Joi.number().min(0).max(COVER_ROOM_MOST).allow(null),
        blend,
        twin,
      }),
    )
    .required(),
  figureGroups: Joi.array()
    .max(LIMITS.figureGroups)
    .items(
      Joi.object({ ...thingFields, hidden: flag, locked: flag, surface, pivot: place.allow(null), blend }),
    )
    .required(),
  finishes: Joi.array()
    .max(LIMITS.finishes)
    .items(
      Joi.object({ ...thingFields, form: finishForm, on: Joi.string().max(64).required(), off: flag, ramp }),
    )
    .required(),
  camera: Joi.object({ ...thingFields, id: Joi.valid(CAMERA_ID).required() }).required(),
  screens: Joi.array()
    .max(LIMITS.screens)
    .items(
      Joi.object({
        id,
        name,
        width: pixels,
        height: pixels,
        crop: Joi.object({
          left: share.required(),
          bottom: share.required(),
          right: share.greater(Joi.ref('left')).required(),
          top: share.greater(Joi.ref('bottom')).required(),
        }).required(),
        turn: Joi.valid(...SCREEN_TURNS).required(),
        corners: Joi.array().ordered(corner, corner, corner, corner).required(),
        delayMs: Joi.number().min(0).max(SCREEN_DELAY_MOST).required(),
        lies: Joi.valid(...LIES),
        lagMs: Joi.number().min(0).max(5000),
      }),
    )
    .required(),
  flashLimit: Joi.number().min(1).max(30).allow(null).required(),
  budget: Joi.object({
    on: flag,
    framesPerSecond: Joi.number().min(5).max(240).required(),
    order: Joi.array()
      .length(SAVINGS.length)
      .unique()
      .items(Joi.valid(...SAVINGS))
      .required(),
    leastResolution: Joi.number().min(0.1).max(1).required(),
    leastCounts: share.required(),
  }).required(),
  overlays: Joi.array()
    .max(LIMITS.overlays)
    .items(
      Joi.object({
        ...thingFields,
        width: Joi.number().integer().min(SURFACE_LEAST).max(SURFACE_MOST).required(),
        height: Joi.number().integer().min(SURFACE_LEAST).max(SURFACE_MOST).required(),
        ground: colour.allow(null).required(),
        still: media.allow(null).required(),
        lagMs: Joi.number().min(0).max(5000),
        delayMs: Joi.number().min(0).max(DELAY_MOST),
      }),
    )
    .required(),
};
