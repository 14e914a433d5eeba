import Joi from 'joi';
import { type FromPage, PAGE_ID_MOST, PAGE_NAME_MOST, type PageDocument, PAGES_MOST } from './pages';

/** Checks what pages are drawn from, and what they say, wherever it comes from. Apart from what it is, so that a page need not carry it. */

const count = (most: number): Joi.NumberSchema => Joi.number().integer().min(0).max(most).required();
const NUMBERS_MOST = 1 << 18;
const isMap = (map: unknown): boolean => {
  const { parameters, vectors } = (map ?? {}) as Record<string, unknown>;
  const whole = (n: unknown): boolean => Number.isInteger(n) && (n as number) >= 0;
  const every = (x: unknown, good: (value: unknown) => boolean): boolean =>
    typeof x === 'object' && x !== null && !Array.isArray(x) && Object.values(x).every(good);
  return (
    every(parameters, whole) &&
    every(vectors, (v) => Array.isArray(v) && v.length === 2 && whole(v[0]) && whole(v[1]))
  );
};
/** A document as it is checked wherever it comes from. Maps are long, and checked by hand. */
export const pageDocument = Joi.object({
  id: Joi.string().max(PAGE_ID_MOST).required(),
  version: count(0xffffffff),
  show: Joi.object().unknown().required(),
  map: Joi.object()
    .unknown()
    .required()
    .custom((value: unknown, { error }) => (isMap(value) ? value : error('any.invalid'))),
  numbers: count(NUMBERS_MOST),
  points: count(NUMBERS_MOST),
  rest: Joi.array()
    .max(NUMBERS_MOST)
    .required()
    .custom((value: unknown[], { error }) => (value.every(Number.isFinite) ? value : error('any.invalid'))),
  media: Joi.array()
    .max(2000)
    .items(Joi.string().pattern(/^[0-9a-f]{64}$/))
    .required(),
  kept: Joi.boolean().required(),
});
const pageDocuments = Joi.array().max(PAGES_MOST).items(pageDocument).required();

/** Documents from a file that anybody may have changed; null when they cannot be used. */
export function parseDocuments(raw: unknown): readonly PageDocument[] | null {
  const { error, value } = pageDocuments.validate(raw, { convert: false });
  return error || value === undefined ? null : (value as readonly PageDocument[]);
}

const fromPage = Joi.object({
  type: Joi.valid('seen').required(),
  at: Joi.number().required(),
  name: Joi.string().max(PAGE_NAME_MOST).required(),
  picturesPerSecond: Joi.number().min(0).max(1000).required(),
  delayMs: Joi.number().min(0).max(60000).required(),
});
/** What a page said; null for what makes no sense. */
export function parseFromPage(text: string): FromPage | null {
  try {
    const { error, value } = fromPage.validate(JSON.parse(text), { convert: false });
    return error ? null : (value as FromPage);
  } catch {
    return null;
  }
}
