/**
 * Eight hours of a night in simulation: every tick of the real conductor, an act every ten seconds, and the log of it all. Nothing is
 * heard in it: listening alone would take two of those hours.
 */
import v8 from 'node:v8';
import vm from 'node:vm';
import type { Act, Performed } from '../../src/core/acts';
import { ferryShow } from '../../src/core/ferry';
import { NightLog } from '../../src/core/log';
import { Conductor, type HopSource, tempoSignal } from '../../src/core/plan';
import type { Show } from '../../src/core/show';

const HOP = 256 / 48000,
  BPM = 112.5,
  BEATS = 4,
  ACT_EVERY = 10,
  /** A fade that is looked at: two seconds, which is 375 ticks. */
  FADE = 2;

export interface EightHours {
  readonly ticks: number;
  /** Ticks after which some parameter was no number. */
  readonly wrong: number;
  /** How far the beat is from where a clock has it, in beats. */
  readonly drift: number;
  /** The heap after the last hour against that after the first. */
  readonly memory: number;
  /** Acts that the log does not have. */
  readonly missing: number;
  /** Fades that did not take just as many ticks as their time has. */
  readonly inexact: number;
  /** How much faster than time it ran. */
  readonly pace: number;
}

function heapNow(): number {
  v8.setFlagsFromString('--expose-gc');
  (vm.runInNewContext('gc') as () => void)();
  return process.memoryUsage().heapUsed;
}

export function eightHours(hours = 8): EightHours {
  const ferry = ferryShow({
    stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
    badge: 'a',
    tune: 'a',
  });
  const show: Show = { ...ferry, tempo: { ...ferry.tempo, source: 'typed', bpm: BPM }, inputs: [], ears: [] },
    looks = show.looks.map((l) => l.id),
    conductor = new Conductor();
  conductor.setShow(show);
  const silent: HopSource = { fill: () => false };
  const ticks = Math.round((hours * 3600) / HOP),
    hour = Math.round(3600 / HOP),
    actEvery = Math.round(ACT_EVERY / HOP),
    second = Math.round(1 / HOP);
  let lines = 0,
    acts = 0,
    wrong = 0,
    inexact = 0,
    fadeFrom = -1,
    first = 0;
  const log = new NightLog((line) => {
    if (line.kind === 'act') lines++;
  });
  let waiting: Performed[] = [];
  const perform = (act: Act, tick: number): void => {
    acts++;
    conductor.perform(act);
    waiting.push({ act, who: 'window', at: tick * HOP * 1000 });
  };
  const barAt = conductor.map().signals[tempoSignal('bar')]!,
    began = performance.now();
  let start = NaN;
  for (let tick = 0; tick < ticks; tick++) {
    if (tick % actEvery === 0) {
      const n = tick / actEvery;
      if (n % 3 === 2) perform({ do: 'master', master: 'lamps', value: (n % 7) / 7 }, tick);
      else {
        perform(
          {
            do: 'look',
            look: looks[n % looks.length]!,
            fade: { unit: 'seconds', length: FADE, from: 'now' },
          },
          tick,
        );
        fadeFrom = tick;
      }
    }
    conductor.tick(tick, silent);
    if (tick === 0) start = conductor.store.values[barAt]!;
    if (fadeFrom >= 0 && conductor.stage.share >= 1) {
      if (tick - fadeFrom + 1 !== Math.round(FADE / HOP)) inexact++;
      fadeFrom = -1;
    }
    if (tick % second === 0) {
      log.acts(show, waiting);
      log.stage(show, conductor.stage.state, tick * HOP * 1000);
      waiting = [];
      for (const v of conductor.parameters)
        if (!Number.isFinite(v)) {
          wrong++;
          break;
        }
    }
    if (tick === hour) first = heapNow();
  }
  log.acts(show, waiting);
  const took = (performance.now() - began) / 1000,
    bars = ((ticks - 1) * HOP * BPM) / 60 / BEATS,
    off = conductor.store.values[barAt]! - start - bars;
  return {
    ticks,
    wrong,
    drift: BEATS * Math.abs(off - Math.round(off)),
    memory: first > 0 ? heapNow() / first : NaN,
    missing: acts - lines,
    inexact,
    pace: (hours * 3600) / took,
  };
}
