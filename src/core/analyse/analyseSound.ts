import { hopFrames, makeHop } from '../audio/hop';
import type { Pcm } from '../audio/wav';
import { makeEarRunner, type EarRunner, type EventSink } from '../ears/ear';
import { gainToDb, type DbFs, type Hz, type Seconds } from '../units';

/** The three bands of a first look at a sound. */
export const THREE_BANDS = { low: [30, 250], mid: [250, 2500], high: [2500, 16000] } as const satisfies Record<string, readonly [Hz, Hz]>;

export interface Analysis {
  readonly sampleRate: Hz;
  readonly duration: Seconds;
  /** Time, peak and RMS of each tenth of a second, in dBFS. */
  readonly level: readonly (readonly [Seconds, DbFs, DbFs])[];
  /** Time and RMS level of each band, in dBFS. */
  readonly bands: Readonly<Record<keyof typeof THREE_BANDS, readonly (readonly [Seconds, DbFs])[]>>;
}

const EVERY: Seconds = 0.1;
const NOBODY: EventSink = { event: () => undefined };

/** Gathers the hops of one reporting window: greatest peak, mean power. Stamped at the window's end. */
class Window {
  peak = 0;
  power = 0;
  hops = 0;
  add(x: number): void {
    if (x > this.peak) this.peak = x;
    this.power += x * x;
    this.hops++;
  }
  rms(): DbFs { return gainToDb(Math.sqrt(this.power / Math.max(1, this.hops))); }
  clear(): void { this.peak = this.power = this.hops = 0; }
}

/**
 * Runs the ears over a whole sound, hop by hop, exactly as the show does while it plays: strictly causal.
 * The last hop is filled up with silence.
 * @param sound - one or two channels are listened to; further ones are left out
 */
export function analyseSound(sound: Pcm): Analysis {
  const { sampleRate, frames, channels } = sound;
  const size = hopFrames(sampleRate);
  const hop = makeHop(size);
  const left = channels[0]!;
  const right = channels[1] ?? left;
  hop.mono = left === right;
  const ears: Record<string, { runner: EarRunner; window: Window }> = {
    peak: { runner: makeEarRunner({ kind: 'level', reading: 'peak' }, sampleRate), window: new Window() },
    rms: { runner: makeEarRunner({ kind: 'level', reading: 'rms' }, sampleRate), window: new Window() },
  };
  const bands = { low: [], mid: [], high: [] } as Record<keyof typeof THREE_BANDS, [Seconds, DbFs][]>;
  for (const name of Object.keys(THREE_BANDS) as (keyof typeof THREE_BANDS)[]) {
    const [low, high] = THREE_BANDS[name];
    ears[name] = { runner: makeEarRunner({ kind: 'band', low, high }, sampleRate), window: new Window() };
  }
  const all = Object.values(ears);
  const level: [Seconds, DbFs, DbFs][] = [];
  let report = 1;
  for (let at = 0; at < frames; at += size) {
    const n = Math.min(size, frames - at);
    for (let i = 0; i < size; i++) {
      hop.left[i] = i < n ? left[at + i]! : 0;
      hop.right[i] = i < n ? right[at + i]! : 0;
    }
    hop.time = at / sampleRate;
    for (const { runner, window } of all) {
      runner.process(hop, NOBODY);
      window.add(runner.value);
    }
    const known = Math.min(at + size, frames) / sampleRate;
    if (known + 1e-9 >= report * EVERY || at + size >= frames) {
      // A sound shorter than a tenth still gives one line; a rest shorter than a hop gives none.
      const t = Math.min(report * EVERY, frames / sampleRate);
      level.push([round(t), round(gainToDb(ears.peak!.window.peak)), round(ears.rms!.window.rms())]);
      for (const name of Object.keys(bands) as (keyof typeof THREE_BANDS)[]) bands[name].push([round(t), round(ears[name]!.window.rms())]);
      for (const { window } of all) window.clear();
      while (report * EVERY <= known + 1e-9) report++;
    }
  }
  return { sampleRate, duration: round(frames / sampleRate, 6), level, bands };
}

function round(x: number, digits = 3): number {
  const f = 10 ** digits;
  return Math.round(x * f) / f + 0; // never −0
}
