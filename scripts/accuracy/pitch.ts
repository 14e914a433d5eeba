import { analyseSound } from '../../src/core/analyse/analyseSound';
import { seeded } from '../../src/core/random';
import { stillSound } from '../material/mix';
import { quantile, type Report } from './report';

const RATE = 48000;
/** A note after a second of silence. A pluck is a string by delay and damping, its loop tuned by an all-pass so that its pitch is exact. */
function note(kind: 'sine' | 'saw' | 'pluck', hz: number, seed: number): Float32Array {
  const out = new Float32Array(RATE * 2),
    start = RATE / 2,
    n = RATE * 1.2;
  const random = seeded(seed);
  if (kind === 'pluck') {
    // y(n) = damped mean of two neighbours a loop ago: half a sample late, the rest by a first-order all-pass.
    const loop = RATE / hz - 0.5,
      whole = Math.floor(loop - 0.3),
      rest = loop - whole,
      c = (1 - rest) / (1 + rest);
    const line = Float64Array.from({ length: whole }, () => random() * 2 - 1);
    let at = 0,
      before = 0,
      ax = 0,
      ay = 0;
    for (let i = 0; i < n; i++) {
      const y = line[at]!;
      out[start + i] = 0.3 * y;
      const mean = 0.998 * 0.5 * (y + before);
      before = y;
      const a = c * mean + ax - c * ay;
      ax = mean;
      ay = a;
      line[at] = a;
      if (++at === whole) at = 0;
    }
    return out;
  }
  for (let i = 0; i < n; i++) {
    const phase = (2 * Math.PI * hz * i) / RATE,
      foot = Math.min(1, i / 240, (n - i) / 480);
    let y = 0;
    if (kind === 'sine') y = Math.sin(phase);
    else for (let k = 1; k * hz < 18000 && k < 60; k++) y += Math.sin(k * phase) / k;
    out[start + i] = 0.3 * foot * y;
  }
  return out;
}

export function pitchReport(report: Report): void {
  for (const kind of ['sine', 'saw', 'pluck'] as const) {
    const cents: number[] = [],
      late: number[] = [],
      lateLow: number[] = [];
    let octaves = 0,
      total = 0,
      missing = 0;
    for (let i = 0; i < 40; i++) {
      const hz = 41 * (1200 / 41) ** (i / 39);
      const x = note(kind, hz, i + 1);
      const { pitch } = analyseSound({ sampleRate: RATE, frames: x.length, duration: 2, channels: [x] });
      const during = pitch.filter(([t]) => t > 0.65 && t < 1.4);
      for (const [, f, c] of during) {
        total++;
        if (!(f > 0) || c < 0.4) {
          missing++;
          continue;
        }
        const off = 1200 * Math.log2(f / hz);
        if (Math.abs(off) > 600) octaves++;
        else cents.push(Math.abs(off));
      }
      const first = pitch.find(
        ([t, f, c]) => t >= 0.5 && c >= 0.4 && Math.abs(1200 * Math.log2(f / hz)) < 50,
      );
      (hz < 80 ? lateLow : late).push(first ? first[0] - 0.5 : 9);
    }
    report.add('pitch', `${kind}, 41–1200 Hz: error, median`, quantile(cents, 0.5), 'cents', '≤ 5');
    report.add('pitch', `${kind}: octave errors`, (100 * octaves) / total, '%', '≤ 1');
    report.add('pitch', `${kind}: looks that find none`, (100 * missing) / total, '%');
    report.add(
      'pitch',
      `${kind}, from 80 Hz: known after, 95th percentile`,
      quantile(late, 0.95) * 1000,
      'ms',
      '≤ 60',
    );
    report.add(
      'pitch',
      `${kind}, below 80 Hz: known after, 95th percentile`,
      quantile(lateLow, 0.95) * 1000,
      'ms',
      '≤ 100',
    );
  }
  for (const kind of ['white', 'pink', 'brown'] as const) {
    const x = stillSound(kind, 10, 3);
    const { pitch } = analyseSound({ sampleRate: RATE, frames: x.length, duration: 10, channels: [x] });
    report.add(
      'pitch',
      `confidence on ${kind} noise, 95th percentile`,
      quantile(
        pitch.map(([, , c]) => c),
        0.95,
      ),
      '',
      '< 0.3',
    );
  }
}
