import { describe, expect, it } from '@jest/globals';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { TAPS } from '../../core/shaping';
import { BLOCK_FRAMES, Control, makeControlMemory, Real, Word } from './control';
import { EVENT_PLACES, EventReader, EventWriter, makeEventMemory } from './eventRing';
import { FrameReader, FrameWriter, makeFrameMemory, type FrameSource } from './frames';
import { makeRingMemory, PcmRing, RING_FRAMES } from './pcmRing';

const source = (n: number, version = 1): FrameSource => ({
  signals: new Float32Array(64).fill(n),
  counts: new Uint32Array(64).fill(n),
  parameters: new Float32Array(128).fill(n),
  preview: null,
  previewVectors: null,
  version,
  vectors: new Float32Array(32).fill(n),
  pictureTime: n,
  darkness: 0,
  frozen: 0,
  curtain: 0,
  fade: 1,
  blink: 0,
  blinkFrom: 0,
  bank: { taps: new Float32Array(9).fill(n) },
});

describe('frames', () => {
  it('gives the latest frame once, whole', () => {
    const memory = makeFrameMemory(64, 128, 32, 3);
    const writer = new FrameWriter(memory),
      reader = new FrameReader(memory);
    expect(reader.read()).toBe(false);
    for (let i = 1; i <= 9; i++) writer.write(source(i), i, i / 10);
    expect(reader.read()).toBe(true);
    expect([
      reader.tick,
      reader.time,
      reader.signals[63],
      reader.counts[0],
      reader.parameters[127],
      reader.taps[8],
      reader.epoch,
    ]).toEqual([9, 0.9, 9, 9, 9, 9, 3]);
    expect(reader.read()).toBe(false);
  });

  it('writes vectors only while somebody wants them', () => {
    const memory = makeFrameMemory(64, 128, 32, 0);
    const writer = new FrameWriter(memory),
      reader = new FrameReader(memory);
    writer.write(source(1), 1000, 0);
    expect(reader.readVectors()).toBe(false); // asked for; the next frame has them
    writer.write(source(2), 1001, 0);
    expect([reader.readVectors(), reader.vectors[31]]).toEqual([true, 2]);
    writer.write(source(3), 1001 + 938, 0); // a picture that is drawn every five seconds still has them
    expect([reader.readVectors(), reader.vectors[31]]).toEqual([true, 3]);
    writer.write(source(4), 1939 + 3750, 0); // twenty seconds later nobody has looked again
    expect(reader.readVectors()).toBe(false);
    expect(reader.vectors[31]).toBe(3);
  });

  it('hands over what is tried unseen beside what is sent, and the same where nothing is', () => {
    const memory = makeFrameMemory(64, 128, 32, 0),
      writer = new FrameWriter(memory),
      reader = new FrameReader(memory),
      tried = { preview: new Float32Array(128).fill(70), previewVectors: new Float32Array(32).fill(80) };
    writer.write(source(1), 1, 0);
    reader.readVectors();
    const seen = (): number[] => {
      reader.read();
      reader.readVectors();
      return [reader.parameters[0]!, reader.preview[0]!, reader.vectors[31]!, reader.previewVectors[31]!];
    };
    writer.write({ ...source(2), ...tried }, 2, 0);
    expect(seen()).toEqual([2, 70, 2, 80]);
    writer.write(source(3), 3, 0);
    expect(seen()).toEqual([3, 3, 3, 3]);
  });

  it('never gives a torn one while another thread writes as fast as it can', async () => {
    const memory = makeFrameMemory(64, 128, 32, 0);
    // The very writer that the conductor uses, on a thread of its own, until it is told to stop.
    const stop = new Int32Array(new SharedArrayBuffer(4));
    const code = `
      require('tsx/cjs/api').register();
      const { FrameWriter } = require(${JSON.stringify(path.join(__dirname, 'frames.ts'))});
      const { workerData: { memory, stop } } = require('node:worker_threads');
      const writer = new FrameWriter(memory);
      const of = (Kind, size) => new Kind(size);
      const source = {
        signals: of(Float32Array, 64), counts: of(Uint32Array, 64), parameters: of(Float32Array, 128), preview: null,
        previewVectors: null, version: 1, vectors: of(Float32Array, 32), pictureTime: 0, darkness: 0, frozen: 0,
    curtain: 0,
    fade: 1,
        bank: { taps: of(Float32Array, ${TAPS.length}) },
      };
      for (let n = 1; Atomics.load(stop, 0) === 0; n++) {
        const x = n % 10000;
        for (const k of ['signals', 'counts', 'parameters', 'vectors']) source[k].fill(x);
        source.bank.taps.fill(x);
        writer.write(source, n, x);
      }`;
    const worker = new Worker(code, { eval: true, workerData: { memory, stop } });
    const reader = new FrameReader(memory);
    let frames = 0,
      torn = 0;
    let rows = 0;
    // Whole frames in such a number that a reader without its check is caught many times over; however long that takes.
    while (frames < 20000) {
      for (let i = 0; i < 500; i++) {
        if (reader.read()) {
          frames++;
          const x = reader.time;
          if (
            !reader.signals.every((y) => y === x) ||
            !reader.counts.every((y) => y === x) ||
            !reader.parameters.every((y) => y === x) ||
            !reader.taps.every((y) => y === x)
          )
            torn++;
        }
        if (reader.readVectors()) {
          rows++;
          if (!reader.vectors.every((y) => y === reader.vectors[0])) torn++;
        }
      }
      await new Promise((r) => setImmediate(r));
    }
    Atomics.store(stop, 0, 1);
    await worker.terminate();
    expect(torn).toBe(0);
    expect(rows).toBeGreaterThan(1000);
  });
});

describe('events', () => {
  it("keeps each event's own time and strength, in order, for a slow reader", () => {
    const memory = makeEventMemory();
    const writer = new EventWriter(memory),
      reader = new EventReader(memory);
    for (let i = 0; i < 1000; i++) writer.write(i % 7, i / 100, (i % 10) / 10);
    const got: number[][] = [];
    expect(reader.drain((slot, time, strength) => got.push([slot, time, strength]))).toBe(1000);
    expect(got[999]).toEqual([999 % 7, 9.99, Math.fround(0.9)]);
    expect(got.every(([, t], i) => t === i / 100)).toBe(true);
    expect(reader.overruns).toBe(0);
  });
  it('starts at the present, and counts what was overwritten', () => {
    const memory = makeEventMemory();
    const writer = new EventWriter(memory);
    writer.write(1, 0, 1);
    const reader = new EventReader(memory);
    expect(reader.drain(() => undefined)).toBe(0);
    for (let i = 0; i < EVENT_PLACES + 50; i++) writer.write(0, i, 1);
    let first = -1;
    const n = reader.drain((_, time) => {
      if (first < 0) first = time;
    });
    expect(n + reader.overruns).toBe(EVENT_PLACES + 50);
    expect(first).toBe(reader.overruns);
  });
});

describe('PCM ring', () => {
  it('gives back what was written, across its end', () => {
    const ring = new PcmRing(makeRingMemory());
    const x = Float32Array.from({ length: 256 }, (_, i) => i),
      y = x.map((v) => -v);
    ring.write(RING_FRAMES * 3 - 100, x, y, 256);
    const l = new Float32Array(256),
      r = new Float32Array(256);
    ring.read(RING_FRAMES * 3 - 100, l, r, 256);
    expect(l).toEqual(x);
    expect(r).toEqual(y);
  });
});

describe('control', () => {
  it('takes a transport change once, at a block', () => {
    const control = new Control(makeControlMemory());
    control.ask(true, 1000.7);
    control.takeTransport();
    expect([control.get(Word.Playing), control.reals[Real.Position]]).toEqual([1, 1000]);
    control.reals[Real.Position] = 1000 + BLOCK_FRAMES;
    control.takeTransport();
    expect(control.reals[Real.Position]).toBe(1128);
    control.ask(false);
    control.takeTransport();
    expect([control.get(Word.Playing), control.reals[Real.Position]]).toEqual([0, 1128]);
  });
});
