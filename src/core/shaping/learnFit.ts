import type { Measure } from '../ears/listening';
import { leastFitHigh } from './steps';

export interface LearnedFit {
  readonly low: number;
  readonly high: number;
}

/** Fewer columns than this (0.4 s) say nothing about a sound. */
const ENOUGH = 20;

/**
 * Finds the stretch that a signal moved in, from its recent trace: from the 10th percentile to the 98th of what
 * sounded, so that one bang does not make everything else small.
 * @param trace - one number per column, NaN where nothing is known; linear amplitude, or strength
 * @param usual - what this signal usually reads when loud (see `usualHigh`)
 * @param measure - what the numbers are; places on a scale (notes, Hz, tempi) are fitted from where to where they went
 * @param least - the least top; 0 to go as far as the sound is quiet
 * @returns null when nothing sounded: a fit is never taken from silence
 */
export function learnFit(
  trace: ArrayLike<number>,
  usual: number,
  measure: Measure = 'amplitude',
  least = leastFitHigh(usual),
): LearnedFit | null {
  if (measure === 'note' || measure === 'hz' || measure === 'bpm') return learnPlace(trace, measure);
  const { known, top } = heardIn(trace);
  // An eighth of the least top is 18 dB below where it could fill the range: too little to be the sound that is meant.
  const sounding = known.filter((x) => x > Math.max(least / 8, top / 1000)).sort((a, b) => a - b);
  if (sounding.length < ENOUGH && !(usual === 1 && sounding.length > 0)) return null;
  const at = (share: number): number =>
    sounding[Math.min(sounding.length - 1, Math.floor(share * sounding.length))]!;
  const high = Math.max(at(0.98), least);
  const low = Math.min(at(0.1), high / 2);
  return { low, high };
}

function heardIn(trace: ArrayLike<number>): { readonly known: number[]; readonly top: number } {
  const known: number[] = [];
  let top = 0;
  for (let i = 0; i < trace.length; i++) {
    const x = trace[i]!;
    if (Number.isFinite(x)) {
      known.push(x);
      if (x > top) top = x;
    }
  }
  return { known, top };
}

/** Below this a number is no sound at all: −100 dB. */
const NOTHING = 1e-5;
/**
 * Whether it is the limit, and not the sound, that says how far an automatic fit goes.
 * @param least - the limit @returns how far the loudest lies below what is usual, in dB; null where the limit does not hold
 */
export function limitHolds(
  trace: ArrayLike<number>,
  usual: number,
  measure: Measure,
  least = leastFitHigh(usual),
): number | null {
  if (measure !== 'amplitude' && measure !== 'loudness') return null;
  const { known, top } = heardIn(trace);
  if (top < NOTHING) return null;
  const sounding = known.filter((x) => x > top / 1000).sort((a, b) => a - b);
  const loud = sounding[Math.min(sounding.length - 1, Math.floor(0.98 * sounding.length))]!;
  return loud < least ? 20 * Math.log10(usual / loud) : null;
}

/** Least width of a fit to places: two semitones, or an eighth of the highest. */
function learnPlace(trace: ArrayLike<number>, measure: Measure): LearnedFit | null {
  const known: number[] = [];
  for (let i = 0; i < trace.length; i++) {
    const x = trace[i]!;
    if (Number.isFinite(x) && x > 0) known.push(x);
  }
  if (known.length < ENOUGH) return null;
  known.sort((a, b) => a - b);
  const low = known[Math.floor(0.05 * known.length)]!,
    high = known[Math.min(known.length - 1, Math.floor(0.95 * known.length))]!;
  const least = measure === 'note' ? 2 : high / 8;
  const spare = Math.max(0, least - (high - low)) / 2;
  return { low: low - spare, high: high + spare };
}
