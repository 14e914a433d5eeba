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
import { ANCHORS } from '../figures/anchors';
import { COVER_ROOM_MOST } from '../figures/cover';
import { SAVINGS } from '../figures/governor';
import { SURFACE_LEAST, SURFACE_MOST } from '../overlays/kinds';
import { LIES, SCREEN_DELAY_MOST, SCREEN_TURNS } from '../screens/screen';
import { figureForm, finishForm } from './formSchema';
import { DIMMER_CURVES } from '../lights/curve';
import { BUILT_IN, footprintOf } from '../lights/builtin';
import { kindSchema } from '../lights/kindSchema';
import { MERGES } from '../lights/foreign';
import { ROW_ORDERS } from '../lights/rowOver';
import { DELAY_MOST, LAMP_PROTOCOLS } from '../outlets';
import { laserForm } from '../laser/formSchema';
import { BUNDLE_AFTER_MOST, isOscAddress, OSC_TYPES } from '../messages';
import { messageTarget, wireTarget } from '../protocols/wireFields';
import { RAMP_MOST } from '../parameters/ramp';
import { acceptsValue } from '../parameters/description';
import { LEAD_MOST } from './leads';
import { LIMITS, tooMuch } from './limits';
import { findParameter, listsOf, thingsOf } from './things';
import { upgrade, UpgradeError } from './upgrade';
import {
  CAMERA_ID,
  COMBINES,
  EMPTY_STAGE,
  SHOW_FORMAT,
  PHONE_SIZES,
  SHOW_VERSION,
  WAVES,
  type Memory,
  type Show,
} from './types';
import { making } from './schemaMaking';
import {
  id,
  name,
  db,
  hz,
  value,
  media,
  thingFields,
  input,
  range,
  weighting,
  share,
  endOrNone,
  leftOut,
  fade,
  flag,
  shaping,
  noteKey,
  nth,
  keyTouch,
  gripPage,
  deed,
  phoneDeed,
  touch,
  twin,
  surface,
  blend,
  pixels,
  corner,
  colour,
  ramp,
  place,
  universe,
  cells,
  metres,
  length,
  point,
  degrees,
  span,
  midiForm,
} from './schemaParts';

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
  flashLimit: Joi.number().min(3).max(30).allow(null).required(),
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
});

const stageSchema = Joi.object({
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
