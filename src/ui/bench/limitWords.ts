import { FIT_MOST_DB } from '../../core/shaping';

/** That the limit against hiss holds a fit back. @param below - how far the signal lies below the usual, in dB */
export const limitWords = (name: string, below: number): string =>
  `${name} is ${Math.round(below)} dB below the usual. A fit stops at ${FIT_MOST_DB} dB, so that hiss moves nothing.`;
