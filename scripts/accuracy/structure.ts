/** How right the hearing of structure is: on planned dance pieces of kinds that were kept out, and on music in which nothing drops. */
import { makeHop } from '../../src/core/audio/hop';
import { BeatClock } from '../../src/core/beat/beatClock';
import { type PhraseBars, PHRASES } from '../../src/core/beat/barGrid';
import { Hearing } from '../../src/core/hearing/hearing';
import { type Turn, TURNS } from '../../src/core/hearing/structureListener';
import type { Tempo } from '../../src/core/show';
import { makeArranged } from '../material/arranged';
import { makeDance } from '../material/dance';
import { formOf } from '../material/form';
import type { Side } from '../material/kinds';
import { lineSong } from '../material/lines';
import type { Mixed } from '../material/mix';
import { drawTreatment, record } from '../material/record';
import type { Passage, Song } from '../material/song';
import { add, fOf, match, precisionOf, recallOf, tally, type Tally } from './matching';
import { quantile, type Report } from './report';

const FRESH = 70000;
const FOUND: Tempo = { source: 'found', bpm: 120, beatsPerBar: 4, anchor: 0, input: null, multiple: 1 };
/** What is told of, as [when, known at, how sure]. */
interface Told {
  readonly turns: Readonly<Record<Turn, [number, number, number][]>>;
  readonly phrases: Readonly<Record<PhraseBars, number[]>>;
  /** How far a build was said to have come, every tenth of a second. */
  readonly progress: number[];
}

/** @param beats - whether beats are found too, without which there are no phrases */
export function listenToStructure({ left, right }: Pick<Mixed, 'left' | 'right'>, beats = true): Told {
  const hearing = new Hearing(48000, 256),
    clock = new BeatClock(),
    { structure } = hearing,
    beat = beats ? hearing.beat : null,
    hop = makeHop(256),
    dt = 256 / 48000,
    turns = Object.fromEntries(TURNS.map((t) => [t, []])) as unknown as Told['turns'],
    phrases = Object.fromEntries(PHRASES.map((n) => [n, []])) as unknown as Told['phrases'],
    progress: number[] = [];
  structure.pace = clock;
  for (let k = 0; (k + 1) * 256 <= left.length; k++) {
    hop.left.set(left.subarray(k * 256, (k + 1) * 256));
    hop.right.set(right.subarray(k * 256, (k + 1) * 256));
    hop.time = k * dt;
    hearing.process(hop);
    clock.step(FOUND, dt, hop.time, true, beat);
    const now = (k + 1) * dt;
    TURNS.forEach((turn, i) => {
      if (structure.told[i]) turns[turn].push([now - structure.ago[i]!, now, structure.sure[i]!]);
    });
    if (structure.barBegins)
      for (const n of PHRASES) if (structure.grid.barOf(n) === 0) phrases[n].push(now - structure.barAgo);
    if (now >= progress.length / 10) progress.push(structure.progress);
    hearing.finish(hop);
  }
  return { turns, phrases, progress };
}

/** When each turn truly was. */
function truthOf(passages: readonly Passage[]): Readonly<Record<Turn, number[]>> {
  const truth: Record<Turn, number[]> = { break: [], build: [], drop: [], return: [], section: [] };
  passages.forEach(({ what, from }, i) => {
    const was = passages[i - 1]?.what;
    if (!was) return;
    truth.section.push(from);
    if (what === 'break' || what === 'build') truth[what].push(from);
    else if (was === 'build') truth.drop.push(from);
    else if (was === 'break') truth.return.push(from);
  });
  return truth;
}
/** Within what each counts as the same, in seconds: a break, a build and a section are heard as they go on. */
const NEAR: Readonly<Record<Turn, number>> = { drop: 0.5, return: 0.5, break: 3, build: 4, section: 2 };

export function structureReport(report: Report, quick: boolean): void {
  for (const side of ['known', 'unknown'] as const) dance(side, report, quick ? 3 : 14);
  let minutes = 0;
  const falsely = { drop: 0, build: 0 };
  for (let i = 0; i < (quick ? 2 : 10); i++) {
    const seed = FRESH + 500 + i,
      song = i % 2 === 0 ? makeArranged(seed, 'unknown', 100) : lineSong(seed, 'unknown', 60);
    if (!song) continue;
    const { turns } = listenToStructure(record(song, drawTreatment(seed, 'unknown'), seed));
    minutes += song.seconds / 60;
    falsely.drop += turns.drop.length;
    falsely.build += turns.build.length;
  }
  if (minutes === 0) {
    report.absent('structure', 'mma is not installed, so that drops were sought in dance music alone');
    return;
  }
  report.add(
    'structure',
    'music without drops, unknown: drops in ten minutes',
    (10 * falsely.drop) / minutes,
    '',
    '≤ 1',
  );
  report.add(
    'structure',
    'music without builds, unknown: builds in ten minutes',
    (10 * falsely.build) / minutes,
    '',
  );
}

function dance(side: Side, report: Report, pieces: number): void {
  const all = Object.fromEntries(TURNS.map((t) => [t, tally()])) as Record<Turn, Tally>,
    early = { told: 0, all: 0 },
    phrase = { right: 0, all: 0 },
    off: number[] = [];
  let minutes = 0;
  for (let i = 0; i < pieces; i++) {
    const seed = FRESH + i,
      song: Song = makeDance(seed, side, 160, formOf(seed)),
      told = listenToStructure(record(song, drawTreatment(seed, side), seed)),
      truth = truthOf(song.passages!);
    minutes += song.seconds / 60;
    for (const t of TURNS) add(all[t], match(told.turns[t], truth[t], [], NEAR[t]));
    const beat = song.beats[1]! - song.beats[0]!;
    for (const drop of truth.drop) {
      const build = song.passages!.find((p) => p.what === 'build' && Math.abs(p.to - drop) < 0.01)!;
      early.all++;
      if (told.turns.build.some(([, known]) => known >= build.from && known <= drop - 4 * beat)) early.told++;
    }
    for (const p of song.passages!.filter((x) => x.what === 'build'))
      for (let t = p.from + 4; t < p.to; t += 0.1) {
        const said = told.progress[Math.floor(t * 10)] ?? 0;
        if (said > 0) off.push(Math.abs(said - (t - p.from) / (p.to - p.from)));
      }
    // Passages begin where a phrase of four does; by then one was heard.
    for (const p of song.passages!.slice(2)) {
      phrase.all++;
      if (told.phrases[4].some((t) => Math.abs(t - p.from) < beat / 2)) phrase.right++;
    }
  }
  const name = `dance, ${side}`,
    counts = side === 'unknown';
  report.add('structure', `${name}: drops, F (±0.5 s)`, fOf(all.drop), '', counts ? '≥ 0.8' : '');
  report.add(
    'structure',
    `${name}: false drops in ten minutes`,
    (10 * all.drop.fp) / minutes,
    '',
    counts ? '≤ 1' : '',
  );
  report.add(
    'structure',
    `${name}: a drop is known after, median`,
    1000 * quantile(all.drop.late, 0.5),
    'ms',
  );
  report.add(
    'structure',
    `${name}: builds told four beats before the drop or earlier`,
    early.told / early.all,
    '',
    counts ? '≥ 0.7' : '',
  );
  report.add('structure', `${name}: how far a build has come, off by, median`, quantile(off, 0.5), '');
  for (const t of ['build', 'break', 'return', 'section'] as const) {
    report.add('structure', `${name}: ${t}, precision (±${NEAR[t]} s)`, precisionOf(all[t]), '');
    report.add('structure', `${name}: ${t}, recall`, recallOf(all[t]), '');
  }
  report.add(
    'structure',
    `${name}: passages that begin where a phrase of four was told`,
    phrase.right / Math.max(1, phrase.all),
    '',
  );
}
