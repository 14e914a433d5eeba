/**
 * How right the listening is on music of kinds that it was tuned on (*known*) and of kinds that were kept out of it (*unknown*), side by
 * side: what counts is unknown. Whole accompaniment styles, fonts, kits, dance rules, rooms and voices are kept out, by name.
 */
import { analyseSound, type Analysis } from '../../src/core/analyse/analyseSound';
import { makeHop } from '../../src/core/audio/hop';
import { Hearing } from '../../src/core/hearing/hearing';
import { hasArranger, makeArranged } from '../material/arranged';
import { clicksInNoise } from '../material/clicks';
import { makeDance } from '../material/dance';
import { fontsOfSide, hasGeneralMidi } from '../material/generalMidi';
import type { Side } from '../material/kinds';
import { recordedKits } from '../material/kits';
import { makeLine } from '../material/lines';
import type { Mixed } from '../material/mix';
import { drawTreatment, record, type Treatment } from '../material/record';
import type { Song } from '../material/song';
import { add, fOf, match, precisionOf, recallOf, tally, type Tally } from './matching';
import { quantile, type Report } from './report';
import { tempoAt } from './tempo';

const STROKES = ['any', 'kick', 'snare', 'hat'] as const;
type Stroke = (typeof STROKES)[number];
const SIDES = ['unknown', 'known'] as const;
/** Seeds from here on were never tuned on. */
const FRESH = 50000,
  SECONDS = 32,
  /** Until then the tempo may still be looked for. */ SETTLED = 8;

/** What a page shows beside the figures. */
export interface MusicShown {
  /** For each kind and side: of strokes of a kind, how many were taken for which (in the order of {@link STROKES}), how many were missed, and how many there were. */
  readonly confusion: Record<string, number[][]>;
  /** When strokes are said to have been against when they were, in ms. */
  readonly off: Record<string, number[]>;
  /** For some pieces: where each found beat lies in the beat that is true, −½ to ½, over its time. */
  readonly phase: { readonly name: string; readonly points: [number, number][] }[];
  /** What was played, and what was not there to be played. */
  readonly played: Record<string, string[]>;
  readonly absent: string[];
}

interface Heard {
  readonly strokes: Record<Stroke, Tally>;
  readonly beats: Tally;
  /** Seconds at the right tempo, of those that have one. */
  tempoRight: number;
  tempoAll: number;
  pieces: number;
  offBeat: number;
}
const nothing = (): Heard => ({
  strokes: { any: tally(), kick: tally(), snare: tally(), hat: tally() },
  beats: tally(),
  tempoRight: 0,
  tempoAll: 0,
  pieces: 0,
  offBeat: 0,
});

const listen = ({ left, right }: Pick<Mixed, 'left' | 'right'>): Analysis =>
  analyseSound({
    sampleRate: 48000,
    frames: left.length,
    duration: left.length / 48000,
    channels: [left, right],
  });

function hear(a: Analysis, m: Mixed, song: Pick<Song, 'beats' | 'beatKnown' | 'seconds'>, h: Heard): void {
  h.pieces++;
  for (const k of STROKES)
    add(
      h.strokes[k],
      match(a.hits[k], m[k], k === 'any' ? m.faint : k === 'snare' ? (m.unsure ?? []) : [], 0.05),
    );
  if (!song.beatKnown) return;
  const inside = (t: number, by: number): boolean => t > SETTLED - by && t < song.seconds - 1 + by,
    truth = song.beats.filter((t) => inside(t, 0)),
    found = a.beats.filter(([t]) => inside(t, 0.07)),
    between = truth.slice(0, -1).map((t, i) => (t + truth[i + 1]!) / 2);
  const m1 = match(found, truth, [], 0.07);
  add(h.beats, m1);
  if (fOf(m1) < 0.5 && fOf(match(found, between, [], 0.07)) > 0.5) h.offBeat++;
  for (const [t, bpm] of a.tempo) {
    const is = tempoAt(song.beats, t);
    if (!inside(t, 0) || !(is > 0)) continue;
    h.tempoAll++;
    h.tempoRight += Number(Math.abs(bpm / is - 1) < 0.04);
  }
}

/** Each stroke that is true: what was heard within 50 ms of it. */
function confuse(a: Analysis, m: Mixed, into: number[][]): void {
  STROKES.forEach((k, row) => {
    for (const t of m[k]) {
      into[row]![STROKES.length + 1]!++;
      let heard = false;
      STROKES.forEach((found, column) => {
        if (!a.hits[found].some(([x]) => Math.abs(x - t) < 0.05)) return;
        into[row]![column]!++;
        heard = true;
      });
      if (!heard) into[row]![STROKES.length]!++;
    }
  });
}

const AIMS: Readonly<Record<string, Readonly<Record<Stroke | 'beats', string>>>> = {
  arranged: { any: '≥ 0.92', kick: '≥ 0.8', snare: '≥ 0.75', hat: '', beats: '≥ 0.8' },
  dance: { any: '', kick: '', snare: '≥ 0.85', hat: '', beats: '≥ 0.9' },
};

function tell(report: Report, name: string, h: Heard, aims = AIMS.none): void {
  for (const k of STROKES) {
    const t = h.strokes[k],
      say = (what: string, value: number, unit: string, aim = ''): void =>
        report.add('music', `${name}: ${k}, ${what}`, value, unit, aim);
    say('F (±50 ms)', fOf(t), '', aims?.[k]);
    say('precision', precisionOf(t), '');
    say('recall', recallOf(t), '');
    say('known after, median', 1000 * quantile(t.late, 0.5), 'ms', k === 'any' ? '≤ 8' : '≤ 22');
    say('said against was, median', 1000 * quantile(t.off.map(Math.abs), 0.5), 'ms', '≤ 2.5');
  }
  if (h.tempoAll === 0) return;
  report.add('music', `${name}: beats, F (±70 ms) after 8 s`, fOf(h.beats), '', aims?.beats);
  report.add('music', `${name}: pieces half a beat off`, h.offBeat / h.pieces, '');
  report.add('music', `${name}: time at the right tempo`, h.tempoRight / h.tempoAll, '');
}

type Kind = 'arranged' | 'dance';
const songOf = (kind: Kind, seed: number, side: Side): Song | null =>
  kind === 'arranged' ? makeArranged(seed, side, SECONDS) : makeDance(seed, side, SECONDS);

export function musicReport(report: Report, quick: boolean): MusicShown {
  const shown: MusicShown = { confusion: {}, off: {}, phase: [], played: {}, absent: [] };
  const absent = (what: string): void => {
    shown.absent.push(what);
    report.absent('music', what);
  };
  if (!hasGeneralMidi()) absent('General MIDI soundfonts are not installed (fluidsynth, fluid-soundfont-gm)');
  for (const side of SIDES) {
    if (fontsOfSide(side).length === 0) absent(`no soundfont of the ${side} side is installed`);
    if (recordedKits(side).length === 0)
      absent(`no recorded kit of the ${side} side is installed (hydrogen-drumkits, sox)`);
  }
  if (!hasArranger()) absent('the accompaniment generator is not installed (mma): no arranged pieces');
  absent('kits of lmms-common are in neither side: they could not be had when this was tuned');
  for (const kind of ['arranged', 'dance'] as const) {
    if (kind === 'arranged' && !(hasArranger() && hasGeneralMidi())) continue;
    for (const side of SIDES) of(kind, side, report, quick, shown);
    hard(kind, report, quick);
  }
  clicks(report, quick);
  for (const side of SIDES) lines(side, report, quick);
  return shown;
}

function of(kind: Kind, side: Side, report: Report, quick: boolean, shown: MusicShown): void {
  const name = `${kind}, ${side}`,
    h = nothing(),
    confusion = STROKES.map(() => new Array<number>(STROKES.length + 2).fill(0)),
    count = quick ? 3 : side === 'unknown' ? 16 : 10;
  for (let i = 0; i < count; i++) {
    const seed = FRESH + i,
      song = songOf(kind, seed, side);
    if (!song) continue;
    const m = record(song, drawTreatment(seed, side), seed),
      a = listen(m);
    hear(a, m, song, h);
    confuse(a, m, confusion);
    (shown.played[name] ??= []).push(song.from.join(', '));
    if (song.beatKnown && side === 'unknown')
      shown.phase.push({ name: `${kind}: ${song.from[0]}`, points: phases(a, song.beats) });
  }
  shown.confusion[name] = confusion;
  shown.off[name] = h.strokes.any.off.map((s) => Math.round(s * 1e5) / 100);
  tell(report, name, h, AIMS[kind]);
}

/** Where each found beat lies in the true one. */
function phases(a: Analysis, beats: readonly number[]): [number, number][] {
  return a.beats.flatMap(([t]): [number, number][] => {
    const i = beats.findIndex((b) => b > t);
    if (i < 1) return [];
    const at = (t - beats[i - 1]!) / (beats[i]! - beats[i - 1]!);
    return [[Math.round(t * 100) / 100, Math.round((at > 0.5 ? at - 1 : at) * 1000) / 1000]];
  });
}

/** The same mix as it is, and as bad gear gives it. */
function hard(kind: Kind, report: Report, quick: boolean): void {
  const ways: Readonly<Record<string, (m: Mixed) => Mixed>> = {
    'as it is': (m) => m,
    'with an offset of 0.3': (m) => over(m, (x) => 0.5 * x + 0.3),
    'left side alone': (m) => ({ ...m, right: new Float32Array(m.left.length) }),
    'at half the loudness': (m) => over(m, (x) => 0.5 * x),
    'fading by 30 dB': (m) => over(m, (x, share) => x * 10 ** ((-30 * share) / 20)),
  };
  const heard = Object.fromEntries([...Object.keys(ways), 'clipped by 15 dB'].map((w) => [w, nothing()]));
  for (let i = 0; i < (quick ? 2 : 10); i++) {
    const seed = FRESH + i * 2,
      song = songOf(kind, seed, 'unknown');
    if (!song) continue;
    const { gainsDb, kickDb } = drawTreatment(seed, 'unknown'),
      plain: Treatment = { gainsDb, ...(kickDb !== undefined && { kickDb }), peakDb: -1 },
      m = record(song, plain, seed);
    for (const [way, change] of Object.entries(ways)) hear(listen(change(m)), m, song, heard[way]!);
    const clipped = record(song, { ...plain, clipDb: 15 }, seed);
    hear(listen(clipped), clipped, song, heard['clipped by 15 dB']!);
  }
  const whole = heard['as it is']!;
  for (const [way, h] of Object.entries(heard)) {
    const name = `${kind}, unknown, ${way}`,
      no = way === 'as it is';
    report.add('music', `${name}: any, F (±50 ms)`, fOf(h.strokes.any), '');
    report.add(
      'music',
      `${name}: any, precision`,
      precisionOf(h.strokes.any),
      '',
      way.startsWith('clipped') ? '≥ 0.85' : '',
    );
    report.add(
      'music',
      `${name}: kick, F (±50 ms)`,
      fOf(h.strokes.kick),
      '',
      way.includes('offset') ? `≥ ${(fOf(whole.strokes.kick) - 0.01).toFixed(3)}` : '',
    );
    report.add(
      'music',
      `${name}: beats, F (±70 ms) after 8 s`,
      fOf(h.beats),
      '',
      no || way.startsWith('clipped') ? '' : `≥ ${(fOf(whole.beats) - 0.05).toFixed(3)}`,
    );
  }
}
function over(m: Mixed, f: (x: number, share: number) => number): Mixed {
  const n = m.left.length,
    of = (c: Float32Array): Float32Array => c.map((x, i) => f(x, i / n));
  return { ...m, left: of(m.left), right: of(m.right) };
}

function clicks(report: Report, quick: boolean): void {
  const t = tally();
  for (let i = 0; i < (quick ? 4 : 12); i++) {
    const c = clicksInNoise(FRESH + i, 16, 0.5);
    add(t, match(listen(c).hits.any, c.onsets, [], 0.05));
  }
  report.add('music', 'clicks as loud as the noise around them: recall', recallOf(t), '', '≥ 0.95');
  report.add('music', 'clicks as loud as the noise around them: precision', precisionOf(t), '');
}

/** Lines of one voice: when notes begin, and which pitch they have. */
function lines(side: Side, report: Report, quick: boolean): void {
  const begins = tally(),
    tied = { found: 0, all: 0 },
    pitch = { low: [0, 0], high: [0, 0] };
  for (let i = 0; i < (quick ? 4 : 14); i++) {
    const { sound, notes } = makeLine(FRESH + i, side, 12),
      hearing = new Hearing(48000, 256),
      { noteBegins: listener, pitch: looked } = hearing,
      hop = makeHop(256),
      found: [number, number][] = [];
    hop.mono = true;
    for (let k = 0; (k + 1) * 256 <= sound.length; k++) {
      hop.left.set(sound.subarray(k * 256, (k + 1) * 256));
      hop.right.set(hop.left);
      hop.time = (k * 256) / 48000;
      hearing.process(hop);
      const now = ((k + 1) * 256) / 48000;
      if (listener.begun) found.push([now - listener.ago, now]);
      if (k % 2 === 1) {
        const n = notes.findLast((x) => now > x.t + 0.11 && now < x.end - 0.02),
          next = n && notes[notes.indexOf(n) + 1];
        if (n && !(next && now > next.t - 0.06)) {
          const hz = 440 * 2 ** ((n.key - 69) / 12),
            right = looked.confidence >= 0.4 && Math.abs(1200 * Math.log2(looked.hz / hz)) < 70,
            to = pitch[hz < 1200 ? 'low' : 'high'];
          to[0]! += Number(right);
          to[1]!++;
        }
      }
      hearing.finish(hop);
    }
    add(
      begins,
      match(
        found,
        notes.map((n) => n.t),
        [],
        0.05,
      ),
    );
    for (const n of notes) {
      if (!n.tied) continue;
      tied.all++;
      if (found.some(([t]) => Math.abs(t - n.t) < 0.05)) tied.found++;
    }
  }
  const name = `lines, ${side}`;
  report.add('music', `${name}: note begins, F (±50 ms)`, fOf(begins), '');
  report.add(
    'music',
    `${name}: note begins without a rise in level, recall`,
    tied.found / tied.all,
    '',
    '≥ 0.85',
  );
  report.add('music', `${name}: note begins, known after, median`, 1000 * quantile(begins.late, 0.5), 'ms');
  report.add('music', `${name}: pitch right, below 1.2 kHz`, pitch.low[0]! / pitch.low[1]!, '');
  if (pitch.high[1]! > 0)
    report.add('music', `${name}: pitch right, 1.2 to 5 kHz`, pitch.high[0]! / pitch.high[1]!, '', '≥ 0.97');
}
