import type { Hop } from '../../src/core/audio/hop';
import { strokeHit, bandOf } from '../../src/core/ears/ear';
import { renderFerry } from '../../src/core/ferry/demo';
import { ferryShow } from '../../src/core/ferry/show';
import { numberParameter } from '../../src/core/parameters/description';
import { Conductor } from '../../src/core/plan/conductor';
import { COLUMN_SECONDS, TRACE_COLUMNS } from '../../src/core/plan/traces';
import { seeded } from '../../src/core/random';
import { showIt, type Heard } from '../../src/core/shaping/showIt';
import { newInput } from '../../src/core/show/inputs';
import { signalsOf } from '../../src/core/show/signals';
import type { Ear, Show } from '../../src/core/show/types';
import { HOP } from '../../src/core/units';
import { hasGeneralMidi } from '../material/generalMidi';
import { mixPiece } from '../material/mix';
import { KITS, makePiece } from '../material/score';
import type { Report } from './report';

const HEIGHT = numberParameter({
  id: 'height',
  label: 'height',
  help: '',
  unit: 'px',
  min: -200,
  max: 400,
  rest: 0,
  reach: 20,
});
/** A movement lasts four bars of the demo. */
const MOVED = Math.round((16 * 60) / 112.5 / COLUMN_SECONDS);
type Fill = (input: string, hop: Hop, at: number) => boolean;

/** What a hand makes of a number: late by a lag that wavers, rounded off, trembling, at a size of its own. */
function byHand(source: Float32Array, random: () => number): Float32Array {
  const out = new Float32Array(source.length).fill(NaN),
    late = (0.05 + 0.2 * random()) / COLUMN_SECONDS,
    size = (30 + 100 * random()) * (random() < 0.15 ? -1 : 1);
  let low = Infinity,
    high = -Infinity;
  for (const x of source)
    if (x - x === 0) {
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
  let y = 0,
    waver = 0,
    tremble = 0;
  for (let i = source.length - MOVED; i < source.length; i++) {
    waver += ((random() - 0.5) * 6 - waver) * 0.1;
    tremble += (random() - 0.5 - tremble) * 0.3;
    const from = Math.max(0, Math.min(source.length - 1, i - late + waver)),
      k = Math.floor(from),
      x = source[k]!;
    const wanted = x - x === 0 ? (x - low) / Math.max(1e-9, high - low) : 0;
    y += (wanted - y) * (1 - Math.exp(-COLUMN_SECONDS / 0.05));
    out[i] = 40 + size * (y + 0.12 * tremble);
  }
  return out;
}
function ringing(hits: Float32Array): Float32Array {
  let x = 0;
  return hits.map((h) => (x = Math.max(x * Math.exp(-COLUMN_SECONDS / 0.12), h - h === 0 ? h : 0)));
}

/** Movements made from known signals of a show that hears these sounds: how many are traced back within the first three. */
function trials(
  show: Show,
  seconds: number,
  fill: Fill,
  random: () => number,
): { right: number; all: number } {
  const conductor = new Conductor(),
    signals = signalsOf(show).filter((s) => s.kind !== 'vector' && s.kind !== 'colour');
  conductor.setShow(show);
  let right = 0,
    all = 0,
    at = 0;
  const hops = Math.floor((seconds * 48000) / HOP),
    source = { fill: (input: string, hop: Hop): boolean => fill(input, hop, at) };
  for (let k = 0; k < hops; k++) {
    at = k * HOP;
    conductor.tick(k, source);
    if (k * HOP < 48000 * 12.5 || k % 600 !== 0) continue;
    const heard = signals.map((signal): Heard => {
      const trace = new Float32Array(TRACE_COLUMNS - 8);
      conductor.traces.read(conductor.store.find(signal.id)!, trace);
      return { signal, trace };
    });
    for (const { signal, trace } of heard) {
      const made = signal.kind === 'event' ? ringing(trace) : trace,
        part = made.subarray(made.length - MOVED);
      // A signal that hardly sounded in these bars was not what anybody moved to.
      const most = part.reduce((m, x) => (x > m ? x : m), 0),
        above = part.reduce((n, x) => n + (x > most / 3 ? 1 : 0), 0);
      if (most < signal.usual / 20 || above < 12 || above > MOVED * 0.9) continue;
      all++;
      if (
        showIt(byHand(made, random), heard, HEIGHT, COLUMN_SECONDS)
          .slice(0, 3)
          .some((l) => l.signal === signal.id)
      )
        right++;
    }
  }
  return { right, all };
}

/** *Show it* on the demo, and on music of the project's own making. */
export function showItReport(report: Report, quick: boolean): void {
  const random = seeded(31);
  const { stems } = renderFerry(),
    deck = ['lowDrum', 'snareDrum', 'shaker', 'bell'] as const;
  const ferry = ferryShow({
    stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
    badge: 'a',
    tune: 'a',
  });
  const lap = stems.voice.length;
  const demo = trials(
    ferry,
    lap / 48000,
    (input, hop, at) => {
      for (let i = 0; i < HOP; i++) {
        let x = 0;
        if (input === 'host') x = stems.voice[(at + i) % lap]!;
        else if (input === 'deck') for (const s of deck) x += stems[s][(at + i) % lap]!;
        hop.left[i] = hop.right[i] = x;
      }
      hop.mono = true;
      return true;
    },
    random,
  );
  report.add(
    'show it',
    `the demo: traced back within the first three (of ${demo.all})`,
    demo.right / demo.all,
    '',
    '≥ 0.95',
  );
  const ears: Ear[] = (
    [
      ['level', { kind: 'level', reading: 'rms' }],
      ['low', bandOf(40, 140)],
      ['middle', bandOf(300, 1200)],
      ['high', bandOf(4000, 12000)],
      ['kick', strokeHit('kick')],
      ['snare', strokeHit('snare')],
      ['hat', strokeHit('hat')],
    ] as const
  ).map(([id, listening]) => ({ id, name: id, input: 'in', channel: 'sum', listening }));
  const show: Show = {
    ...ferry,
    inputs: [{ ...newInput('in', 'in', false), kind: 'device', deviceId: '', deviceName: '' }],
    ears,
    routes: [],
  };
  const music = { right: 0, all: 0 };
  for (let i = 0; i < (quick ? 3 : 10); i++) {
    const piece = makePiece(57000 + i, {
      seconds: 30,
      bpm: 80 + ((i * 37) % 90),
      kit: KITS[i % KITS.length]!,
    });
    const { left, right } = mixPiece(piece, {
      source: hasGeneralMidi() && i % 2 ? 'gm' : 'own',
      bedDb: -3,
      peakDb: -6,
      seed: i,
    });
    const t = trials(
      show,
      30,
      (_, hop, at) => {
        hop.left.set(left.subarray(at, at + HOP));
        hop.right.set(right.subarray(at, at + HOP));
        hop.mono = false;
        return at + HOP <= left.length;
      },
      random,
    );
    music.right += t.right;
    music.all += t.all;
  }
  report.add('show it', `generated music: the same (of ${music.all})`, music.right / music.all, '', '≥ 0.95');
}
