import { makeHop, readWav, Spectrum, SPECTRUM_POINTS, takeSamples } from '../../core/audio';
import { makeEarRunner, signalKindOf } from '../../core/ears';
import { InputHearing } from '../../core/hearing';
import { columnOfTick, TICKS_PER_COLUMN } from '../../core/plan';
import { HOP, SAMPLE_RATE } from '../../core/units';
import { BLOCK_FRAMES, Control, Word, type ControlMemory } from '../memory/control';
import type { HistoryAnswer, HistoryAsk } from '../memory/messages';
import { PcmRing } from '../memory/pcmRing';
import { Recorder } from './recorder';

/** Main → helper: reads a WAV at 48 kHz into shared memory, off the interface's thread. */
export interface ReadWavAsk {
  readonly type: 'wav';
  readonly id: number;
  readonly bytes: ArrayBuffer;
}
export type ReadWavAnswer =
  | {
      readonly type: 'wav';
      readonly id: number;
      readonly left: SharedArrayBuffer;
      readonly right: SharedArrayBuffer | null;
    }
  /** Not a WAV at 48 kHz: somebody else must decode it. */
  | { readonly type: 'other'; readonly id: number };

function share(x: Float32Array): SharedArrayBuffer {
  const memory = new SharedArrayBuffer(x.length * 4);
  takeSamples(x, new Float32Array(memory));
  return memory;
}

function readForPlaying({ id, bytes }: ReadWavAsk): ReadWavAnswer {
  try {
    const { sampleRate, channels } = readWav(new Uint8Array(bytes));
    if (sampleRate === SAMPLE_RATE)
      return { type: 'wav', id, left: share(channels[0]!), right: channels[1] ? share(channels[1]) : null };
  } catch {
    /* the browser's own decoder says what is wrong with it */
  }
  return { type: 'other', id };
}

/** Goes over recent sound with the very code that listens live. */
function goBack({ id, ring: memory, stereo, gain, from, to, what }: HistoryAsk): HistoryAnswer {
  const ring = new PcmRing(memory);
  const hop = makeHop(HOP);
  hop.mono = !stereo;
  const hearing = new InputHearing(SAMPLE_RATE, HOP);
  const runner =
    what.kind === 'ear' ? makeEarRunner(what.ear.listening, { hearing: hearing.of(what.ear.channel) }) : null;
  const channel = what.kind === 'ear' ? what.ear.channel : 'sum';
  const spectrum = what.kind === 'field' ? new Spectrum(SAMPLE_RATE) : null;
  const event = what.kind === 'ear' && signalKindOf(what.ear.listening) === 'event';
  const column = columnOfTick(from);
  const per = spectrum ? SPECTRUM_POINTS : 1;
  const values = new Float32Array((columnOfTick(to - 1) - column + 1) * per).fill(NaN);
  const members =
    what.kind === 'ear' && what.ear.listening.kind === 'bands'
      ? Array.from(runner!.vector!, () => new Float32Array(values.length).fill(NaN))
      : [];
  let strongest = 0;
  const events = {
    event: (_: number, strength: number): void => {
      strongest = Math.max(strongest, strength);
    },
  };
  for (let k = from; k < to; k++) {
    ring.read(k * HOP, hop.left, hop.right, HOP);
    for (let i = 0; i < HOP; i++) {
      hop.left[i]! *= gain;
      hop.right[i]! *= gain;
    }
    hop.time = (k * HOP) / SAMPLE_RATE;
    const at = columnOfTick(k) - column;
    if (runner) {
      strongest = 0;
      hearing.process(hop);
      runner.process(hearing.hopOf(channel, hop), events);
      hearing.finish(hop);
      const x = event ? strongest : runner.value;
      if (!(x <= values[at]!)) values[at] = x;
      for (let m = 0; m < members.length; m++) {
        const y = runner.vector![m]!;
        if (!(y <= members[m]![at]!)) members[m]![at] = y;
      }
    } else if (spectrum) {
      spectrum.push(hop.left, hop.right, HOP);
      if (k % TICKS_PER_COLUMN === TICKS_PER_COLUMN - 1) spectrum.read(values, at * SPECTRUM_POINTS);
    }
  }
  return { id, column, values, members };
}

// ── recordings ──

/** Main → helper: which live inputs to keep, and where they are. */
export interface RecordTask {
  readonly type: 'record';
  readonly control: ControlMemory;
  readonly inputs: readonly {
    readonly id: string;
    readonly place: number;
    readonly ring: SharedArrayBuffer;
  }[];
}
/** Main → helper: a stretch of what was kept, in seconds before now. */
export interface StretchAsk {
  readonly type: 'stretch';
  readonly id: number;
  readonly input: string;
  readonly from: number;
  readonly to: number;
}
export interface StretchAnswer {
  readonly type: 'stretch';
  readonly id: number;
  /** A WAV file; null when nothing was kept. */ readonly wav: Uint8Array<ArrayBuffer> | null;
}

const TAKE_EVERY_MS = 2000;
const recorders = new Map<string, { ring: SharedArrayBuffer; place: number; recorder: Recorder }>();
let control: Control | null = null;
const framesNow = (): number => (control ? (control.get(Word.Blocks) >>> 0) * BLOCK_FRAMES : 0);

function record(task: RecordTask): void {
  control ??= new Control(task.control);
  const wanted = new Set(task.inputs.map((i) => i.id));
  for (const id of recorders.keys()) if (!wanted.has(id)) recorders.delete(id);
  for (const { id, ring, place } of task.inputs) {
    if (recorders.get(id)?.ring !== ring)
      recorders.set(id, { ring, place, recorder: new Recorder(new PcmRing(ring), framesNow()) });
  }
}
function takeAll(): void {
  if (!control) return;
  const stereo = control.get(Word.Stereo);
  for (const { recorder, place } of recorders.values())
    recorder.take(framesNow(), (stereo & (1 << place)) !== 0);
}
setInterval(takeAll, TAKE_EVERY_MS);

function stretch({ id, input, from, to }: StretchAsk): void {
  takeAll();
  const wav = recorders.get(input)?.recorder.stretch(from, to) ?? null;
  const answer: StretchAnswer = { type: 'stretch', id, wav };
  (globalThis as unknown as Worker).postMessage(answer, wav ? [wav.buffer] : []);
}

self.onmessage = (
  e: MessageEvent<ReadWavAsk | RecordTask | StretchAsk | { type: 'port'; port: MessagePort }>,
) => {
  const message = e.data;
  switch (message.type) {
    case 'port': {
      const { port } = message;
      port.onmessage = (m: MessageEvent<HistoryAsk>) => port.postMessage(goBack(m.data));
      return;
    }
    case 'record':
      record(message);
      return;
    case 'stretch':
      stretch(message);
      return;
    case 'wav':
      (globalThis as unknown as Worker).postMessage(readForPlaying(message));
      return;
  }
};
