import Joi from 'joi';
import { TOUCH_MESSAGES } from '../makers/making';
import { NTH_MOST } from '../nth';
import { BLENDS } from '../finishes/kinds';
import { SCREEN_LEAST, SCREEN_MOST } from '../screens/screen';
import { CELLS_MOST, UNIVERSE_MAX } from '../lights/kind';
import { ROOM_MOST } from '../lights/room';
import { MIDI_SAYS } from '../messages';
import { RAMP_MOST } from '../parameters/ramp';
import { CURVE_POINTS_MOST, LONGEST_MS } from '../shaping/steps';
import { FADE_FROM, LOOK_PARTS, GRIP_PAGES, type Deed } from './types';

/** What several parts of a show's document are made of, as they are checked. */

export const id = Joi.string()
  .pattern(/^[a-z0-9][a-z0-9-]{0,63}$/i)
  .required();
export const name = Joi.string().trim().min(1).max(80).required();
export const db = Joi.number().min(-60).max(24).required();
export const hz = Joi.number().min(1).max(24000).required();
export const value = Joi.alternatives(Joi.number(), Joi.string().pattern(/^#[0-9a-f]{6}$/i));
export const ms = Joi.number().min(0).max(60000).required();
export const media = Joi.string().pattern(/^[0-9a-f]{64}$/);
export const thingFields = { id, name, rest: Joi.object().pattern(Joi.string().max(40), value).required() };

export const input = {
  id,
  name,
  trimDb: db,
  autoGain: Joi.boolean().required(),
  delayMs: Joi.number().min(0).max(2000).required(),
  monitor: Joi.object({ on: Joi.boolean().required(), db }).required(),
};
export const range = { low: hz, high: Joi.number().greater(Joi.ref('low')).max(24000).required() };
export const weighting = Joi.alternatives(
  Joi.object({ kind: Joi.valid('flat', 'A', 'C').required() }),
  Joi.object({ kind: Joi.valid('tilt').required(), dbPerOctave: Joi.number().min(-12).max(12).required() }),
).required();
export const fit = Joi.alternatives(
  Joi.object({
    mode: Joi.valid('heard', 'hand').required(),
    low: Joi.number().required(),
    high: Joi.number().greater(Joi.ref('low')).required(),
  }),
  Joi.object({
    mode: Joi.valid('coming').required(),
    forgetS: Joi.number().min(0.1).max(3600).required(),
    mostDb: Joi.number().min(0).max(96),
  }),
);

export const share = Joi.number().min(0).max(1);
/** The id of something that may be gone, or none. */
export const endOrNone = Joi.string().max(64).allow(null).required();
export const leftOut = Joi.array()
  .items(Joi.valid(...LOOK_PARTS))
  .unique()
  .required();
export const fade = Joi.object({
  unit: Joi.valid('seconds', 'bars').required(),
  length: Joi.number().min(0).max(3600).required(),
  from: Joi.valid(...FADE_FROM).required(),
});
export const flag = Joi.boolean().required();
const curvePoints = Joi.array()
  .min(2)
  .max(CURVE_POINTS_MOST)
  .items(Joi.array().ordered(share.required(), share.required()))
  .required()
  .custom((points: [number, number][], helpers) =>
    points.every(([x], i) => i === 0 || x > points[i - 1]![0]) ? points : helpers.error('any.invalid'),
  );
const looking = Joi.number().min(0).max(LONGEST_MS).required();
export const shaping = Joi.object({
  strike: Joi.object({ holdMs: ms, fallMs: ms, onOff: Joi.valid(true) }),
  floor: Joi.object({ at: Joi.number().min(0).max(1000).required() }),
  fit,
  clamp: Joi.object({ low: Joi.number().required(), high: Joi.number().greater(Joi.ref('low')).required() }),
  flip: Joi.valid(true),
  curve: Joi.object({ points: curvePoints }),
  hold: Joi.object({ ms }),
  smooth: Joi.object({ attackMs: ms, releaseMs: ms }),
  steady: Joi.object({ restMs: ms, quick: Joi.number().min(0).max(100).required() }),
  average: Joi.object({ ms: looking }),
  steps: Joi.alternatives(
    Joi.object({
      by: Joi.valid('count').required(),
      count: Joi.number().integer().min(1).max(1000).required(),
    }),
    Joi.object({ by: Joi.valid('size').required(), size: Joi.number().min(0.001).max(1).required() }),
  ),
  delay: Joi.object({ ms: looking }),
  amount: Joi.number().min(0).max(2).required(),
}).required();

export const noteKey = Joi.number().integer().min(0).max(127);
export const nth = Joi.object({
  every: Joi.number().integer().min(1).max(NTH_MOST).required(),
  from: Joi.number().integer().min(0).less(Joi.ref('every')).required(),
}).allow(null);
/** Two ends of a range. */
export const two = (most: number): Joi.ArraySchema => {
  const end = Joi.number().min(0).max(most).required();
  return Joi.array().ordered(end, end).required();
};
export const from = Joi.string().max(80).allow(null).required();
const midiNumber = Joi.number().integer().min(0).max(127).required();
export const keyTouch = Joi.object({
  by: Joi.valid('key').required(),
  key: Joi.string().length(1).required(),
});
const named = Joi.string().max(130).required();
export const gripPage = Joi.number().integer().min(1).max(GRIP_PAGES);
export const deed = Joi.alternatives(
  Joi.object({
    do: Joi.valid('go', 'back', 'home', 'dark', 'freeze', 'give back', 'bar now', 'tap').required(),
  }),
  Joi.object({ do: Joi.valid('look').required(), look: named }),
  Joi.object({ do: Joi.valid('cue').required(), cue: named }),
  Joi.object({ do: Joi.valid('master', 'flash', 'alone').required(), master: named }),
  Joi.object({ do: Joi.valid('hand').required(), thing: named, parameter: named }),
  Joi.object({ do: Joi.valid('page').required(), page: gripPage.allow('next', 'before').required() }),
).required();
/** Nothing that lasts as long as it is held. */
export const phoneDeed = deed.custom((given: Deed) => {
  if (given.do === 'flash' || given.do === 'alone' || given.do === 'page')
    throw new Error('a phone cannot have what lasts as long as it is held');
  return given;
});
export const touch = Joi.alternatives(
  Joi.object({
    by: Joi.valid('midi').required(),
    device: Joi.string().allow('').max(200).required(),
    message: Joi.valid(...TOUCH_MESSAGES).required(),
    channel: Joi.number().integer().min(1).max(16).required(),
    number: midiNumber,
  }),
  Joi.object({
    by: Joi.valid('osc').required(),
    address: Joi.string()
      .pattern(/^\/[^\s#*,?[\]{}]{0,120}$/)
      .required(),
    low: Joi.number().required(),
    high: Joi.number().invalid(Joi.ref('low')).required(),
  }),
)
  .allow(null)
  .required();
export const twin = Joi.object({ of: Joi.string().max(64).required(), mirrored: flag })
  .allow(null)
  .required();
export const surface = Joi.string().max(64);
export const blend = Joi.valid(...BLENDS).required();
export const pixels = Joi.number().integer().min(SCREEN_LEAST).max(SCREEN_MOST).required();
export const at = Joi.number().min(-1).max(2).required();
export const corner = Joi.array().ordered(at, at).required();

export const colour = Joi.string().pattern(/^#[0-9a-f]{6}$/i);
/** An ink is a colour, or a parameter by its id. */
export const ramp = Joi.array()
  .min(1)
  .max(RAMP_MOST)
  .items(
    Joi.object({
      at: share.required(),
      ink: Joi.alternatives(colour, Joi.string().pattern(/^[a-z]{1,20}$/i)).required(),
    }),
  )
  .allow(null);
/** In picture pixels; it may lie outside. */
export const place = Joi.object({
  x: Joi.number().min(-4000).max(4000).required(),
  y: Joi.number().min(-4000).max(4000).required(),
});

export const universe = Joi.number().integer().min(0).max(UNIVERSE_MAX).required();
export const cells = Joi.number().integer().min(1).max(CELLS_MOST).required();
export const metres = Joi.number().min(1).max(ROOM_MOST).required();
export const length = Joi.number().min(-ROOM_MOST).max(ROOM_MOST).required();
export const point = { x: length, y: length, z: length };
export const degrees = Joi.number().min(-3600).max(3600).required();
export const span = Joi.object({ from: degrees, to: degrees });
export const midiForm = Joi.object({
  kind: Joi.valid('midi').required(),
  device: Joi.string().max(200).required(),
  deviceName: Joi.string().max(200).required(),
  says: Joi.valid(...MIDI_SAYS).required(),
  channel: Joi.number().integer().min(1).max(16).required(),
  number: Joi.number().integer().min(0).max(127).required(),
  holdMs: Joi.number().min(1).max(60000).required(),
});
