import Joi from 'joi';
import { BUILT_IN, footprintOf } from '../lights/builtin';
import { RAMP_MOST } from '../parameters/ramp';
import { acceptsValue } from '../parameters/description';
import { LEAD_MOST } from './leads';
import { LIMITS, tooMuch } from './limits';
import { findParameter, listsOf, thingsOf } from './things';
import { upgrade, UpgradeError } from './upgrade';
import { COMBINES, EMPTY_STAGE, SHOW_FORMAT, SHOW_VERSION, type Memory, type Show } from './types';
import { making } from './schemaMaking';
import { id, name, value, share, flag, shaping, colour } from './schemaParts';
import { drawnLists } from './schemaDrawn';
import { drivenLists } from './schemaDriven';
import { heardLists } from './schemaHeard';
import { nightLists, stageSchema } from './schemaNight';

const showSchema = Joi.object({
  format: Joi.valid(SHOW_FORMAT).required(),
  version: Joi.valid(SHOW_VERSION).required(),
  id,
  name,
  tempo: Joi.object({
    source: Joi.valid('found', 'typed', 'tapped', 'known', 'midi').required(),
    bpm: Joi.number().min(20).max(400).required(),
    beatsPerBar: Joi.number().integer().min(1).max(16).required(),
    anchor: Joi.number().required(),
    input: Joi.string().max(64).allow(null).required(),
    multiple: Joi.valid(0.25, 0.5, 1, 2, 4).required(),
  }).required(),
  ...heardLists,
  makers: Joi.array().max(LIMITS.makers).items(Joi.object({ id, name, making })).required(),
  routes: Joi.array()
    .max(LIMITS.routes)
    .items(
      Joi.object({
        id,
        signal: Joi.string().max(80).required(),
        target: Joi.object({
          thing: Joi.string().max(64).required(),
          parameter: Joi.string().max(40).required(),
        }).required(),
        muted: flag,
        soloed: flag,
        bypassed: flag,
        combine: Joi.valid(...COMBINES).required(),
        group: Joi.string().max(64).allow(null).required(),
        amountBy: Joi.string().max(80).allow(null).required(),
        leadMs: Joi.number().min(0).max(LEAD_MOST),
        unseen: Joi.object({ of: Joi.string().max(64).allow(null).required() })
          .allow(null)
          .required(),
        shaping,
        reach: value.required(),
      }),
    )
    .required(),
  ...drawnLists,
  ...drivenLists,
  groups: Joi.array()
    .max(LIMITS.groups)
    .items(Joi.object({ id, name, muted: flag, soloed: flag, bypassed: flag, folded: flag }))
    .required(),
  ramps: Joi.array()
    .max(LIMITS.ramps)
    .items(
      Joi.object({
        id,
        name,
        stops: Joi.array()
          .min(1)
          .max(RAMP_MOST)
          .items(Joi.object({ at: share.required(), ink: colour.required() }))
          .required(),
      }),
    )
    .required(),
  shapes: Joi.array().max(LIMITS.shapes).items(Joi.object({ id, name, shaping })).required(),
  ...nightLists,
});

const memorySchema = Joi.object({
  fits: Joi.object()
    .pattern(
      Joi.string().max(64),
      Joi.object({ low: Joi.number().required(), high: Joi.number().greater(Joi.ref('low')).required() }),
    )
    .required(),
  hands: Joi.object()
    .pattern(Joi.string().max(120), Joi.array().min(1).max(3).items(Joi.number()))
    .default({}),
  makers: Joi.object().pattern(Joi.string().max(64), Joi.array().max(8).items(Joi.number())).default({}),
  stage: stageSchema.default(EMPTY_STAGE),
  dark: Joi.boolean().required(),
  freeze: Joi.boolean().required(),
  position: Joi.number().min(0).required(),
  playing: Joi.boolean().required(),
});

/** The document cannot be used; the message says what is wrong and where. */
export class ShowError extends Error {
  override readonly name = 'ShowError';
}

/**
 * Takes in a show from outside: upgrades an older one, then checks every field, every id and every end.
 * @throws ShowError naming the first thing that is wrong; nothing is changed by then
 */
export function parseShow(raw: unknown): Show {
  let current: unknown;
  try {
    current = upgrade(raw);
  } catch (cause) {
    throw new ShowError(cause instanceof UpgradeError ? cause.message : 'This is not a Batucada show.', {
      cause,
    });
  }
  const { error, value: clean } = showSchema.validate(current, { abortEarly: true, convert: false });
  // Too much is not damaged: it is said as what it is.
  const large =
    error?.details[0]?.type === 'array.max' ? tooLarge(current) : error ? null : tooMuch(clean as Show);
  if (large) throw new ShowError(large, { cause: error });
  if (error) throw new ShowError(`This show is damaged: ${shortly(error.message)}.`, { cause: error });
  const show = clean as Show;
  checkIds(show);
  checkValues(show);
  return show;
}

/** What is wrong may be long: a refusal is read by people. */
const shortly = (text: string): string => (text.length > 200 ? `${text.slice(0, 140)} …` : text);

/** Says what a show has too many of, though it was not checked any further. */
function tooLarge(raw: unknown): string | null {
  const lists = raw as Record<keyof typeof LIMITS, unknown>;
  return (Object.keys(LIMITS) as (keyof typeof LIMITS)[]).every((k) => Array.isArray(lists[k]))
    ? tooMuch({ ...(raw as Show), ears: (raw as Show).ears.length > LIMITS.ears ? (raw as Show).ears : [] })
    : null;
}

/** A memory from outside, or null when it is missing or damaged: a show plays without one. */
export function parseMemory(raw: unknown): Memory | null {
  const { error, value: clean } = memorySchema.validate(raw, { convert: false });
  return error || clean === undefined ? null : (clean as Memory);
}

function checkIds(show: Show): void {
  const seen = new Set<string>();
  for (const list of listsOf(show)) {
    for (const { id: one } of list) {
      if (seen.has(one)) throw new ShowError(`This show is damaged: the id "${one}" is used twice.`);
      seen.add(one);
    }
  }
}

/** Rests and reaches must suit their parameter. An end that is missing is allowed: such a route is kept and shown. */
function checkValues(show: Show): void {
  for (const thing of thingsOf(show)) {
    for (const [key, rest] of Object.entries(thing.rest)) {
      const parameter = thing.parameters.find((p) => p.id === key);
      if (!parameter) throw new ShowError(`This show is damaged: "${thing.name}" has no parameter "${key}".`);
      if (!acceptsValue(parameter, rest))
        throw new ShowError(
          `This show is damaged: "${thing.name} · ${parameter.label}" cannot rest at ${shortly(String(rest))}.`,
        );
    }
  }
  for (const route of show.routes) {
    const end = findParameter(show, route.target);
    if (end && !acceptsValue(end.parameter, route.reach))
      throw new ShowError(
        `This show is damaged: a route takes "${end.thing.name} · ${end.parameter.label}" to ${shortly(String(route.reach))}.`,
      );
  }
  for (const drawn of [...show.figures, ...show.figureGroups])
    if (drawn.surface !== undefined && !show.overlays.some((o) => o.id === drawn.surface))
      throw new ShowError(`This show is damaged: the overlay that "${drawn.name}" is drawn on is not in it.`);
  for (const fixture of show.fixtures) {
    if (!BUILT_IN.some(([mode]) => mode === fixture.mode) && !show.kinds.some((k) => k.id === fixture.mode))
      throw new ShowError(`This show is damaged: the kind of "${fixture.name}" is not in it.`);
    if (fixture.address + footprintOf(fixture, show.kinds) - 1 > 512)
      throw new ShowError(
        `This show is damaged: "${fixture.name}" does not fit into its universe at address ${fixture.address}.`,
      );
  }
}
