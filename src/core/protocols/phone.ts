import Joi from 'joi';

/** What a phone's page and the bridge say to each other, in JSON. */

/** What a phone asks for: the next or the one before of the lamps to light up, or none. */
export type FromPhone = { readonly type: 'step'; readonly by: 1 | -1 } | { readonly type: 'off' };
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
export interface ToPhone {
  readonly type: 'lamp';
  /** Whether somebody drives. */
  readonly live: boolean;
  /** Null: none is looked for. */
  readonly lamp: SoughtLamp | null;
}

/** Longest message of a phone. */
export const PHONE_MOST_BYTES = 512;
const fromPhone = Joi.alternatives(
  Joi.object({ type: Joi.valid('step').required(), by: Joi.valid(1, -1).required() }),
  Joi.object({ type: Joi.valid('off').required() }),
);
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
