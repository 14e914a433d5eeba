import { makeHop } from '../../core/audio/hop';
import { Spectrum, SPECTRUM_POINTS } from '../../core/audio/spectrum';
import { readWav } from '../../core/audio/wav';
import { makeEarRunner } from '../../core/ears/ear';
import { columnOfTick, TICKS_PER_COLUMN } from '../../core/plan/traces';
import { HOP, SAMPLE_RATE } from '../../core/units';
import type { HistoryAnswer, HistoryAsk } from '../memory/messages';
import { PcmRing } from '../memory/pcmRing';

/** Main → helper: reads a WAV at 48 kHz into shared memory, off the interface's thread. */
export interface ReadWavAsk { readonly type: 'wav'; readonly id: number; readonly bytes: ArrayBuffer }
export type ReadWavAnswer =
  | { readonly type: 'wav'; readonly id: number; readonly left: SharedArrayBuffer; readonly right: SharedArrayBuffer | null }
  /** Not a WAV at 48 kHz: somebody else must decode it. */
  | { readonly type: 'other'; readonly id: number };

function share(x: Float32Array): SharedArrayBuffer {
  const memory = new SharedArrayBuffer(x.length * 4);
  new Float32Array(memory).set(x);
  return memory;
}

function readForPlaying({ id, bytes }: ReadWavAsk): ReadWavAnswer {
  try {
    const { sampleRate, channels } = readWav(new Uint8Array(bytes));
    if (sampleRate === SAMPLE_RATE) return { type: 'wav', id, left: share(channels[0]!), right: channels[1] ? share(channels[1]) : null };
  } catch { /* the browser's own decoder says what is wrong with it */ }
  return { type: 'other', id };
}

/** Goes over recent sound with the very code that listens live. */
function goBack({ id, ring: memory, stereo, gain, from, to, what }: HistoryAsk): HistoryAnswer {
  const ring = new PcmRing(memory);
  const hop = makeHop(HOP);
  hop.mono = !stereo;
  const runner = what.kind === 'ear' ? makeEarRunner(what.ear.listening, SAMPLE_RATE) : null;
  const spectrum = what.kind === 'field' ? new Spectrum(SAMPLE_RATE) : null;
  const event = what.kind === 'ear' && what.ear.listening.kind === 'hit';
  const column = columnOfTick(from);
  const per = spectrum ? SPECTRUM_POINTS : 1;
  const values = new Float32Array((columnOfTick(to - 1) - column + 1) * per).fill(NaN);
  let strongest = 0;
  const events = { event: (_: number, strength: number): void => { strongest = Math.max(strongest, strength); } };
  for (let k = from; k < to; k++) {
    ring.read(k * HOP, hop.left, hop.right, HOP);
    for (let i = 0; i < HOP; i++) { hop.left[i]! *= gain; hop.right[i]! *= gain; }
    hop.time = (k * HOP) / SAMPLE_RATE;
    const at = columnOfTick(k) - column;
    if (runner) {
      strongest = 0;
      runner.process(hop, events);
      const x = event ? strongest : runner.value;
      if (!(x <= values[at]!)) values[at] = x;
    } else if (spectrum) {
      spectrum.push(hop.left, hop.right, HOP);
      if (k % TICKS_PER_COLUMN === TICKS_PER_COLUMN - 1) spectrum.read(values, at * SPECTRUM_POINTS);
    }
  }
  return { id, column, values };
}

self.onmessage = (e: MessageEvent<ReadWavAsk | { type: 'port'; port: MessagePort }>) => {
  if (e.data.type === 'port') {
    const { port } = e.data;
    port.onmessage = (m: MessageEvent<HistoryAsk>) => port.postMessage(goBack(m.data));
  } else {
    (globalThis as unknown as Worker).postMessage(readForPlaying(e.data));
  }
};
