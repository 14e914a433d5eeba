/** How a tempo is followed that slides or leaps: by our own patterns, by arranged pieces, and from one dance track to the next. */
import { analyseSound, type Analysis } from '../../src/core/analyse/analyseSound';
import { hasArranger, makeArranged, type TempoChange } from '../material/arranged';
import { makeDance } from '../material/dance';
import { hasGeneralMidi } from '../material/generalMidi';
import type { Side } from '../material/kinds';
import { mixPiece } from '../material/mix';
import { drawTreatment, record } from '../material/record';
import { makePiece, type Style } from '../material/score';
import type { Report } from './report';

/** Seeds from here on were never tuned on. */
const FRESH = 50000,
  /** What counts as right, and as another tempo than at the beginning. */
  RIGHT = 0.04,
  CHANGED = 0.05,
  SETTLED = 8;
const STYLES: readonly Style[] = ['straight', 'swung', 'syncopated', 'sparse', 'three'];

/** The tempo at a time by the beats around it, in beats a minute; NaN at the ends. */
export function tempoAt(beats: readonly number[], t: number): number {
  const i = beats.findIndex((b) => b > t);
  return i < 2 || i + 1 >= beats.length ? NaN : (60 * 3) / (beats[i + 1]! - beats[i - 2]!);
}

interface Piece {
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly beats: readonly number[];
}
/** Times at which the tempo was looked at, and of these those at which it was right, or its half or double. */
export interface Followed {
  all: number;
  right: number;
  halfOrDouble: number;
}
const near = (a: number, b: number): boolean => Math.abs(a / b - 1) < RIGHT;

/** Looks at a tempo once it is another than it was. @param tempo - what was found, as [when, beats a minute] */
export function follow(
  tempo: readonly (readonly [number, number, ...unknown[]])[],
  beats: readonly number[],
  into: Followed,
): void {
  const first = tempoAt(beats, beats[4] ?? 0),
    end = (beats.at(-1) ?? 0) - 1;
  for (const [t, bpm] of tempo) {
    const is = tempoAt(beats, t);
    if (!(is > 0) || t < SETTLED || t > end || Math.abs(is / first - 1) <= CHANGED) continue;
    into.all++;
    if (near(bpm, is)) into.right++;
    else if (near(bpm, 2 * is) || near(2 * bpm, is)) into.halfOrDouble++;
  }
}

const listen = ({ left, right }: Piece): Analysis =>
  analyseSound({
    sampleRate: 48000,
    frames: left.length,
    duration: left.length / 48000,
    channels: [left, right],
  });

/** A pattern that goes to another tempo, which lies between 70 and 180 as it does: over ten seconds, or at once. */
function ownPiece(i: number, change: TempoChange): Piece {
  const seed = FRESH + 3200 + i,
    from = 92 + ((i * 37) % 46),
    to = from * (i % 2 === 1 ? 1.28 : 0.78),
    way = (t: number): number =>
      change === 'leaps' ? Number(t >= 18) : Math.min(1, Math.max(0, (t - 14) / 10)),
    piece = makePiece(seed, {
      style: STYLES[i % STYLES.length]!,
      bpm: from,
      bpmAt: (t) => from + (to - from) * way(t),
      seconds: 44,
    });
  const mixed = mixPiece(piece, {
    source: hasGeneralMidi() ? 'gm' : 'own',
    bedDb: i % 3 === 0 ? -Infinity : -3,
    peakDb: -6,
    seed,
  });
  return { ...mixed, beats: piece.beats };
}

function arrangedPiece(i: number, side: Side, change: TempoChange): Piece | null {
  const seed = FRESH + 300 + i,
    song = makeArranged(seed, side, 40, change);
  return song?.beatKnown ? { ...record(song, drawTreatment(seed, side), seed), beats: song.beats } : null;
}

/** One track, cut, and then another. */
function danceCut(i: number, side: Side): Piece {
  const seed = FRESH + 400 + 2 * i,
    songs = [makeDance(seed, side, 22), makeDance(seed + 1, side, 22)] as const,
    a = record(songs[0], drawTreatment(seed, side), seed),
    b = record(songs[1], drawTreatment(seed + 1, side), seed + 1),
    cut = a.left.length / 48000;
  return {
    left: joined(a.left, b.left),
    right: joined(a.right, b.right),
    beats: [...songs[0].beats, ...songs[1].beats.map((t) => t + cut)],
  };
}
function joined(a: Float32Array, b: Float32Array): Float32Array {
  const both = new Float32Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}

export function tempoReport(report: Report, quick: boolean): void {
  const few = quick ? 2 : 10;
  const tell = (name: string, make: (i: number) => Piece | null, count: number, isJudged: boolean): void => {
    const f: Followed = { all: 0, right: 0, halfOrDouble: 0 };
    for (let i = 0; i < count; i++) {
      const piece = make(i);
      if (piece) follow(listen(piece).tempo, piece.beats, f);
    }
    if (f.all === 0) return;
    report.add(
      'tempo',
      `${name}: time at the right tempo once it is another`,
      f.right / f.all,
      '',
      isJudged ? '≥ 0.85' : '',
    );
    report.add('tempo', `${name}: time at its half or double`, f.halfOrDouble / f.all, '');
  };
  const ways = { slides: 'sliding', leaps: 'leaping' } as const;
  for (const change of ['slides', 'leaps'] as const)
    tell(`own patterns, ${ways[change]}`, (i) => ownPiece(i, change), few, true);
  for (const side of ['unknown', 'known'] as const) {
    tell(`dance, ${side}, from track to track`, (i) => danceCut(i, side), few, side === 'unknown');
    if (!(hasArranger() && hasGeneralMidi())) continue;
    for (const change of ['slides', 'leaps'] as const)
      tell(
        `arranged, ${side}, ${ways[change]}`,
        (i) => arrangedPiece(i, side, change),
        few,
        side === 'unknown',
      );
  }
  if (!(hasArranger() && hasGeneralMidi()))
    report.absent(
      'tempo',
      'the accompaniment generator (mma) or its soundfonts are not installed: no arranged pieces',
    );
}
