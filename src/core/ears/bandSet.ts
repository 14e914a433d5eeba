import type { Hz, Seconds } from '../units';
import type { Weighting } from './weighting';

export const BAND_SETS = ['three', 'five', 'mel', 'octaves', 'thirds'] as const;
export type BandSet = (typeof BAND_SETS)[number];

export interface Band {
  readonly low: Hz;
  readonly high: Hz;
  readonly centre: Hz;
  readonly name: string;
}

const THREE: readonly Hz[] = [250, 2500];
const FIVE: readonly Hz[] = [120, 400, 1600, 5000];
const LOWEST: Hz = 30,
  HIGHEST: Hz = 16000;
/** Inner edges that a set of three or of five begins with. */
export function usualCrossovers(set: BandSet): readonly Hz[] {
  return set === 'three' ? THREE : set === 'five' ? FIVE : [];
}

/** Mel of a frequency: `2595 log10(1 + f / 700)` (O'Shaughnessy 1987). */
export const hzToMel = (hz: Hz): number => 2595 * Math.log10(1 + hz / 700);
export const melToHz = (mel: number): Hz => 700 * (10 ** (mel / 2595) - 1);

/** Nominal centres of IEC 61260-1: 1 kHz times powers of G = 10^(3/10), with edges half a band away. */
function fractional(perOctave: number, from: number, to: number): Band[] {
  const out: Band[] = [];
  for (let n = from; n <= to; n++) {
    const centre = 1000 * 10 ** ((0.3 * n) / perOctave),
      half = 10 ** (0.15 / perOctave);
    out.push({ low: centre / half, high: centre * half, centre, name: nominal(centre) });
  }
  return out;
}

/** Centres as they are named: 31.5, 63, 125 … 16 k. */
const NOMINAL = [1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8];
function nominal(hz: Hz): string {
  const decade = 10 ** Math.floor(Math.log10(hz) + 0.02);
  const near = NOMINAL.reduce((a, b) =>
    Math.abs(Math.log(b * decade) - Math.log(hz)) < Math.abs(Math.log(a * decade) - Math.log(hz)) ? b : a,
  );
  const value = near * decade;
  return value >= 1000 ? `${Number((value / 1000).toPrecision(3))} k` : String(Number(value.toPrecision(3)));
}

const short = (hz: Hz): string =>
  hz >= 1000 ? `${Number((hz / 1000).toPrecision(2))} k` : String(Math.round(hz));

/** The bands of a set, lowest first. @param crossovers - inner edges for the sets of three and five; what does not fit is replaced by the usual */
export function bandsOf(set: BandSet, crossovers: readonly Hz[] = []): readonly Band[] {
  if (set === 'octaves') return fractional(1, -5, 4);
  if (set === 'thirds') return fractional(3, -16, 12);
  let edges: Hz[];
  if (set === 'mel') {
    const low = hzToMel(LOWEST),
      high = hzToMel(HIGHEST);
    edges = Array.from({ length: 9 }, (_, i) => melToHz(low + ((high - low) * i) / 8));
  } else {
    const usual = usualCrossovers(set);
    const inner =
      crossovers.length === usual.length &&
      crossovers.every((x, i) => x > (i ? crossovers[i - 1]! : LOWEST) && x < HIGHEST)
        ? crossovers
        : usual;
    edges = [LOWEST, ...inner, HIGHEST];
  }
  return edges.slice(0, -1).map((low, i) => {
    const high = edges[i + 1]!;
    return { low, high, centre: Math.sqrt(low * high), name: `${short(low)}–${short(high)}` };
  });
}

/** Weights of IEC 61672-1, annex E, in dB relative to 1 kHz; a tilt rises or falls evenly by octave. */
export function weightDb(weighting: Weighting, hz: Hz): number {
  if (weighting.kind === 'flat') return 0;
  if (weighting.kind === 'tilt') return weighting.dbPerOctave * Math.log2(hz / 1000);
  const f = hz * hz,
    a = 20.598997 ** 2,
    d = 12194.217 ** 2;
  const c = (d * f) / ((f + a) * (f + d));
  if (weighting.kind === 'C') return 20 * Math.log10(c) + 0.0619;
  return 20 * Math.log10((c * f) / Math.sqrt((f + 107.65265 ** 2) * (f + 737.86223 ** 2))) + 2.0;
}

/** A weighting at a band as a factor of amplitude, with its gain. */
export function bandGain(weighting: Weighting, centre: Hz, gainDb: number): number {
  return 10 ** ((weightDb(weighting, centre) + gainDb) / 20);
}

/** From a sound's start to 90 % of its amplitude in a band: 3.83 / ωc of the fourth-order low-pass that makes it. */
export function settlingOf(band: Pick<Band, 'low' | 'high'>): Seconds {
  return 3.83 / (Math.PI * (band.high - band.low));
}
