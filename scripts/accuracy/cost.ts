import { build } from 'esbuild';
import FFT from 'fft.js';
import { mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import os from 'node:os';
import path from 'node:path';
import { Control, makeControlMemory } from '../../src/engine/memory/control';
import { makeRingMemory } from '../../src/engine/memory/pcmRing';
import { mixPiece } from '../material/mix';
import { makePiece } from '../material/score';
import { quantile, type Report } from './report';
import { EVERY_EAR } from './soundness';

interface Features {
  bufferSize: number;
  sampleRate: number;
  extract(names: string[], signal: Float32Array): unknown;
}
type Made = typeof import('./everyEar');

/** Hops that are timed in one go: a quarter of a second of sound. */
const CHUNK = 47;

/**
 * Milliseconds that all hops take when nothing else wants the machine: each stretch counts as it was at its quickest.
 * @param begin - makes it anew @returns what is done with each hop
 */
function quietest(hops: number, begin: () => (k: number) => void, times = 7): number {
  const best = new Float64Array(Math.floor(hops / CHUNK)).fill(Infinity);
  for (let n = 0; n < times; n++) {
    const step = begin();
    for (let c = 0; c < best.length; c++) {
      const t = performance.now();
      for (let k = c * CHUNK; k < (c + 1) * CHUNK; k++) step(k);
      best[c] = Math.min(best[c]!, performance.now() - t);
    }
  }
  return best.reduce((a, b) => a + b, 0);
}

/** What one input with every kind of ear costs, beside a bare transform of the same hops and a common library for audio features. */
export async function costReport(report: Report, quick: boolean): Promise<void> {
  const { left, right } = mixPiece(makePiece(60001, { seconds: 30, style: 'straight' }), {
    source: 'own',
    bedDb: 0,
    peakDb: -6,
    seed: 1,
  });
  const hops = Math.floor(left.length / 256),
    counted = Math.floor(hops / CHUNK) * CHUNK,
    folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-cost-')),
    file = path.join(folder, 'everyEar.cjs');
  await build({
    entryPoints: [path.join(import.meta.dirname, 'everyEar.ts')],
    bundle: true,
    platform: 'node',
    format: 'cjs',
    outfile: file,
    logLevel: 'error',
  });
  const { Listener } = createRequire(file)(file) as Made;
  rmSync(folder, { recursive: true });
  const ours = (mono: boolean): number =>
    quietest(hops, () => {
      const listener = new Listener(EVERY_EAR, mono);
      return (k) => listener.hear(left, right, k);
    });
  const bare = quietest(hops, () => {
    const fft = new FFT(2048),
      input = new Float64Array(2048),
      out = new Float64Array(4096);
    return (k) => {
      for (let i = 0, at = Math.max(0, k - 7) * 256; i < 2048; i++) input[i] = left[at + i]!;
      fft.realTransform(out as unknown as number[], input as unknown as number[]);
    };
  });
  const mine = ours(true),
    stereo = ours(false),
    seconds = (counted * 256) / 48000;
  report.add(
    'cost',
    'one mono input with every kind of ear, against a bare 2,048-point transform of each hop',
    mine / bare,
    '×',
  );
  report.add('cost', 'one stereo input, the same', stereo / bare, '×');
  report.add(
    'cost',
    'four mono inputs with every ear, share of a core here',
    (4 * mine) / seconds / 10,
    '%',
    '≤ 50',
  );
  report.add(
    'cost',
    'four stereo inputs with every ear, share of a core here',
    (4 * stereo) / seconds / 10,
    '%',
    '≤ 50',
  );
  try {
    const library = ((await import('meyda')) as unknown as { default: Features }).default;
    library.bufferSize = 2048;
    library.sampleRate = 48000;
    const names = [
      'rms',
      'energy',
      'loudness',
      'spectralCentroid',
      'perceptualSharpness',
      'spectralFlatness',
      'spectralRolloff',
      'mfcc',
      'chroma',
      'powerSpectrum',
      'zcr',
    ];
    const theirs = quietest(
      hops,
      () => (k) => {
        const at = Math.max(0, k - 7) * 256;
        library.extract(names, left.subarray(at, at + 2048));
      },
      4,
    );
    report.add(
      'cost',
      'one mono input with every kind of ear, against a common feature library on the same hops',
      mine / theirs,
      '×',
      '< 1',
    );
  } catch {
    report.absent('cost', 'the feature library is not installed');
  }
  report.add(
    'cost',
    'process() of the audio thread with four stereo inputs of four stems, 99.9th percentile, share of a block',
    (100 * (await audioThread(left, right))) / 2.667,
    '%',
    '≤ 50',
  );
  // An hour of sound fed fast: what is kept must not grow.
  const listener = new Listener(EVERY_EAR, true);
  let times: number[] | null = [];
  const feed = (n: number): void => {
    for (let k = 0; k < n; k++) {
      const t = performance.now();
      listener.hear(left, right, k % hops);
      times?.push(performance.now() - t);
    }
  };
  feed(4000);
  report.add(
    'cost',
    'one hop of every ear, 99.9th percentile, share of a hop',
    (100 * quantile(times, 0.999)) / 5.333,
    '%',
  );
  times = null;
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers;
  const part = Math.round((3600 * 48000) / 256 / 60);
  for (let i = 0; i < (quick ? 6 : 60); i++) feed(part);
  globalThis.gc?.();
  report.add(
    'cost',
    `memory after ${quick ? 'six minutes' : 'an hour'} of sound, against before`,
    (process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers - before) / 1e6,
    'MB',
    '< 4',
  );
}

/** Runs the audio thread's own code, outside of a browser, and times its blocks. @returns the 99.9th percentile in ms */
async function audioThread(left: Float32Array, right: Float32Array): Promise<number> {
  interface Processor {
    readonly port: { onmessage: ((e: { data: unknown }) => void) | null };
    process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
  }
  let Made: (new () => Processor) | null = null;
  Object.assign(globalThis, {
    AudioWorkletProcessor: class {
      readonly port = { onmessage: null };
    },
    registerProcessor: (_: string, made: new () => Processor) => {
      Made = made;
    },
  });
  await import('../../src/engine/worklet/player.worklet');
  const player = new (Made as unknown as new () => Processor)();
  const share = (x: Float32Array): SharedArrayBuffer => {
    const m = new SharedArrayBuffer(x.byteLength);
    new Float32Array(m).set(x);
    return m;
  };
  const memory = makeControlMemory(),
    control = new Control(memory),
    stem = { left: share(left), right: share(right), gain: 0.25 };
  player.port.onmessage!({ data: { type: 'setup', control: memory } });
  player.port.onmessage!({
    data: {
      type: 'inputs',
      inputs: [0, 1, 2, 3].map((place) => ({
        id: `i${place}`,
        place,
        ring: makeRingMemory(),
        heard: 0.5,
        files: { loop: true, part: null, always: false, stems: [stem, stem, stem, stem] },
      })),
    },
  });
  control.ask(true, 0);
  const out = [[new Float32Array(128), new Float32Array(128)]],
    times: number[] = [];
  for (let k = 0; k < 40000; k++) {
    const t = performance.now();
    player.process([], out);
    if (k > 2000) times.push(performance.now() - t);
  }
  return quantile(times, 0.999);
}
