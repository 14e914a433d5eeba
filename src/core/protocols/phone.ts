import Joi from 'joi';
import { PHONE_SIZES, type PhoneDeed, type PhoneThing } from '../show/types';

/** What a phone's page and the bridge say to each other, in JSON. */

/** What a phone asks for: the next or the one before of the lamps to light up, or none. */
export type FromPhone =
  | { readonly type: 'step'; readonly by: 1 | -1 }
  | { readonly type: 'off' }
  /** Something is performed. */
  | { readonly type: 'act'; readonly act: PhonePerforms };
/** What of a night can be performed with a phone. */
export type PhonePerforms =
  | { readonly do: 'go' | 'back' | 'home' | 'tap' | 'give back' | 'bar now' }
  | { readonly do: 'dark' | 'freeze'; readonly on: boolean }
  | { readonly do: 'look'; readonly look: string }
  | { readonly do: 'cue'; readonly cue: string }
  | { readonly do: 'master'; readonly master: string; readonly value: number }
  | { readonly do: 'hand place'; readonly thing: string; readonly parameter: string; readonly place: number };
/** What a driver is told of phones. */
export type PhoneAct = FromPhone | { readonly type: 'gone' };

/** The lamp that is looked for. */
export interface SoughtLamp {
  readonly id: string;
  readonly name: string;
  /** What it is, and where it listens. */
  readonly words: string;
  /** Which of how many, from 1. */
  readonly place: number;
  readonly count: number;
}
/** What a phone shows of the night. */
export interface PhoneNight {
  readonly name: string;
  /** What is in; null: nothing. */
  readonly now: string | null;
  readonly things: readonly PhoneShown[];
}
/** A thing on a phone's page: what it is called, what it does, and how it stands. */
export interface PhoneShown {
  readonly id: string;
  readonly deed: PhoneDeed;
  readonly size: PhoneThing['size'];
  readonly label: string;
  /** What more there is to say of it; empty: nothing. */
  readonly note: string;
  /** Where a slider stands, 0 to 1; 1 for what is on. */
  readonly stands: number;
  /** Whether it can do anything now. */
  readonly able: boolean;
}
/** What a press of a thing performs, or a slider that is put somewhere. @param value - 0 to 1, of a slider */
export function phoneAct(
  { deed, stands }: Pick<PhoneShown, 'deed' | 'stands'>,
  value: number,
): PhonePerforms {
  switch (deed.do) {
    case 'dark':
    case 'freeze':
      return { do: deed.do, on: stands !== 1 };
    case 'master':
      return { ...deed, value };
    case 'hand':
      return { do: 'hand place', thing: deed.thing, parameter: deed.parameter, place: value };
    case 'look':
    case 'cue':
      return deed;
    default:
      return { do: deed.do };
  }
}
export type ToPhone =
  | {
      readonly type: 'lamp';
      /** Whether somebody drives. */
      readonly live: boolean;
      /** Null: none is looked for. */
      readonly lamp: SoughtLamp | null;
    }
  | { readonly type: 'night'; readonly night: PhoneNight | null };

/** Longest message of a phone. */
export const PHONE_MOST_BYTES = 512;
const id = Joi.string().max(130).required(),
  share = Joi.number().min(0).max(1).required();
const fromPhone = Joi.alternatives(
  Joi.object({ type: Joi.valid('step').required(), by: Joi.valid(1, -1).required() }),
  Joi.object({ type: Joi.valid('off').required() }),
  Joi.object({
    type: Joi.valid('act').required(),
    act: Joi.alternatives(
      Joi.object({ do: Joi.valid('go', 'back', 'home', 'tap', 'give back', 'bar now').required() }),
      Joi.object({ do: Joi.valid('dark', 'freeze').required(), on: Joi.boolean().required() }),
      Joi.object({ do: Joi.valid('look').required(), look: id }),
      Joi.object({
        do: Joi.valid('master').required(),
        master: id,
        value: share,
      }),
      Joi.object({ do: Joi.valid('cue').required(), cue: id }),
      Joi.object({ do: Joi.valid('hand place').required(), thing: id, parameter: id, place: share }),
    ).required(),
  }),
);
const words = Joi.string().max(400).allow('').required();
/** Things that a phone has room for. */
export const PHONE_THINGS_MOST = 60;
export const phoneNight = Joi.object({
  name: words,
  now: words.allow(null),
  things: Joi.array()
    .max(PHONE_THINGS_MOST)
    .items(
      Joi.object({
        id,
        deed: Joi.object({ do: Joi.string().max(20).required() })
          .unknown()
          .required(),
        size: Joi.valid(...PHONE_SIZES).required(),
        label: words,
        note: words,
        stands: share,
        able: Joi.boolean().required(),
      }),
    )
    .required(),
});
export const soughtLamp = Joi.object({
  id: Joi.string().max(64).required(),
  name: Joi.string().max(200).required(),
  words: Joi.string().max(200).allow('').required(),
  place: Joi.number().integer().min(1).required(),
  count: Joi.number().integer().min(1).required(),
});

/** Reads a phone's message; null for anything else: it came over a wire. */
export function parseFromPhone(text: string): FromPhone | null {
  if (text.length > PHONE_MOST_BYTES) return null;
  try {
    const { error, value } = fromPhone.validate(JSON.parse(text), { convert: false });
    return error ? null : (value as FromPhone);
  } catch {
    return null;
  }
}
