/**
 * npm run accuracy [-- --json] [--quick] [--anew] [--write] [group …]: how right and how early the listening is, on sounds whose truth is known exactly.
 * What needs Debian's fluidsynth, fluid-soundfont-gm or espeak-ng says so when they are not there, and is left out.
 * Each group is kept when it was measured through: without groups, only those are measured that were not since anything that they depend on changed (or all, with --anew).
 * A page with charts is written beside the caches; with --write the figures go into docs/accuracy.md too.
 */
import { analyseSound, type Analysis } from '../src/core/analyse/analyseSound';
import type { Pcm } from '../src/core/audio/wav';
import { hasGeneralMidi } from './material/generalMidi';
import { mixPiece, stillSound, type Mixed } from './material/mix';
import { KITS, makePiece, type Piece, type Style } from './material/score';
import { hasSpeech, makeSpeech } from './material/speech';
import { loudnessReport } from './accuracy/loudness';
import { bandsReport } from './accuracy/bands';
import { pitchReport } from './accuracy/pitch';
import { costReport } from './accuracy/cost';
import { soundnessReport } from './accuracy/soundness';
import { showItReport } from './accuracy/showIt';
import { digest, filesIn } from './ensure.mjs';
import { add, fOf, match, tally, type Tally } from './accuracy/matching';
import { musicReport, type MusicShown } from './accuracy/music';
import { writeDocument, writePage } from './accuracy/page';
import { tempoReport } from './accuracy/tempo';
import { structureReport } from './accuracy/structure';
import { keep, keptOf } from './accuracy/kept';
import { quantile, Report } from './accuracy/report';

const args = process.argv.slice(2);
const report = new Report(args.includes('--json'));
const quick = args.includes('--quick');
const wanted = args.filter((a) => !a.startsWith('--'));
const GROUPS = [
  'loudness',
  'bands',
  'hits',
  'beat',
  'tempo',
  'music',
  'structure',
  'pitch',
  'speech',
  'soundness',
  'show it',
  'cost',
] as const;
for (const w of wanted)
  if (!(GROUPS as readonly string[]).includes(w)) {
    console.error(`There is no group “${w}”. Groups: ${GROUPS.join(', ')}.`);
    process.exit(1);
  }
const asked = (name: string): boolean => wanted.length === 0 || wanted.includes(name);

/** All that a figure may depend on. */
const DEPENDS_ON = ['src/core', 'src/engine', 'scripts/accuracy', 'scripts/accuracy.ts', 'scripts/material'],
  KEPT_IN = '.cache/accuracy/groups';

/** Seeds from here on were never tuned on. */
const FRESH = 50000;

const pcm = (left: Float32Array, right: Float32Array): Pcm => ({
  sampleRate: 48000,
  frames: left.length,
  duration: left.length / 48000,
  channels: [left, right],
});

function hits(): void {
  const sources = hasGeneralMidi() ? (['own', 'gm'] as const) : (['own'] as const);
  if (!hasGeneralMidi())
    report.absent(
      'hits',
      'the General MIDI soundfont is not installed (fluidsynth, fluid-soundfont-gm): only our own kits are heard',
    );
  const count = quick ? 10 : 28;
  for (const source of sources) {
    for (const scene of ['dry', 'in reverb', 'under a bed of chords and voice'] as const) {
      const all: Record<'any' | 'kick' | 'snare' | 'hat', Tally> = {
        any: tally(),
        kick: tally(),
        snare: tally(),
        hat: tally(),
      };
      for (let i = 0; i < count; i++) {
        const seed = FRESH + i;
        const piece = makePiece(seed, {
          style: (['straight', 'swung', 'syncopated', 'straight', 'three'] as const)[i % 5]!,
          bpm: 70 + ((i * 37) % 111),
          seconds: 20,
          kit: KITS[i % 7]!,
        });
        const mixed = mixPiece(piece, {
          source,
          bedDb: scene.startsWith('under') ? 0 : -Infinity,
          peakDb: -((i * 11) % 51),
          seed,
          ...(scene === 'in reverb' && { room: 1.2 }),
          ...(scene.startsWith('under') && { voiceDb: -6 }),
        });
        const a = analyseSound(pcm(mixed.left, mixed.right));
        add(all.any, match(a.hits.any, mixed.any, mixed.faint, 0.05));
        for (const k of ['kick', 'snare', 'hat'] as const) add(all[k], match(a.hits[k], mixed[k], [], 0.05));
      }
      const aims = {
        any: scene === 'dry' ? '≥ 0.97' : '',
        kick: scene.startsWith('under') ? '≥ 0.9' : '',
        snare: scene.startsWith('under') ? '≥ 0.9' : '',
        hat: '',
      };
      for (const k of ['any', 'kick', 'snare', 'hat'] as const) {
        report.add('hits', `${source}, ${scene}: ${k}, F (±50 ms)`, fOf(all[k]), '', aims[k]);
        report.add(
          'hits',
          `${source}, ${scene}: ${k}, precision`,
          all[k].tp / Math.max(1, all[k].tp + all[k].fp),
          '',
        );
        report.add(
          'hits',
          `${source}, ${scene}: ${k}, known after, median`,
          quantile(all[k].late, 0.5) * 1000,
          'ms',
          k === 'any' ? '≤ 12' : '≤ 25',
        );
        report.add(
          'hits',
          `${source}, ${scene}: ${k}, known after, 95th percentile`,
          quantile(all[k].late, 0.95) * 1000,
          'ms',
          k === 'any' ? '≤ 25' : '≤ 45',
        );
      }
    }
  }
  for (const kind of ['white', 'pink', 'brown', 'hum', 'chord'] as const) {
    const x = stillSound(kind, 60, 77777);
    report.add('hits', `kicks in 60 s of ${kind}`, analyseSound(pcm(x, x)).hits.kick.length, '', '0');
  }
  if (hasSpeech()) {
    const x = makeSpeech(77778, 60).sound;
    report.add('hits', 'kicks in 60 s of speech', analyseSound(pcm(x, x)).hits.kick.length, '', '0');
  }
}

/** From when on the tempo stays within a share of the truth (or of half or double of it), in seconds; NaN when it never does. */
function lockTime(a: Analysis, piece: Piece, from: number): { at: number; factor: number } {
  const truth = (t: number): number => piece.bpm[0] + ((piece.bpm[1] - piece.bpm[0]) * t) / piece.seconds;
  const late = a.tempo.filter(([t]) => t > from && t < piece.seconds - 2);
  const factor =
    [1, 0.5, 2, 1.5, 2 / 3, 3, 1 / 3].find(
      (f) => late.filter(([t, bpm]) => Math.abs(bpm / (truth(t) * f) - 1) < 0.03).length > late.length * 0.6,
    ) ?? 0;
  if (!factor) return { at: NaN, factor };
  const first = a.tempo.find(([t, bpm]) => Math.abs(bpm / (truth(t) * factor) - 1) < 0.015);
  return { at: first ? first[0] : NaN, factor };
}

function beat(): void {
  const count = quick ? 5 : 10;
  const source = hasGeneralMidi() ? 'gm' : 'own';
  if (!hasGeneralMidi())
    report.absent('beat', 'the General MIDI soundfont is not installed: our own instruments play');
  let allSure = 0,
    allSureRight = 0;
  for (const style of ['straight', 'swung', 'syncopated', 'sparse', 'three'] as Style[]) {
    const t = tally(),
      errors: number[] = [],
      locks: number[] = [],
      jitter: number[] = [];
    let right = 0,
      halfDouble = 0,
      sure = 0,
      sureRight = 0,
      continuity = 0;
    for (let i = 0; i < count; i++) {
      const seed = FRESH + 1000 + i * 7 + style.length;
      const bpm = 72 + ((i * 41 + style.length * 13) % 104);
      const piece = makePiece(seed, { style, bpm, seconds: 34 });
      const mixed = mixPiece(piece, { source, bedDb: i % 3 === 0 ? -Infinity : -3, peakDb: -6, seed });
      const a = analyseSound(pcm(mixed.left, mixed.right));
      const beats = 60 / bpm,
        start = piece.beats[0]!,
        settle = start + Math.max(5, (style === 'sparse' || style === 'syncopated' ? 16 : 8) * beats);
      const { at, factor } = lockTime(a, piece, settle);
      if (factor === 1) right++;
      else if (factor === 0.5 || factor === 2) halfDouble++;
      if (factor === 1) {
        locks.push(
          (at - start) / Math.max(5, (style === 'sparse' || style === 'syncopated' ? 16 : 8) * beats),
        );
        for (const [s, b] of a.tempo) if (s > settle && s < 33) errors.push(Math.abs(b / bpm - 1) * 100);
      }
      const truth = piece.beats.filter((b) => b > settle && b < piece.seconds - 1),
        found = a.beats.filter(([b]) => b > settle - 0.07 && b < piece.seconds - 0.93);
      const m = match(found, truth, [], 0.07);
      add(t, m);
      if (fOf(m) > 0.9) continuity++;
      if (factor === 1 && m.off.length > 4) {
        const mean = m.off.reduce((x, y) => x + y, 0) / m.off.length;
        jitter.push(Math.sqrt(m.off.reduce((x, y) => x + (y - mean) ** 2, 0) / m.off.length) * 1000);
      }
      for (const [b] of a.beats) {
        const c = a.tempo.find(([s]) => s >= b)?.[2] ?? 0;
        if (c > 0.8) {
          sure++;
          if (piece.beats.some((x) => Math.abs(x - b) < 0.07)) sureRight++;
        }
      }
    }
    report.add('beat', `${style}: beats, F (±70 ms) after settling`, fOf(t), '', '≥ 0.9');
    report.add('beat', `${style}: pieces at the right tempo`, right / count, '');
    report.add('beat', `${style}: pieces at half or double`, halfDouble / count, '', '≤ 0.2');
    report.add('beat', `${style}: pieces with F over 0.9`, continuity / count, '');
    report.add(
      'beat',
      `${style}: lock time, as a share of what is allowed, 90th percentile`,
      quantile(locks, 0.9),
      '',
      '≤ 1',
    );
    report.add('beat', `${style}: tempo error, median`, quantile(errors, 0.5), '%', '≤ 1');
    report.add('beat', `${style}: phase jitter, median of pieces`, quantile(jitter, 0.5), 'ms', '≤ 15');
    report.add(
      'beat',
      `${style}: beats with confidence over 0.8 that are right`,
      sure ? sureRight / sure : NaN,
      '',
    );
    allSure += sure;
    allSureRight += sureRight;
  }
  report.add(
    'beat',
    'all styles: beats with confidence over 0.8 that are right',
    allSureRight / allSure,
    '',
    '≥ 0.9',
  );
  const ramps: number[] = [];
  for (let i = 0; i < (quick ? 1 : 10); i++) {
    const ramp = makePiece(FRESH + 3100 + i, { style: 'straight', bpm: 100, toBpm: 130, seconds: 60 });
    const rm = mixPiece(ramp, { source, bedDb: -6, peakDb: -6, seed: 3100 + i });
    ramps.push(
      fOf(
        match(
          analyseSound(pcm(rm.left, rm.right)).beats.filter(([b]) => b > 8),
          ramp.beats.filter((b) => b > 8),
          [],
          0.07,
        ),
      ),
    );
  }
  report.add(
    'beat',
    'ramps from 100 to 130 in 60 s: beats, F (±70 ms) after 8 s, median',
    quantile(ramps, 0.5),
    '',
    '≥ 0.9',
  );
  report.add('beat', 'ramps from 100 to 130 in 60 s: the same, worst', Math.min(...ramps), '', '≥ 0.9');
  const broken = makePiece(FRESH + 3011, { style: 'straight', bpm: 112, seconds: 60, rest: [8, 8] });
  const bm = mixPiece(broken, { source, bedDb: -6, peakDb: -6, seed: 3001 });
  const ba = analyseSound(pcm(bm.left, bm.right));
  const pause = ba.tempo.filter(([s]) => s > broken.downbeats[9]! && s < broken.downbeats[16]!);
  report.add(
    'beat',
    'an 8-bar break: largest tempo error in it',
    Math.max(...pause.map(([, b]) => Math.abs(b / 112 - 1) * 100)),
    '%',
    '≤ 2',
  );
  report.add(
    'beat',
    'an 8-bar break: beats in it and for 2 bars after, F (±70 ms)',
    fOf(
      match(
        ba.beats.filter(([b]) => b > broken.downbeats[8]! && b < broken.downbeats[18]!),
        broken.beats.filter((b) => b > broken.downbeats[8]! && b < broken.downbeats[18]!),
        [],
        0.07,
      ),
    ),
    '',
  );
}

function speech(): void {
  if (!hasSpeech()) {
    report.absent('speech', 'espeak-ng is not installed');
    return;
  }
  let tp = 0,
    fp = 0,
    fn = 0;
  const late: number[] = [];
  const count = quick ? 8 : 20;
  const frames = (spans: readonly (readonly number[])[], n: number): Uint8Array => {
    const out = new Uint8Array(n);
    for (const [a, b] of spans) out.fill(1, Math.round(a! * 100), Math.round(b! * 100));
    return out;
  };
  for (let i = 0; i < count; i++) {
    const seed = FRESH + 2000 + i,
      seconds = 24;
    const spoken = makeSpeech(seed, seconds);
    const kind = (['alone', 'white', 'pink', 'brown', 'hum'] as const)[i % 5]!;
    const x = spoken.sound.slice(),
      noise = kind === 'alone' ? null : stillSound(kind, seconds, seed),
      g = 10 ** (-26 / 20);
    const level = 10 ** (-((i * 9) % 40) / 20);
    for (let k = 0; k < x.length; k++) x[k] = level * (x[k]! + (noise ? g * noise[k]! : 0));
    const a = analyseSound(pcm(x, x));
    const n = seconds * 100,
      t = frames(spoken.spans, n),
      f = frames(a.speech, n);
    for (let k = 0; k < n; k++) {
      if (t[k] && f[k]) tp++;
      else if (f[k]) fp++;
      else if (t[k]) fn++;
    }
    for (const [from] of spoken.spans) {
      const known = a.speech.find(([p, q]) => q! > from && p! < from + 1);
      if (known) late.push(Math.max(0, known[2] - from));
    }
  }
  for (let i = 0; i < count; i++) {
    const piece = makePiece(FRESH + 2500 + i, { seconds: 24 });
    const m: Mixed = mixPiece(piece, {
      source: hasGeneralMidi() ? 'gm' : 'own',
      bedDb: 0,
      peakDb: -6,
      seed: i,
    });
    for (const [p, q] of analyseSound(pcm(m.left, m.right)).speech) fp += Math.round((q! - p!) * 100);
  }
  report.add('speech', 'frames of speech, music and noise: F', (2 * tp) / (2 * tp + fp + fn), '', '≥ 0.9');
  report.add('speech', 'known after its start, median', quantile(late, 0.5) * 1000, 'ms', '≤ 400');
  report.add('speech', 'known after its start, 95th percentile', quantile(late, 0.95) * 1000, 'ms', '≤ 400');
}

let shown: MusicShown | null = null;
const MEASURE: Readonly<Record<(typeof GROUPS)[number], () => unknown>> = {
  loudness: () => loudnessReport(report),
  bands: () => bandsReport(report),
  hits,
  beat,
  tempo: () => tempoReport(report, quick),
  music: () => {
    shown = musicReport(report, quick);
  },
  structure: () => structureReport(report, quick),
  pitch: () => pitchReport(report),
  speech,
  soundness: () => soundnessReport(report),
  'show it': () => showItReport(report, quick),
  cost: () => costReport(report, quick),
};
const state = digest(filesIn(...DEPENDS_ON)) + (quick ? ' quick' : '');
for (const group of GROUPS) {
  if (!asked(group)) continue;
  const before = wanted.length === 0 && !args.includes('--anew') ? keptOf(KEPT_IN, group, state) : null;
  if (before) {
    console.error(`${group}: measured already, of what is there now.`);
    for (const f of before.figures) report.take(f);
    report.missing.push(...before.absent);
    shown = before.shown ?? shown;
    continue;
  }
  console.error(`${group} …`);
  const figures = report.figures.length,
    absent = report.missing.length;
  await MEASURE[group]();
  keep(KEPT_IN, group, state, {
    figures: report.figures.slice(figures),
    absent: report.missing.slice(absent),
    shown: group === 'music' ? shown : null,
  });
}
report.print();
const date = new Date();
console.error(`Page: ${writePage(report.figures, shown, date)}`);
if (args.includes('--write')) writeDocument(report.figures, report.missing, date);
