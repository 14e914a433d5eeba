import { describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { makeHop } from '../audio/hop';
import { readWav, writeWav } from '../audio/wav';
import { makeEarRunner, rangeHit } from '../ears/ear';
import { Hearing } from '../hearing/hearing';
import { HOP, SAMPLE_RATE } from '../units';
import type { Truth } from './demo';
import { BAR, BEAT, ferryScore, LENGTH } from './score';
import { renderStem } from './synth';

const folder = path.join(__dirname, '../../../public/demo');
const truth = JSON.parse(readFileSync(path.join(folder, 'truth.json'), 'utf8')) as Truth;
const stem = (name: string): Float32Array =>
  readWav(readFileSync(path.join(folder, `${name}.wav`))).channels[0]!;

describe("the Night Ferry's sound", () => {
  it('is a whole number of hops a beat and loops after 20 bars', () => {
    expect(BEAT % HOP).toBe(0);
    expect(LENGTH).toBe(20 * BAR);
    expect(stem('bell')).toHaveLength(LENGTH);
    expect(truth.beats).toHaveLength(80);
  });
  it('is made of the same bytes on every run', () => {
    const { strokes } = ferryScore();
    const again = writeWav([renderStem(strokes, 'bell', LENGTH)], SAMPLE_RATE, 16);
    const digest = (b: Uint8Array): string => createHash('sha256').update(b).digest('hex');
    expect(digest(again)).toBe(digest(readFileSync(path.join(folder, 'bell.wav'))));
  });
  it('never clips when its stems are summed, and has no seam where it starts over', () => {
    const stems = ['lowDrum', 'snareDrum', 'shaker', 'bell'].map(stem);
    let top = 0;
    for (let i = 0; i < LENGTH; i++) top = Math.max(top, Math.abs(stems.reduce((n, s) => n + s[i]!, 0)));
    expect(top).toBeLessThan(1);
    for (const s of stems) {
      let steepest = 0;
      for (let i = 1; i < LENGTH; i++) steepest = Math.max(steepest, Math.abs(s[i]! - s[i - 1]!));
      expect(Math.abs(s[0]! - s[LENGTH - 1]!)).toBeLessThanOrEqual(steepest);
    }
  });
  it('rests in its third act, and speaks only in its second', () => {
    const [, second, third] = truth.acts;
    const rms = (x: Float32Array, from: number, to: number): number => {
      let sum = 0;
      const a = Math.round(from * SAMPLE_RATE),
        b = Math.round(to * SAMPLE_RATE);
      for (let i = a; i < b; i++) sum += x[i]! ** 2;
      return Math.sqrt(sum / (b - a));
    };
    for (const name of ['lowDrum', 'snareDrum', 'shaker', 'bell', 'voice'])
      expect(rms(stem(name), third!.from + 2.2, third!.to - 0.05)).toBeLessThan(0.002);
    expect(rms(stem('voice'), second!.from, second!.to)).toBeGreaterThan(0.01);
    for (const [from, to] of truth.speech) {
      expect(from).toBeGreaterThan(second!.from);
      expect(to).toBeLessThan(second!.to);
    }
  });
  it('is played by hands: strokes of one beat differ in time and strength', () => {
    const hits = truth.hits.shaker.slice(0, 64);
    const off = hits.map(([t]) => {
      const n = t / (60 / truth.bpm / 4);
      return n - Math.round(n);
    });
    expect(new Set(off.map((x) => x.toFixed(4))).size).toBeGreaterThan(30);
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(0.2);
    expect(new Set(hits.map(([, v]) => v.toFixed(3))).size).toBeGreaterThan(30);
  });
  it('lets the first simple hit ear find most strokes of the low drum among all the others, with few that are none', () => {
    const all = ['lowDrum', 'snareDrum', 'shaker', 'bell'].map(stem);
    const hearing = new Hearing(SAMPLE_RATE, HOP),
      ear = makeEarRunner(rangeHit(40, 160, 0.6), { hearing });
    const hop = makeHop(HOP);
    const found: number[] = [];
    for (let k = 0; k < LENGTH / HOP; k++) {
      for (let i = 0; i < HOP; i++) hop.left[i] = hop.right[i] = all.reduce((n, s) => n + s[k * HOP + i]!, 0);
      hop.time = (k * HOP) / SAMPLE_RATE;
      hearing.process(hop);
      ear.process(hop, { event: (t) => found.push(t) });
    }
    const strokes = truth.hits.lowDrum.map(([t]) => t);
    const near = (a: number, list: number[]): boolean => list.some((b) => Math.abs(a - b) < 0.05);
    expect(strokes.filter((t) => near(t, found)).length / strokes.length).toBeGreaterThan(0.65);
    expect(found.filter((t) => !near(t, strokes)).length / found.length).toBeLessThan(0.1);
  });
});
