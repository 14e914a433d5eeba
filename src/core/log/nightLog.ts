import { latestOf, type Performed } from '../acts';
import type { Show, StageState } from '../show';
import { fadeWords } from '../stage';
import type { Milliseconds } from '../units';
import { actWords, cueName } from './actWords';
import type { LogLine } from './line';

/** What is wrong somewhere, as its sign says it. */
export interface NightFault {
  readonly who: string;
  readonly what: string;
}
/** A found tempo wavers: less than this, in beats a minute, is no change. */
const TEMPO_STEP = 1;

/** What a fault is known by: a count in its words rises, and it is the same one. */
const faultKey = ({ who, what }: NightFault): string => `${who}: ${what.replace(/[\d.,:]+/g, '#')}`;

/** Writes the night down as it goes: from how things stand it tells what became different. No clock and no store. */
export class NightLog {
  readonly #open = new Map<string, NightFault & { readonly since: Milliseconds }>();
  #cue: string | null = null;
  #look: string | null = null;
  #bpm = NaN;
  #source = '';

  /** @param write - takes each line; must not throw */
  constructor(readonly write: (line: LogLine) => void) {}

  /** Another show, or the same after a reload: what is in is told again. */
  show(name: string, stage: StageState, at: Milliseconds): void {
    this.#cue = stage.cue;
    this.#look = stage.look;
    this.#bpm = NaN;
    this.write({ at, kind: 'show', who: '', what: name });
  }
  /** Of what is dragged the last place is written, of everything else each act. @param performed - at most a second of them */
  acts(show: Show, performed: readonly Performed[]): void {
    for (const { act, who, hand, at } of latestOf(performed))
      this.write({ at, kind: 'act', who: hand ? `${who} ${hand}` : who, what: actWords(show, act), act });
  }
  /** What is in, however it came. */
  stage(show: Show, { cue, look }: StageState, at: Milliseconds): void {
    if (cue === this.#cue && look === this.#look) return;
    this.#cue = cue;
    this.#look = look;
    const looked = show.looks.find((l) => l.id === look)?.name ?? 'everything as it rests',
      taken = show.cues.find((c) => c.id === cue),
      comes = taken ? `, ${fadeWords(taken.fade, taken.delay)}` : '';
    this.write({ at, kind: 'cue', who: cue === null ? '' : cueName(show, cue), what: `${looked}${comes}` });
  }
  /** @param now - every fault that there is at this moment */
  faults(now: readonly NightFault[], at: Milliseconds): void {
    const is = new Set(now.map(faultKey));
    for (const [key, { who, what, since }] of this.#open)
      if (!is.has(key)) {
        this.#open.delete(key);
        this.write({ at, kind: 'mended', who, what, number: (at - since) / 1000 });
      }
    for (const fault of now)
      if (!this.#open.has(faultKey(fault))) {
        this.#open.set(faultKey(fault), { ...fault, since: at });
        this.write({ at, kind: 'fault', ...fault });
      }
  }
  /** How loud an input was at its loudest since it was last told. @param db - in dBFS */
  level(input: string, db: number, at: Milliseconds): void {
    const shown = Math.max(-120, Math.round(db * 10) / 10);
    this.write({ at, kind: 'level', who: input, what: 'loudest', number: shown });
  }
  /** @param bpm - beats a minute; 0 while none is found */
  tempo(bpm: number, source: string, at: Milliseconds): void {
    if (source === this.#source && Math.abs(bpm - this.#bpm) < TEMPO_STEP) return;
    this.#bpm = bpm;
    this.#source = source;
    this.write({
      at,
      kind: 'tempo',
      who: source,
      what: bpm > 0 ? 'tempo' : 'no tempo',
      number: Math.round(bpm * 10) / 10,
    });
  }
}
