import { makeHop } from '../../src/core/audio/hop';
import {
  FLAT,
  makeEarRunner,
  rangeHit,
  strokeHit,
  bandOf,
  type EarRunner,
  type Listening,
} from '../../src/core/ears/ear';
import { CHANNELS, InputHearing } from '../../src/core/hearing/hearing';
import { seeded } from '../../src/core/random';
import type { Report } from './report';

/** Every kind of ear once. */
export const EVERY_EAR: readonly Listening[] = [
  ...(['peak', 'truePeak', 'rms', 'momentary', 'shortTerm', 'integrated'] as const).map(
    (reading): Listening => ({ kind: 'level', reading }),
  ),
  bandOf(40, 110),
  { kind: 'band', low: 300, high: 900, reading: 'strongest', weighting: FLAT, gainDb: 0 },
  { kind: 'band', low: 300, high: 900, reading: 'frequency', weighting: { kind: 'A' }, gainDb: 0 },
  ...(['three', 'five', 'mel', 'octaves', 'thirds'] as const).map((set): Listening => ({
    kind: 'bands',
    set,
    crossovers: [],
    weighting: { kind: 'tilt', dbPerOctave: 3 },
    gainsDb: [],
  })),
  strokeHit('any'),
  strokeHit('kick'),
  strokeHit('snare'),
  strokeHit('hat'),
  rangeHit(40, 160),
  { kind: 'pitch', reading: 'note' },
  { kind: 'pitch', reading: 'confidence' },
  { kind: 'brightness' },
  { kind: 'presence', what: 'sound' },
  { kind: 'presence', what: 'speech' },
  { kind: 'structure', reading: 'progress', bars: 8 },
  { kind: 'structure', reading: 'phrasePlace', bars: 8 },
  { kind: 'vector', of: 'spectrum', scale: 'log', points: 256 },
  { kind: 'vector', of: 'waveform', scale: 'linear', points: 256 },
];

const NOBODY = { event: (): void => undefined };

/** Bad sound goes in; how many numbers come out that are not finite, and how far each level is off a second after good sound came back. */
export function soundnessReport(report: Report): void {
  const random = seeded(9);
  const bad: Readonly<Record<string, (i: number) => readonly [number, number]>> = {
    NaN: () => [NaN, NaN],
    infinity: (i) => (i % 2 ? [Infinity, -Infinity] : [-Infinity, Infinity]),
    denormals: () => [1e-310, -1e-310],
    'an offset of 1': () => [1, 1],
    'clipped noise': () => {
      const x = Math.sign(random() - 0.5);
      return [x, x];
    },
    antiphase: (i) => {
      const x = 0.5 * Math.sin(i / 20);
      return [x, -x];
    },
    nothing: () => [0, 0],
    'a single huge sample': (i) => (i === 100 ? [1e30, 1e30] : [0, 0]),
  };
  const good = (i: number): number =>
    0.25 * Math.sin((2 * Math.PI * 100 * i) / 48000) + 0.2 * Math.sin((2 * Math.PI * 613 * i) / 48000);
  for (const [name, x] of Object.entries(bad)) {
    let wrong = 0,
      off = 0;
    for (const channel of CHANNELS) {
      const make = (): { hearing: InputHearing; ears: EarRunner[] } => {
        const hearing = new InputHearing(48000, 256);
        return { hearing, ears: EVERY_EAR.map((l) => makeEarRunner(l, { hearing: hearing.of(channel) })) };
      };
      const hurt = make(),
        whole = make(),
        hop = makeHop(256);
      const run = (
        { hearing, ears }: ReturnType<typeof make>,
        k: number,
        f: (i: number) => readonly [number, number],
      ): void => {
        for (let i = 0; i < 256; i++) {
          const [l, r] = f(k * 256 + i);
          hop.left[i] = l;
          hop.right[i] = r;
        }
        hop.mono = false;
        hop.time = (k * 256) / 48000;
        hearing.process(hop);
        for (const e of ears) {
          e.process(hearing.hopOf(channel, hop), NOBODY);
          if (!Number.isFinite(e.value) || e.vector?.some((v) => !Number.isFinite(v))) wrong++;
        }
        hearing.finish(hop);
      };
      for (let k = 0; k < 188; k++) run(hurt, k, x);
      for (let k = 188; k < 188 + 189; k++)
        for (const side of [hurt, whole]) run(side, k, (i) => [good(i), good(i) * 0.5]);
      // A second later the quick levels are those of an ear that never heard the bad sound.
      hurt.ears.forEach((e, i) => {
        const l = EVERY_EAR[i]!;
        if (
          (l.kind === 'level' &&
            (l.reading === 'rms' || l.reading === 'peak' || l.reading === 'momentary')) ||
          (l.kind === 'band' && l.reading !== 'frequency')
        )
          off = Math.max(off, Math.abs(20 * Math.log10((e.value + 1e-9) / (whole.ears[i]!.value + 1e-9))));
      });
    }
    report.add('soundness', `${name}: numbers that are not finite`, wrong, '', '0');
    report.add('soundness', `${name}: levels a second later, most off`, off, 'dB', '≤ 0.1');
  }
}
