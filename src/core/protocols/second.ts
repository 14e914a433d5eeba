import Joi from 'joi';
import type { First } from '../standby';

/** What a computer and the one that stands by for it say to each other, in JSON. */

/** How the show of the first stands. */
export interface Standing {
  readonly type: 'standing';
  /** The show's name, and what it is made of, told apart by a word. */
  readonly name: string;
  readonly edition: string;
  /** Its memory, as it is kept; whoever takes it checks it. */
  readonly memory: unknown;
}
/** Where a second computer listens, by the address that the first shows for it; null for what is no address. */
export function secondUrl(address: string): string | null {
  try {
    const { protocol, host, searchParams } = new URL(address),
      key = searchParams.get('key');
    if (protocol !== 'http:' || host === '' || !key) return null;
    return `ws://${host}/bridge?role=second&key=${encodeURIComponent(key)}`;
  } catch {
    return null;
  }
}
export type ToSecond = ({ readonly type: 'first' } & First) | Standing;

export const standing = {
  is: 'standing',
  then: Joi.object({
    type: Joi.string(),
    name: Joi.string().max(400).allow('').required(),
    edition: Joi.string().max(64).required(),
    memory: Joi.object().unknown().required(),
  }),
};
