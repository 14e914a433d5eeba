/** Octaves, thirds and the other sets against sines of known energy, and against pink noise measured exactly by a long transform. */
import FFT from 'fft.js';
import { makeHop } from '../../src/core/audio/hop';
import { bandsOf, BAND_SETS, type BandSet } from '../../src/core/ears/bandSet';
import { FLAT, makeEarRunner } from '../../src/core/ears/ear';
import { Hearing } from '../../src/core/hearing/hearing';
import { stillSound } from '../material/mix';
import type { Report } from './report';

const RATE = 48000;
const NOBODY = { event: (): void => undefined };
/** Mean power of each band from `settled` seconds on. */
function powers(set: BandSet, x: Float32Array, settled: number): Float64Array {
  const hearing = new Hearing(RATE, 256),
    ear = makeEarRunner({ kind: 'bands', set, crossovers: [], weighting: FLAT, gainsDb: [] }, { hearing }),
    hop = makeHop(256);
  const out = new Float64Array(ear.vector!.length);
  let n = 0;
  for (let at = 0; at + 256 <= x.length; at += 256) {
    hop.left.set(x.subarray(at, at + 256));
    hop.right.set(hop.left);
    hearing.process(hop);
    ear.process(hop, NOBODY);
    if (at / RATE < settled) continue;
    n++;
    for (let b = 0; b < out.length; b++) out[b]! += ear.vector![b]! ** 2;
  }
  return out.map((p) => p / n);
}
const db = (p: number): number => 10 * Math.log10(Math.max(1e-20, p));

export function bandsReport(report: Report): void {
  for (const set of ['octaves', 'thirds'] as const) {
    let worst = 0,
      leak = -Infinity;
    bandsOf(set).forEach((band, b) => {
      const x = Float32Array.from(
        { length: RATE * 2 },
        (_, i) => 0.5 * Math.sin((2 * Math.PI * band.centre * i) / RATE),
      );
      const p = powers(set, x, 1);
      worst = Math.max(worst, Math.abs(db(p[b]!) - db(0.125)));
      p.forEach((other, k) => {
        if (Math.abs(k - b) > 1) leak = Math.max(leak, db(other) - db(0.125));
      });
    });
    report.add('bands', `${set}: a sine at each centre, largest error`, worst, 'dB', '≤ 0.5');
    report.add('bands', `${set}: what it leaves in bands that are no neighbours, most`, leak, 'dB', '≤ −40');
  }
  const size = 2 ** 21;
  const x = stillSound('pink', size / RATE, 5),
    fft = new FFT(size),
    bins = new Float64Array(size * 2);
  fft.realTransform(bins as unknown as number[], Float64Array.from(x) as unknown as number[]);
  for (const set of BAND_SETS) {
    const p = powers(set, x, 0);
    const errors = bandsOf(set).map((band, b) => {
      let exact = 0;
      for (
        let k = Math.ceil((band.low * size) / RATE);
        k <= Math.min(size / 2, Math.floor((band.high * size) / RATE));
        k++
      )
        exact += 2 * (bins[2 * k]! ** 2 + bins[2 * k + 1]! ** 2);
      return Math.abs(db(p[b]!) - db(exact / size / size));
    });
    report.add(
      'bands',
      `${set}: pink noise against its exact energy, largest error`,
      Math.max(...errors),
      'dB',
      '≤ 0.5',
    );
  }
}
