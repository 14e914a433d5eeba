import Joi from 'joi';

/** What a phone's page and the bridge say to each other, in JSON. */

/** What a phone asks for: the next or the one before of the lamps to light up, or none. */
export type FromPhone =
  | { readonly type: 'step'; readonly by: 1 | -1 }
  | { readonly type: 'off' }
  /** Something is performed. */
  | { readonly type: 'act'; readonly act: PhonePerforms };
/** What of a night can be performed with a phone. */
export type PhonePerforms =
  | { readonly do: 'go' | 'back' | 'home' }
  | { readonly do: 'dark' | 'freeze'; readonly on: boolean }
  | { readonly do: 'look'; readonly look: string }
  | { readonly do: 'master'; readonly master: string; readonly value: number };
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
  /** What is in, and what go takes; null: nothing. */
  readonly now: string | null;
  readonly next: string | null;
  readonly note: string;
  readonly looks: readonly { readonly id: string; readonly name: string; readonly on: boolean }[];
  readonly masters: readonly { readonly id: string; readonly label: string; readonly value: number }[];
  readonly dark: boolean;
  readonly freeze: boolean;
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
const fromPhone = Joi.alternatives(
  Joi.object({ type: Joi.valid('step').required(), by: Joi.valid(1, -1).required() }),
  Joi.object({ type: Joi.valid('off').required() }),
  Joi.object({
    type: Joi.valid('act').required(),
    act: Joi.alternatives(
      Joi.object({ do: Joi.valid('go', 'back', 'home').required() }),
      Joi.object({ do: Joi.valid('dark', 'freeze').required(), on: Joi.boolean().required() }),
      Joi.object({ do: Joi.valid('look').required(), look: Joi.string().max(64).required() }),
      Joi.object({
        do: Joi.valid('master').required(),
        master: Joi.string().max(130).required(),
        value: Joi.number().min(0).max(1).required(),
      }),
    ).required(),
  }),
);
const words = Joi.string().max(400).allow('').required();
/** Looks and masters that a phone has room for. */
export const PHONE_LOOKS_MOST = 60,
  PHONE_MASTERS_MOST = 40;
export const phoneNight = Joi.object({
  name: words,
  now: words.allow(null),
  next: words.allow(null),
  note: words,
  looks: Joi.array()
    .max(PHONE_LOOKS_MOST)
    .items(Joi.object({ id: Joi.string().max(64).required(), name: words, on: Joi.boolean().required() }))
    .required(),
  masters: Joi.array()
    .max(PHONE_MASTERS_MOST)
    .items(
      Joi.object({
        id: Joi.string().max(130).required(),
        label: words,
        value: Joi.number().min(0).max(1).required(),
      }),
    )
    .required(),
  dark: Joi.boolean().required(),
  freeze: Joi.boolean().required(),
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
