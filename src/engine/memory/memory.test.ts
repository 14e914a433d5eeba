import { describe, expect, it } from '@jest/globals';
import { Worker } from 'node:worker_threads';
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
  held: 0,
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
    const memory = makeFrameMemory(64, 128, 0, 0);
    new FrameWriter(memory);
    // The writer of this race is built by hand from the layout, in a thread of its own.
    const code = `
      const { workerData: { buffer, size } } = require('node:worker_threads');
      const latest = new Int32Array(buffer, 0, 1);
      let sequence = 0, next = 0;
      const slots = [0,1,2,3].map((i) => { const at = 8 + i * size; return { head: new Int32Array(buffer, at + 32, 8), signals: new Float32Array(buffer, at + 64, 64), counts: new Uint32Array(buffer, at + 64 + 256, 64), parameters: new Float32Array(buffer, at + 64 + 512, 128) }; });
      const end = Date.now() + 700;
      for (let n = 1; Date.now() < end; n++) {
        const s = slots[next];
        Atomics.store(s.head, 0, ++sequence);
        s.signals.fill(n % 10000); s.counts.fill(n % 10000); s.parameters.fill(n % 10000); s.head[1] = 1; s.head[2] = n;
        Atomics.store(s.head, 0, ++sequence);
        Atomics.store(latest, 0, next);
        next = (next + 1) % 4;
      }`;
    const size = (memory.buffer.byteLength - 8) / 4;
    const worker = new Worker(code, { eval: true, workerData: { buffer: memory.buffer, size } });
    const reader = new FrameReader(memory);
    let frames = 0,
      torn = 0;
    let running = true;
    worker.on('exit', () => {
      running = false;
    });
    while (running) {
      for (let i = 0; i < 2000; i++) {
        if (!reader.read()) continue;
        frames++;
        const x = reader.signals[0]!;
        if (
          !reader.signals.every((y) => y === x) ||
          !reader.counts.every((y) => y === x) ||
          !reader.parameters.every((y) => y === x)
        )
          torn++;
      }
      await new Promise((r) => setImmediate(r));
    }
    expect(frames).toBeGreaterThan(100);
    expect(torn).toBe(0);
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
