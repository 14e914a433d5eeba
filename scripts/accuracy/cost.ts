import FFT from 'fft.js';
import { makeHop } from '../../src/core/audio/hop';
import { makeEarRunner } from '../../src/core/ears/ear';
import { InputHearing } from '../../src/core/hearing/hearing';
import { Control, makeControlMemory } from '../../src/engine/memory/control';
import { makeRingMemory } from '../../src/engine/memory/pcmRing';
import { mixPiece } from '../material/mix';
import { makePiece } from '../material/score';
import { quantile, type Report } from './report';
import { EVERY_EAR } from './soundness';

const NOBODY = { event: (): void => undefined };
interface Features { bufferSize: number; sampleRate: number; extract(names: string[], signal: Float32Array): unknown }

/** What one input with every kind of ear costs, beside a bare transform of the same hops and a common library for audio features. */
export async function costReport(report: Report, quick: boolean): Promise<void> {
  const { left, right } = mixPiece(makePiece(60001, { seconds: 30, style: 'straight' }), { source: 'own', bedDb: 0, peakDb: -6, seed: 1 });
  const hops = Math.floor(left.length / 256);
  const ours = (mono: boolean): number => {
    const hearing = new InputHearing(48000, 256), ears = EVERY_EAR.map((l) => makeEarRunner(l, { hearing: hearing.of('sum') })), hop = makeHop(256);
    void hearing.of('sum').beat;
    hop.mono = mono;
    const t = performance.now();
    for (let k = 0; k < hops; k++) {
      hop.left.set(left.subarray(k * 256, k * 256 + 256));
      hop.right.set((mono ? left : right).subarray(k * 256, k * 256 + 256));
      hop.time = (k * 256) / 48000;
      hearing.process(hop);
      for (let i = 0; i < ears.length; i++) ears[i]!.process(hop, NOBODY);
      hearing.finish(hop);
    }
    return performance.now() - t;
  };
  const bare = (): number => {
    const fft = new FFT(2048), input = new Float64Array(2048), out = new Float64Array(4096);
    const t = performance.now();
    for (let k = 8; k < hops; k++) { for (let i = 0; i < 2048; i++) input[i] = left[(k - 7) * 256 + i - 256]!; fft.realTransform(out as unknown as number[], input as unknown as number[]); }
    return performance.now() - t;
  };
  ours(true); bare(); // warm
  const best = (f: () => number): number => Math.min(f(), f(), f());
  const mine = best(() => ours(true)), stereo = best(() => ours(false)), transform = best(bare);
  report.add('cost', 'one mono input with every kind of ear, against a bare 2,048-point transform of each hop', mine / transform, '×');
  report.add('cost', 'one stereo input, the same', stereo / transform, '×');
  report.add('cost', 'four stereo inputs with every ear, share of a core here', (4 * stereo) / 300, '%', '≤ 50');
  try {
    const library = ((await import('meyda')) as unknown as { default: Features }).default;
    library.bufferSize = 2048;
    library.sampleRate = 48000;
    const names = ['rms', 'energy', 'loudness', 'spectralCentroid', 'perceptualSharpness', 'spectralFlatness', 'spectralRolloff', 'mfcc', 'chroma', 'powerSpectrum', 'zcr'];
    const theirs = (): number => {
      const t = performance.now();
      for (let k = 8; k < hops; k++) library.extract(names, left.subarray((k - 8) * 256, (k - 8) * 256 + 2048));
      return performance.now() - t;
    };
    theirs();
    report.add('cost', 'one mono input with every kind of ear, against a common feature library on the same hops', mine / Math.min(theirs(), theirs()), '×', '< 1');
  } catch { report.absent('cost', 'the feature library is not installed'); }
  report.add('cost', 'process() of the audio thread with four stereo inputs of four stems, 99.9th percentile, share of a block', (100 * await audioThread(left, right)) / 2.667, '%', '≤ 50');
  // An hour of sound fed fast: what is kept must not grow.
  const hearing = new InputHearing(48000, 256), ears = EVERY_EAR.map((l) => makeEarRunner(l, { hearing: hearing.of('sum') })), hop = makeHop(256);
  const times: number[] = [];
  const feed = (n: number): void => { for (let k = 0; k < n; k++) { const at = (k % (hops - 1)) * 256; hop.left.set(left.subarray(at, at + 256)); hop.right.set(hop.left); const t = performance.now(); hearing.process(hop); for (const e of ears) e.process(hop, NOBODY); hearing.finish(hop); times.push(performance.now() - t); } };
  feed(4000);
  report.add('cost', 'one hop of every ear, 99.9th percentile, share of a hop', (100 * quantile(times, 0.999)) / 5.333, '%');
  times.length = 0;
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers;
  const part = Math.round((3600 * 48000) / 256 / 60);
  for (let i = 0; i < (quick ? 6 : 60); i++) { feed(part); times.length = 0; }
  globalThis.gc?.();
  report.add('cost', `memory after ${quick ? 'six minutes' : 'an hour'} of sound, against before`, (process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers - before) / 1e6, 'MB', '< 4');
}

/** Runs the audio thread's own code, outside of a browser, and times its blocks. @returns the 99.9th percentile in ms */
async function audioThread(left: Float32Array, right: Float32Array): Promise<number> {
  interface Processor { readonly port: { onmessage: ((e: { data: unknown }) => void) | null }; process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean }
  let Made: (new () => Processor) | null = null;
  Object.assign(globalThis, { AudioWorkletProcessor: class { readonly port = { onmessage: null }; }, registerProcessor: (_: string, made: new () => Processor) => { Made = made; } });
  await import('../../src/engine/worklet/player.worklet');
  const player = new (Made as unknown as new () => Processor)();
  const share = (x: Float32Array): SharedArrayBuffer => { const m = new SharedArrayBuffer(x.byteLength); new Float32Array(m).set(x); return m; };
  const memory = makeControlMemory(), control = new Control(memory), stem = { left: share(left), right: share(right), gain: 0.25 };
  player.port.onmessage!({ data: { type: 'setup', control: memory } });
  player.port.onmessage!({ data: { type: 'inputs', inputs: [0, 1, 2, 3].map((place) => ({ id: `i${place}`, place, ring: makeRingMemory(), heard: 0.5, files: { loop: true, part: null, always: false, stems: [stem, stem, stem, stem] } })) } });
  control.ask(true, 0);
  const out = [[new Float32Array(128), new Float32Array(128)]], times: number[] = [];
  for (let k = 0; k < 40000; k++) { const t = performance.now(); player.process([], out); if (k > 2000) times.push(performance.now() - t); }
  return quantile(times, 0.999);
}
