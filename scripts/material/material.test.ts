import { describe, expect, it } from '@jest/globals';
import { parseMidi } from 'midi-file';
import { midiOf } from './generalMidi';
import { mixPiece, stillSound } from './mix';
import { DRUMS, HAT, KICK, makePiece, SNARE, STYLES, type Note } from './score';
import { drumSound, renderOwn, reverb, toneSound } from './synth';

const rms = (x: ArrayLike<number>, from = 0, to = x.length): number => {
  let s = 0;
  for (let i = from; i < to; i++) s += x[i]! ** 2;
  return Math.sqrt(s / Math.max(1, to - from));
};
/** Mean power of a stretch of the spectrum, by a plain sum over a few frequencies. */
function power(x: Float32Array, low: number, high: number): number {
  let total = 0;
  const n = Math.min(x.length, 12000);
  for (let k = 0; k < 8; k++) {
    const w = (2 * Math.PI * low * (high / low) ** ((k + 0.5) / 8)) / 48000;
    let re = 0,
      im = 0;
    for (let i = 0; i < n; i++) {
      re += x[i]! * Math.cos(w * i);
      im += x[i]! * Math.sin(w * i);
    }
    total += (re * re + im * im) / n;
  }
  return total / 8;
}

describe('patterns', () => {
  it('are the same for the same seed, and others for another', () => {
    expect(makePiece(7)).toEqual(makePiece(7));
    expect(makePiece(7).drums).not.toEqual(makePiece(8).drums);
  });
  it.each(STYLES)(
    '%s: beats are as far apart as the tempo says, bars as many beats, notes inside the piece',
    (style) => {
      const p = makePiece(11, { style, bpm: 120, seconds: 20, plain: true });
      p.beats.slice(1).forEach((b, i) => expect(b - p.beats[i]!).toBeCloseTo(0.5, 9));
      const perBar = style === 'three' ? 3 : 4;
      p.downbeats.forEach((d, i) => expect(d).toBe(p.beats[i * perBar]));
      for (const n of [...p.drums, ...p.bed]) {
        expect(n.t).toBeGreaterThanOrEqual(0);
        expect(n.t).toBeLessThan(20);
        expect(n.velocity).toBeGreaterThan(0);
        expect(n.velocity).toBeLessThanOrEqual(127);
      }
      for (const list of [p.drums, p.bed])
        list.slice(1).forEach((n, i) => expect(n.t).toBeGreaterThanOrEqual(list[i]!.t));
    },
  );
  it('a ramp goes evenly from the one tempo to the other', () => {
    const p = makePiece(3, { style: 'straight', bpm: 100, toBpm: 130, seconds: 60 });
    const at = (t: number): number => {
      const i = p.beats.findIndex((b) => b > t);
      return 60 / (p.beats[i]! - p.beats[i - 1]!);
    };
    expect(at(2)).toBeCloseTo(101, 0);
    expect(at(30)).toBeCloseTo(115, 0);
    expect(at(58)).toBeCloseTo(129, 0);
  });
  it('bars of rest have neither drums nor bed', () => {
    const p = makePiece(5, { style: 'straight', bpm: 120, seconds: 40, rest: [4, 4] });
    const from = p.downbeats[4]! + 0.02,
      to = p.downbeats[8]! - 0.02;
    expect([...p.drums, ...p.bed].filter((n) => n.t > from && n.t < to)).toEqual([]);
  });
});

describe('our own instruments', () => {
  const keys: readonly (readonly [string, number, number, number])[] = [
    ['a kick', KICK[0]!, 30, 150],
    ['a snare', SNARE[0]!, 150, 6000],
    ['a hat', HAT[0]!, 5000, 16000],
    ['a shaker', 70, 1500, 9000],
  ];
  it.each(keys)('%s sounds where it should', (_, key, low, high) => {
    for (let kit = 1; kit < 5; kit++) {
      const x = drumSound(key, 100, kit, 3);
      expect(x.every(Number.isFinite)).toBe(true);
      expect(power(x, low, high)).toBeGreaterThan(
        4 * power(x, key === KICK[0] ? 2000 : 30, key === KICK[0] ? 12000 : 100),
      );
    }
  });
  it('a shaker is no hat: it starts softly, a tambourine rings on', () => {
    const rise = (x: Float32Array): number => {
      let peak = 0;
      for (const v of x) peak = Math.max(peak, Math.abs(v));
      return x.findIndex((v) => Math.abs(v) > peak / 2) / 48000;
    };
    for (let kit = 1; kit < 6; kit++) {
      expect(rise(drumSound(70, 100, kit, 2))).toBeGreaterThan(3 * rise(drumSound(42, 100, kit, 2)));
      const hat = drumSound(42, 100, kit, 2),
        jingles = drumSound(54, 100, kit, 2);
      expect(rms(jingles, 6000, 9000) / rms(jingles, 0, 2400)).toBeGreaterThan(
        rms(hat, Math.min(6000, hat.length - 10), Math.min(9000, hat.length)) / rms(hat, 0, 2400),
      );
    }
  });
  it('a louder stroke is louder; a note has its pitch', () => {
    expect(rms(drumSound(38, 120, 1, 1))).toBeGreaterThan(1.5 * rms(drumSound(38, 60, 1, 1)));
    const note: Note = { t: 0, length: 0.5, program: 16, key: 69, velocity: 100 },
      x = toneSound(note);
    expect(power(x, 436, 444)).toBeGreaterThan(20 * power(x, 460, 520));
  });
  it('says when each note is there: at −20 dB of its own peak', () => {
    const notes: Note[] = [
      { t: 0.1, length: 0.2, program: DRUMS, key: 36, velocity: 100 },
      { t: 0.5, length: 0.2, program: 50, key: 60, velocity: 100 },
    ];
    const { sound, onsets, peaks } = renderOwn(notes, 1.2, 4);
    onsets.forEach((t, i) => {
      expect(Math.abs(Math.abs(sound[Math.round(t * 48000)]!) - peaks[i]! * 0.1)).toBeLessThan(
        peaks[i]! * 0.2,
      );
      expect(t).toBeGreaterThanOrEqual(notes[i]!.t);
    });
    expect(onsets[0]! - 0.1).toBeLessThan(0.005);
    expect(onsets[1]! - 0.5).toBeGreaterThan(0.005); // a slow attack is there later
  });
  it('a room dies away by 60 dB in its time', () => {
    const x = new Float32Array(96000);
    x[0] = 1;
    const y = reverb(x, 1, 1),
      early = rms(y, 9600, 14400),
      late = rms(y, 57600, 62400);
    // A second apart: 60 dB less, and less still, since the treble dies sooner.
    expect(20 * Math.log10(late / early)).toBeLessThan(-50);
    expect(20 * Math.log10(rms(y, 33600, 38400) / early)).toBeLessThan(-22);
    expect(20 * Math.log10(rms(y, 33600, 38400) / early)).toBeGreaterThan(-50);
  });
});

describe('mixes', () => {
  const piece = makePiece(21, { style: 'straight', bpm: 110, seconds: 12, plain: true });
  it('reach the peak that is asked for, and have the bed as loud as the drums', () => {
    for (const peakDb of [0, -20, -50]) {
      const m = mixPiece(piece, { source: 'own', bedDb: -Infinity, peakDb, seed: 2 });
      let peak = 0;
      for (const x of m.left) peak = Math.max(peak, Math.abs(x));
      expect(20 * Math.log10(peak)).toBeCloseTo(peakDb, 3);
    }
  });
  it("the truth is in order, each instrument's own, and what must be heard is 30 ms apart", () => {
    const m = mixPiece(piece, { source: 'own', bedDb: 0, peakDb: -6, seed: 2 });
    for (const list of [m.any, m.kick, m.snare, m.hat])
      list.slice(1).forEach((t, i) => expect(t).toBeGreaterThan(list[i]!));
    m.any.slice(1).forEach((t, i) => expect(t - m.any[i]!).toBeGreaterThan(0.03));
    const strokes = (keys: readonly number[]): number =>
      new Set(piece.drums.filter((n) => keys.includes(n.key)).map((n) => Math.round(n.t * 50))).size;
    expect(Math.abs(m.kick.length - strokes(KICK))).toBeLessThanOrEqual(2);
    expect(Math.abs(m.snare.length - strokes(SNARE))).toBeLessThanOrEqual(2);
    for (const k of m.kick)
      expect(piece.drums.some((n) => KICK.includes(n.key) && k >= n.t && k - n.t < 0.02)).toBe(true);
  });
});

describe('sounds in which nothing is struck', () => {
  const slope = (kind: 'white' | 'pink' | 'brown'): number => {
    const x = stillSound(kind, 4, 5);
    return (10 * Math.log10(power(x.subarray(24000), 3200, 6400) / power(x.subarray(24000), 400, 800))) / 3;
  };
  it.each([
    ['white', 0],
    ['pink', -3.01],
    ['brown', -6.02],
  ] as const)('%s falls by %d dB an octave', (kind, dB) =>
    expect(Math.abs(slope(kind) - dB)).toBeLessThan(1.6),
  );
  it('hum has its mains frequency, chords are steady', () => {
    const hum = stillSound('hum', 1, 3);
    expect(Math.max(power(hum, 49, 51), power(hum, 59, 61))).toBeGreaterThan(10 * power(hum, 70, 90));
    const chord = stillSound('chord', 4, 3);
    for (let k = 1; k < 4; k++)
      expect(rms(chord, k * 48000 - 24000, k * 48000 + 24000) / rms(chord)).toBeGreaterThan(0.6);
  });
});

describe('MIDI of a pattern', () => {
  it('has every note at its time, to a tick, drums on channel 10, and each program on a channel of its own', () => {
    const piece = makePiece(9, { bpm: 95, seconds: 8 });
    const notes = [...piece.drums, ...piece.bed].sort((a, b) => a.t - b.t),
      file = parseMidi(midiOf(notes, 8));
    let tick = 0;
    const on: { t: number; channel: number; key: number }[] = [],
      programs = new Map<number, number>();
    for (const e of file.tracks[0]!) {
      tick += e.deltaTime;
      if (e.type === 'noteOn' && e.velocity > 0)
        on.push({ t: tick / 19200, channel: e.channel, key: e.noteNumber });
      if (e.type === 'programChange') programs.set(e.channel, e.programNumber);
    }
    expect(on).toHaveLength(notes.length);
    expect(programs.get(9)).toBe(8);
    for (const n of notes)
      expect(
        on.some(
          (o) =>
            Math.abs(o.t - n.t) < 1 / 19200 &&
            o.key === n.key &&
            (n.program === DRUMS ? o.channel === 9 : programs.get(o.channel) === n.program),
        ),
      ).toBe(true);
  });
});
