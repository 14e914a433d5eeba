import { describe, expect, it } from '@jest/globals';
import { hasArranger, makeArranged } from './arranged';
import { clicksInNoise } from './clicks';
import { makeDance, RULES } from './dance';
import { hasGeneralMidi } from './generalMidi';
import { ofSide, sideOf, sideOfStyle } from './kinds';
import { lineSong, makeLine, VOICES } from './lines';
import { drawTreatment, record, type Treatment } from './record';
import type { Song } from './song';

const PLAIN: Treatment = { gainsDb: {}, peakDb: -6 };
const peak = (x: Float32Array): number => x.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
const nameOf = (r: { readonly name: string }): string => r.name;

describe('kinds of material', () => {
  it('lie on one side each, some on either, and always on the same', () => {
    for (const list of [RULES, VOICES]) {
      const [known, unknown] = [ofSide(list, 'known', nameOf), ofSide(list, 'unknown', nameOf)];
      expect(known.length + unknown.length).toBe(list.length);
      expect(known.length).toBeGreaterThan(unknown.length);
      expect(unknown.length).toBeGreaterThan(0);
      for (const x of unknown) expect(sideOf(x.name)).toBe('unknown');
    }
    const kept = Array.from({ length: 500 }, (_, i) => sideOfStyle(`style ${i}`)).filter(
      (s) => s === 'unknown',
    );
    expect(kept.length / 500).toBeGreaterThan(0.14);
    expect(kept.length / 500).toBeLessThan(0.26);
  });
});

describe('dance music', () => {
  const song = makeDance(3, 'unknown', 8);
  it('is of the side that was asked for, the same for the same seed', () => {
    for (const side of ['known', 'unknown'] as const)
      for (let seed = 0; seed < 2; seed++) {
        const { from } = makeDance(seed, side, 2);
        expect([from[0], sideOf(from[0]!.replace('rule ', ''))]).toEqual([from[0], side]);
      }
    expect(makeDance(1, 'known', 2).beats).toEqual(makeDance(1, 'known', 2).beats);
  });
  it('has even beats, each fourth a bar’s first, and notes where its sound rises', () => {
    const step = song.beats[1]! - song.beats[0]!;
    song.beats.slice(1).forEach((b, i) => expect(b - song.beats[i]!).toBeCloseTo(step, 6));
    song.downbeats.forEach((d, i) => expect(d).toBe(song.beats[4 * i]));
    expect(60 / step).toBeGreaterThan(60);
    expect(60 / step).toBeLessThan(200);
    const kick = song.parts.find((p) => p.role === 'kick')!;
    const energy = (from: number, to: number): number =>
      kick.left.subarray(Math.round(from * 48000), Math.round(to * 48000)).reduce((s, x) => s + x * x, 0);
    for (const { onset } of kick.notes.slice(1, 8))
      expect(energy(onset - 0.001, onset + 0.03)).toBeGreaterThan(4 * energy(onset - 0.035, onset - 0.004));
  });
});

describe('lines', () => {
  it('have the pitch that is said, in the middle of each note', () => {
    const { sound, notes } = makeLine(12, 'known', 6);
    for (const { t, end, key } of notes) {
      if (end - t < 0.3) continue;
      if (440 * 2 ** ((key - 69) / 12) < 200) continue;
      const from = Math.round((t + 0.12) * 48000),
        to = Math.round((end - 0.05) * 48000);
      const powerAt = (note: number): number => {
        const w = (2 * Math.PI * 440 * 2 ** ((note - 69) / 12)) / 48000;
        let re = 0,
          im = 0;
        for (let i = from; i < to; i++) {
          const window = Math.sin((Math.PI * (i - from)) / (to - from));
          re += window * sound[i]! * Math.cos(w * i);
          im += window * sound[i]! * Math.sin(w * i);
        }
        return re * re + im * im;
      };
      for (const other of [-1, 1]) expect(powerAt(key)).toBeGreaterThan(powerAt(key + other));
    }
  });
  it('say of tied notes that they are no strokes', () => {
    const song = lineSong(4, 'known', 8),
      m = record(song, PLAIN, 1);
    expect(m.any.length).toBe(0);
    expect(m.faint.length).toBeGreaterThan(0);
  });
});

describe('clicks in noise', () => {
  it('stand where they are said to stand, as loud as asked', () => {
    const { left, onsets } = clicksInNoise(5, 8, 20);
    expect(onsets.length).toBeGreaterThan(8);
    for (const t of onsets) {
      const at = Math.round(t * 48000);
      expect(peak(left.subarray(at, at + 96))).toBeGreaterThan(3 * peak(left.subarray(at - 480, at - 8)));
    }
  });
});

describe('recording', () => {
  const song = makeDance(1, 'known', 4);
  const of = (t: Partial<Treatment>): ReturnType<typeof record> => record(song, { ...PLAIN, ...t }, 2);
  it('keeps what can be heard, and its peak, whatever is done to it', () => {
    for (let seed = 0; seed < 5; seed++) {
      const t = drawTreatment(seed, 'known'),
        m = record(song, t, seed);
      expect(m.left.every(Number.isFinite) && m.right.every(Number.isFinite)).toBe(true);
      expect(m.any.length).toBeGreaterThan(4);
      expect(Math.max(peak(m.left), peak(m.right))).toBeLessThan(2);
    }
  });
  it('clips, limits, fades, offsets and puts on one side as it says', () => {
    const level = 10 ** (-6 / 20);
    const clipped = of({ clipDb: 12 }).left;
    expect(clipped.filter((x) => Math.abs(x) > level - 1e-4).length).toBeGreaterThan(200);
    expect(peak(of({ limitDb: 6 }).left)).toBeLessThanOrEqual(level + 1e-6);
    expect(peak(of({ sides: 'left only' }).right)).toBe(0);
    const both = of({ sides: 'left in both' });
    expect(both.right).toEqual(both.left);
    const mean = of({ offset: 0.2 }).left.reduce((s, x) => s + x, 0) / song.parts[0]!.left.length;
    expect(mean).toBeCloseTo(0.2 * level, 1);
    const plain = of({}).left,
      faded = of({ fadeDb: -20 }).left,
      at = plain.length - 24000;
    expect(peak(faded.subarray(at)) / peak(plain.subarray(at))).toBeCloseTo(10 ** (-19.2 / 20), 1);
  });
  it('holds its bass drum so far below the rest', () => {
    const rest: Song = { ...song, parts: song.parts.filter((p) => p.role !== 'kick') };
    const top = (s: Song): number => peak(record(s, { gainsDb: {}, peakDb: 0 }, 3).left);
    // By itself each is brought to its peak; together the drum is a tenth of the rest.
    expect(top(rest)).toBeCloseTo(1, 3);
    const with20 = record(song, { gainsDb: {}, kickDb: -20, peakDb: 0 }, 3).left,
      without = record(rest, { gainsDb: {}, peakDb: 0 }, 3).left;
    let most = 0;
    for (let i = 0; i < with20.length; i++) most = Math.max(most, Math.abs(with20[i]! - without[i]!));
    expect(most).toBeLessThan(0.25);
    expect(most).toBeGreaterThan(0.03);
  });
});

const arranges = hasArranger() && hasGeneralMidi() ? it : it.skip;
describe('arranged pieces (need mma and a soundfont; skipped without)', () => {
  arranges('have beats and notes by their own MIDI, and drums that sound where they say', () => {
    const song = makeArranged(0, 'known', 8)!;
    expect(song.kind).toBe('arranged');
    expect(song.beats.length).toBeGreaterThan(6);
    for (const p of song.parts) expect(peak(p.left)).toBeGreaterThan(1e-4);
    expect(song.parts.some((p) => p.role === 'bass' || p.role === 'chords')).toBe(true);
  });
  arranges('are the same each time they are asked for', () => {
    const [first, again] = [1, 2].map(() => makeArranged(3, 'unknown', 6)!.parts);
    expect(again!.map((p) => [p.role, p.notes])).toEqual(first!.map((p) => [p.role, p.notes]));
    const bytes = (x: Float32Array): Buffer => Buffer.from(x.buffer, x.byteOffset, x.byteLength);
    for (const [i, p] of first!.entries()) expect(bytes(again![i]!.left).equals(bytes(p.left))).toBe(true);
  });
});
