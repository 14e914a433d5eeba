/** The minimum-requirement signals of EBU Tech 3341 and 3342, made by formula, at three sample rates. */
import { analyseSound } from '../../src/core/analyse/analyseSound';
import type { Report } from './report';

type Part = readonly [seconds: number, db: number];
/** A 1 kHz sine on both channels at levels in dBFS of its peak. */
function sine(rate: number, parts: readonly Part[], hz = 1000): Float32Array {
  const out = new Float32Array(Math.round(rate * parts.reduce((n, [s]) => n + s, 0)));
  let at = 0,
    done = 0;
  for (const [seconds, db] of parts) {
    done += seconds;
    const end = Math.min(out.length, Math.round(done * rate)),
      a = db <= -200 ? 0 : 10 ** (db / 20);
    for (; at < end; at++) out[at] = a * Math.sin((2 * Math.PI * hz * at) / rate);
  }
  return out;
}
const repeat = (n: number, parts: readonly Part[]): Part[] => Array.from({ length: n }, () => parts).flat();

export function loudnessReport(report: Report): void {
  for (const rate of [44100, 48000, 96000]) {
    const run = (parts: readonly Part[]) => {
      const x = sine(rate, parts);
      return analyseSound({
        sampleRate: rate,
        frames: x.length,
        duration: x.length / rate,
        channels: [x, x.slice()],
      }).loudness;
    };
    const integrated: readonly (readonly [string, readonly Part[], number])[] = [
      ['1: −23 dBFS', [[20, -23]], -23],
      ['2: −33 dBFS', [[20, -33]], -33],
      [
        '3: gate at −36',
        [
          [10, -36],
          [60, -23],
          [10, -36],
        ],
        -23,
      ],
      [
        '4: gates at −72 and −36',
        [
          [10, -72],
          [10, -36],
          [60, -23],
          [10, -36],
          [10, -72],
        ],
        -23,
      ],
      [
        '5: −26, −20, −26',
        [
          [20, -26],
          [20.1, -20],
          [20, -26],
        ],
        -23,
      ],
    ];
    for (const [name, parts, truth] of integrated)
      report.add(
        'loudness',
        `${rate} Hz, integrated ${name}: error`,
        run(parts).integrated - truth,
        'LU',
        '±0.1',
      );
    const nine = run(
      repeat(5, [
        [1.34, -20],
        [1.66, -30],
      ]),
    )
      .shortTerm.filter(([t]) => t > 3.05)
      .map(([, v]) => Math.abs(v + 23));
    report.add(
      'loudness',
      `${rate} Hz, short-term 9: largest error after 3 s`,
      Math.max(...nine),
      'LU',
      '±0.1',
    );
    const twelve = run(
      repeat(25, [
        [0.18, -20],
        [0.22, -30],
      ]),
    )
      .momentary.filter(([t]) => t > 1)
      .map(([, v]) => Math.abs(v + 23));
    report.add(
      'loudness',
      `${rate} Hz, momentary 12: largest error after 1 s`,
      Math.max(...twelve),
      'LU',
      '±0.1',
    );
    for (const [name, parts, truth] of [
      [
        '1',
        [
          [20, -20],
          [20, -30],
        ],
        10,
      ],
      [
        '2',
        [
          [20, -20],
          [20, -15],
        ],
        5,
      ],
      [
        '3',
        [
          [20, -40],
          [20, -20],
        ],
        20,
      ],
      [
        '4',
        [
          [20, -50],
          [20, -35],
          [20, -20],
          [20, -35],
          [20, -50],
        ],
        15,
      ],
    ] as const) {
      report.add('loudness', `${rate} Hz, range ${name}: error`, run(parts).range - truth, 'LU', '±1');
    }
    for (const [name, of, degrees, amplitude, truth] of [
      ['15', 4, 0, 0.5, -6.02],
      ['16', 4, 45, 0.5, -6.02],
      ['17', 6, 60, 0.5, -6.02],
      ['18', 8, 67.5, 0.5, -6.02],
      ['19', 4, 45, 1.41, 2.98],
    ] as const) {
      const x = Float32Array.from(
        { length: rate },
        (_, i) =>
          amplitude *
          Math.sin((2 * Math.PI * i) / of + (degrees * Math.PI) / 180) *
          Math.min(1, i / 400, (rate - i) / 400),
      );
      report.add(
        'loudness',
        `${rate} Hz, true peak ${name}: error`,
        analyseSound({ sampleRate: rate, frames: rate, duration: 1, channels: [x] }).loudness.truePeak -
          truth,
        'dB',
        '+0.2 −0.4',
      );
    }
  }
}
