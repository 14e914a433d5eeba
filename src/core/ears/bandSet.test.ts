import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { Hearing } from '../hearing/hearing';
import { BAND_SETS, bandsOf, settlingOf, weightDb } from './bandSet';
import { FLAT, makeEarRunner, measureOf, signalKindOf, usualHigh, type Listening } from './ear';

const RATE = 48000;
function listen(
  listening: Listening,
  seconds: number,
  x: (n: number) => number,
): { value: number; vector: number[]; first(level: number): number } {
  const hearing = new Hearing(RATE, 256),
    ear = makeEarRunner(listening, { hearing }),
    hop = makeHop(256),
    values: number[] = [];
  for (let at = 0; at < seconds * RATE; at += 256) {
    for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = x(at + i);
    hearing.process(hop);
    ear.process(hop, { event: () => undefined });
    values.push(ear.value);
  }
  return {
    value: ear.value,
    vector: [...(ear.vector ?? [])],
    first: (level) => (values.findIndex((v) => v >= level) * 256) / RATE,
  };
}
const sine =
  (hz: number, a = 1) =>
  (n: number): number =>
    a * Math.sin((2 * Math.PI * hz * n) / RATE);
const bands = (
  set: (typeof BAND_SETS)[number],
  more: Partial<Extract<Listening, { kind: 'bands' }>> = {},
): Listening => ({ kind: 'bands', set, crossovers: [], weighting: FLAT, gainsDb: [], ...more });

describe('sets of bands', () => {
  it('octaves and thirds have the centres of IEC 61260-1, by their nominal names', () => {
    expect(bandsOf('octaves').map((b) => b.name)).toEqual([
      '31.5',
      '63',
      '125',
      '250',
      '500',
      '1 k',
      '2 k',
      '4 k',
      '8 k',
      '16 k',
    ]);
    expect(
      bandsOf('thirds')
        .slice(0, 7)
        .map((b) => b.name),
    ).toEqual(['25', '31.5', '40', '50', '63', '80', '100']);
    expect(bandsOf('octaves')[5]).toMatchObject({ centre: 1000 });
    expect(bandsOf('octaves')[6]!.centre).toBeCloseTo(1995.26, 1);
    expect(bandsOf('thirds')).toHaveLength(29);
  });
  it.each(BAND_SETS)(
    '%s meet without gaps, and each hears a sine at its middle and not that of a band two away',
    (set) => {
      const all = bandsOf(set);
      for (let i = 1; i < all.length; i++) expect(all[i]!.low).toBeCloseTo(all[i - 1]!.high, 6);
      const k = all.length >> 1;
      const { vector } = listen(bands(set), 1, sine(all[k]!.centre, 0.5));
      expect(20 * Math.log10(vector[k]! / (0.5 * Math.SQRT1_2))).toBeCloseTo(0, 0);
      vector.forEach((v, i) => {
        if (Math.abs(i - k) > 1) expect(20 * Math.log10((v + 1e-9) / 0.3536)).toBeLessThan(-40);
      });
    },
  );
  it('takes crossovers that rise, and else the usual ones', () => {
    expect(bandsOf('five', [100, 200, 400, 800]).map((b) => b.high)).toEqual([100, 200, 400, 800, 16000]);
    for (const bad of [[100], [400, 200, 800, 900], [1, 2, 3, 4]])
      expect(bandsOf('five', bad)).toEqual(bandsOf('five'));
  });
  it('settles in the stated time: 90 % of a tone that begins', () => {
    const band = bandsOf('thirds')[10]!;
    const l = listen(
      { kind: 'band', low: band.low, high: band.high, reading: 'energy', weighting: FLAT, gainDb: 0 },
      0.6,
      sine(band.centre, 1),
    );
    expect(Math.abs(l.first(0.9 * Math.SQRT1_2) - settlingOf(band))).toBeLessThan(0.012);
  });
  it('weighs by A and C as IEC 61672-1 lists them, and tilts evenly', () => {
    for (const [hz, a, c] of [
      [31.5, -39.4, -3],
      [125, -16.1, -0.2],
      [1000, 0, 0],
      [8000, -1.1, -3],
      [16000, -6.6, -8.5],
    ] as const) {
      expect(weightDb({ kind: 'A' }, hz)).toBeCloseTo(a, 0);
      expect(weightDb({ kind: 'C' }, hz)).toBeCloseTo(c, 0);
    }
    expect(weightDb({ kind: 'tilt', dbPerOctave: 3 }, 4000)).toBeCloseTo(6);
  });
  it('gives each band its own gain', () => {
    const plain = listen(bands('three'), 0.3, sine(800, 0.2)).vector[1]!,
      raised = listen(bands('three', { gainsDb: [0, 6.0206, 0] }), 0.3, sine(800, 0.2)).vector[1]!;
    expect(raised / plain).toBeCloseTo(2, 3);
  });
});

describe('other ears', () => {
  it('the strongest tone of a range: its amplitude and its frequency between the bins', () => {
    const x = (n: number): number => sine(443.7, 0.3)(n) + sine(700, 0.05)(n) + sine(100, 0.9)(n);
    const read = (reading: 'strongest' | 'frequency'): number =>
      listen({ kind: 'band', low: 300, high: 900, reading, weighting: FLAT, gainDb: 0 }, 0.5, x).value;
    expect(read('frequency')).toBeCloseTo(443.7, 0);
    expect(read('strongest')).toBeCloseTo(0.3, 1);
  });
  it('brightness lies between two equal sines, and stands in silence', () => {
    const l = listen({ kind: 'brightness' }, 0.5, (n) =>
      n < 12000 ? sine(1000, 0.3)(n) + sine(3000, 0.3)(n) : 0,
    );
    expect(
      listen({ kind: 'brightness' }, 0.5, (n) => sine(1000, 0.3)(n) + sine(3000, 0.3)(n)).value,
    ).toBeCloseTo(2000, -2);
    expect(l.value).toBeGreaterThan(500);
  });
  it('presence of sound is on in sound, off in a quiet room, and does not flicker in short pauses', () => {
    const room = (n: number): number => 0.0005 * Math.sin(n * 1.7) * Math.sin(n * 0.31);
    expect(listen({ kind: 'presence', what: 'sound' }, 2, room).value).toBe(0);
    expect(
      listen({ kind: 'presence', what: 'sound' }, 2, (n) => (n > 48000 ? sine(300, 0.1)(n) : room(n))).value,
    ).toBe(1);
    expect(
      listen({ kind: 'presence', what: 'sound' }, 2, (n) =>
        n > 48000 && n < 88000 ? sine(300, 0.1)(n) : room(n),
      ).value,
    ).toBe(1); // 0.17 s of pause
    expect(
      listen({ kind: 'presence', what: 'sound' }, 3, (n) =>
        n > 48000 && n < 88000 ? sine(300, 0.1)(n) : room(n),
      ).value,
    ).toBe(0);
  });
  it('loudness reads as the amplitude that stands for it', () => {
    expect(
      20 * Math.log10(listen({ kind: 'level', reading: 'momentary' }, 1, sine(1000, 0.1)).value),
    ).toBeCloseTo(-23, 1); // one channel
  });
  it.each([2, 64, 2048])('a spectrum of %d points has its top where the tone is', (points) => {
    const { vector } = listen({ kind: 'vector', of: 'spectrum', scale: 'log', points }, 0.3, sine(1000, 0.5));
    expect(vector).toHaveLength(points);
    const place = Math.floor((Math.log(1000 / 30) / Math.log(16000 / 30)) * points);
    expect(Math.abs(vector.indexOf(Math.max(...vector)) - place)).toBeLessThanOrEqual(
      Math.max(1, points / 60),
    );
    expect(Math.max(...vector)).toBeCloseTo(0.5, 1);
  });
  it('a waveform stands still on a steady tone: it begins where that rises through zero', () => {
    for (const seconds of [0.5, 0.517, 0.6]) {
      const { vector } = listen(
        { kind: 'vector', of: 'waveform', scale: 'linear', points: 512 },
        seconds,
        sine(200, 0.8),
      );
      expect(Math.abs(vector[0]!)).toBeLessThan(0.05);
      expect(vector[10]!).toBeGreaterThan(0);
    }
  });
  it('every kind says what it is', () => {
    const all: Listening[] = [
      { kind: 'pitch', reading: 'note' },
      { kind: 'beat', reading: 'beat', multiple: 1 },
      { kind: 'beat', reading: 'tempo', multiple: 1 },
      bands('mel'),
      { kind: 'notes', channels: [], tracks: [], reading: 'on' },
      { kind: 'level', reading: 'integrated' },
      { kind: 'presence', what: 'speech' },
    ];
    expect(all.map(signalKindOf)).toEqual(['level', 'event', 'level', 'vector', 'event', 'level', 'level']);
    expect(all.map(measureOf)).toEqual([
      'note',
      'strength',
      'bpm',
      'amplitude',
      'strength',
      'loudness',
      'share',
    ]);
    for (const l of all) expect(usualHigh(l)).toBeGreaterThan(0);
  });
});
