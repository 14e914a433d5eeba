/** A night by chance, from a seed: acts, edits, and faults in between, on the real conductor. */
import type { Act } from '../../src/core/acts';
import { ferryShow } from '../../src/core/ferry';
import { Conductor, type HopSource } from '../../src/core/plan';
import { seeded } from '../../src/core/random';
import type { Cue, Look, Show } from '../../src/core/show';

const ferry = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
const KEYS = [
  'stars/glow',
  'camera/zoom',
  'rail-2/dimmer',
  'river/swell',
  'moon/glow',
  'beam-river/brightness',
  'mast-left/dimmer',
] as const;

export interface ChanceNight {
  /** The sum of all parameters after each step. */
  readonly sums: Float64Array;
  readonly acts: number;
  readonly edits: number;
  readonly faults: number;
  /** Steps after which some parameter was no number, or beyond its bounds. */
  readonly wrong: number;
}

/** Plays so many steps, each an act (8 of 10), an edit or a fault, and some ticks. The same seed gives the same night. */
export function chanceNight(seed: number, steps: number): ChanceNight {
  const random = seeded(seed),
    pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!,
    value = (): Look['values'] =>
      Object.fromEntries(KEYS.filter(() => random() < 0.5).map((k) => [k, 1 + random()]));
  let show: Show = {
    ...ferry,
    tempo: { ...ferry.tempo, source: 'typed', bpm: 120 },
    looks: Array.from({ length: 20 }, (_, i): Look => ({
      id: `l${i}`,
      name: `l${i}`,
      values: value(),
      routes: {},
      key: null,
    })),
    cues: Array.from({ length: 30 }, (_, i): Cue => ({
      id: `c${i}`,
      number: i + 1,
      name: '',
      note: '',
      look: `l${Math.floor(random() * 22)}`,
      leaveOut: random() < 0.2 ? ['lamps'] : [],
      fade: { unit: pick(['seconds', 'bars']), length: random(), from: pick(['now', 'beat', 'bar']) },
      delay: random() < 0.2 ? random() : 0,
      follow: random() < 0.2 ? { kind: 'seconds', after: random() } : null,
      song: null,
    })),
    songs: [],
    home: 'l0',
  };
  // What is heard is chance too, and now and then no number at all.
  let broken = 0;
  const sound: HopSource = {
    fill(_, hop) {
      for (let i = 0; i < hop.frames; i++)
        hop.left[i] = hop.right[i] = broken > 0 ? (i % 3 === 0 ? NaN : Infinity) : 0.3 * (random() - 0.5);
      return true;
    },
  };
  let conductor = new Conductor();
  conductor.setShow(show);
  const sums = new Float64Array(steps);
  let tick = 0,
    acts = 0,
    edits = 0,
    faults = 0,
    wrong = 0;
  const act = (): Act =>
    pick<() => Act>([
      () => ({ do: 'go' }),
      () => ({ do: 'back' }),
      () => ({ do: 'cue', cue: pick(show.cues).id }),
      () => ({ do: 'next', cue: random() < 0.5 ? null : pick(show.cues).id }),
      () => ({ do: 'look', look: pick(show.looks).id }),
      () => ({
        do: 'master',
        master: pick(['all', 'lamps', 'picture', 'moves']),
        value: random() * 1.2 - 0.1,
      }),
      () => ({ do: pick(['flash', 'alone']), master: pick(['lamps', 'picture']), on: random() < 0.5 }),
      () => ({ do: pick(['dark', 'freeze']), on: random() < 0.3, over: random() < 0.5 ? 0 : random() }),
      () => ({ do: 'hand', key: pick(KEYS), value: random() < 0.5 ? [random()] : null }),
      () => ({ do: 'home' }),
      () => ({ do: 'give back' }),
    ])();
  for (let i = 0; i < steps; i++) {
    const x = random();
    if (x < 0.1) {
      edits++;
      show =
        random() < 0.5
          ? { ...show, looks: show.looks.map((l) => (random() < 0.1 ? { ...l, values: value() } : l)) }
          : {
              ...show,
              cues: show.cues.map((c) => (random() < 0.1 ? { ...c, look: pick(show.looks).id } : c)),
            };
      conductor.setShow(show);
    } else if (x < 0.11) {
      faults++;
      if (random() < 0.5) broken = 2;
      else {
        // Its thread was started again, from show and memory.
        const { dark, freeze } = conductor,
          memory = conductor.remembered();
        conductor = new Conductor();
        conductor.setMemory({ ...memory, dark, freeze });
        conductor.setShow(show);
      }
    } else {
      acts++;
      conductor.perform(act());
    }
    for (let n = 1 + Math.floor(random() * 3); n > 0; n--) conductor.tick(tick++, sound);
    if (broken > 0) broken--;
    let sum = 0;
    for (const v of conductor.parameters) sum += v;
    sums[i] = sum;
    if (!Number.isFinite(sum)) wrong++;
  }
  return { sums, acts, edits, faults, wrong };
}
