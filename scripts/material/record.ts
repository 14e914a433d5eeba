/** Mixes a song as records are mixed, and as they reach a listener: balance, tone, rooms, compressors, limiters, clipping, cheap gear. */
import { highPass, lowPass, type Biquad } from '../../src/core/audio/biquad';
import { seeded } from '../../src/core/random';
import { ofSide, type Side } from './kinds';
import { audible, type Mixed, type Sounded } from './mix';
import { reverb } from './synth';
import type { Role, Song } from './song';

const RATE = 48000;
type Pair = readonly [Float32Array, Float32Array];

/** Rooms: how long, how much of them. */
const ROOMS = [
  { name: 'booth', seconds: 0.25, wet: 0.25 },
  { name: 'club', seconds: 0.7, wet: 0.35 },
  { name: 'church', seconds: 2.2, wet: 0.25 },
  { name: 'hall with a long tail', seconds: 1.4, wet: 0.4 },
];

/** What is done to a mix; each left out where it is not given. */
export interface Treatment {
  /** Level of each role against its usual one. */ readonly gainsDb: Readonly<Partial<Record<Role, number>>>;
  /** Of the bass drum's peaks against the peaks of all the rest. */ readonly kickDb?: number;
  readonly tone?: {
    readonly low: number;
    readonly high: number;
    readonly peakHz: number;
    readonly peakDb: number;
  };
  readonly room?: { readonly seconds: number; readonly wet: number };
  readonly compress?: {
    readonly thresholdDb: number;
    readonly ratio: number;
    readonly attack: number;
    readonly release: number;
  };
  /** Driven into a soft bend, a hard edge, or a limiter that looks ahead, in dB over it. */
  readonly saturateDb?: number;
  readonly clipDb?: number;
  readonly limitDb?: number;
  readonly sides?: 'mono' | 'left only' | 'left in both';
  readonly loudspeaker?: boolean;
  readonly lowestHz?: number;
  readonly highestHz?: number;
  readonly noiseDb?: number;
  readonly offset?: number;
  /** Of the whole, from start to end. */ readonly fadeDb?: number;
  readonly peakDb: number;
}

function biquad(x: Float32Array, { b0, b1, b2, a1, a2 }: Biquad): void {
  let x1 = 0,
    x2 = 0,
    y1 = 0,
    y2 = 0;
  for (let i = 0; i < x.length; i++) {
    const v = x[i]!,
      y = b0 * v + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    x2 = x1;
    x1 = v;
    y2 = y1;
    y1 = y;
    x[i] = y;
  }
}

/** A bell in the spectrum, by the bilinear transform. */
function bell(hz: number, db: number, q: number): Biquad {
  const a = 10 ** (db / 40),
    w = (2 * Math.PI * hz) / RATE,
    s = Math.sin(w) / (2 * q),
    norm = 1 / (1 + s / a);
  return {
    b0: (1 + s * a) * norm,
    b1: -2 * Math.cos(w) * norm,
    b2: (1 - s * a) * norm,
    a1: -2 * Math.cos(w) * norm,
    a2: (1 - s / a) * norm,
  };
}

const peakOf = (pair: Pair): number => {
  let peak = 1e-9;
  for (const c of pair) for (const x of c) if (x > peak || -x > peak) peak = Math.abs(x);
  return peak;
};

function compress([l, r]: Pair, thresholdDb: number, ratio: number, attack: number, release: number): void {
  const up = 1 - Math.exp(-1 / (attack * RATE)),
    down = 1 - Math.exp(-1 / (release * RATE)),
    threshold = peakOf([l, r]) * 10 ** (thresholdDb / 20);
  let e = 0;
  for (let i = 0; i < l.length; i++) {
    const x = Math.max(Math.abs(l[i]!), Math.abs(r[i]!));
    e += (x > e ? up : down) * (x - e);
    if (e <= threshold) continue;
    const g = (e / threshold) ** (1 / ratio - 1);
    l[i]! *= g;
    r[i]! *= g;
  }
}

/** Turns down what would go over, from 1.5 ms before it does. */
function limit([l, r]: Pair, ceiling: number, release: number): void {
  const ahead = 72,
    n = l.length,
    want = new Float32Array(n + ahead).fill(1);
  for (let i = 0; i < n; i++) {
    const x = Math.max(Math.abs(l[i]!), Math.abs(r[i]!));
    if (x > ceiling) want[i] = ceiling / x;
  }
  const least = new Float32Array(n);
  // The least over the stretch ahead, by two passes over blocks.
  let g = 1;
  const down = 1 - Math.exp(-1 / (release * RATE));
  for (let i = n - 1, run = 1, age = 0; i >= 0; i--) {
    if (want[i]! <= run || age > ahead) {
      run = want[i]!;
      age = 0;
      if (run === 1) for (let k = i; k < i + ahead && k < n; k++) run = Math.min(run, want[k]!);
    }
    age++;
    least[i] = run;
  }
  for (let i = 0; i < n; i++) {
    g = least[i]! < g ? g + 0.06 * (least[i]! - g) : g + down * (least[i]! - g);
    const x = Math.max(Math.abs(l[i]!), Math.abs(r[i]!)) * g,
      hard = x > ceiling ? ceiling / x : 1;
    l[i]! *= g * hard;
    r[i]! *= g * hard;
  }
}

/** A treatment drawn from a seed: from a bare mix to one driven hard through cheap gear. */
export function drawTreatment(seed: number, side: Side): Treatment {
  const random = seeded(seed * 4099 + 401),
    between = (a: number, b: number): number => a + (b - a) * random(),
    maybe = (p: number): boolean => random() < p;
  const gainsDb: Partial<Record<Role, number>> = {};
  for (const role of ['kick', 'snare', 'hat', 'drums', 'bass', 'chords', 'lead', 'voice'] as const)
    gainsDb[role] = between(-6, 5);
  if (maybe(0.5)) gainsDb.hat = between(-12, 0);
  const rooms = ofSide(ROOMS, side, (r) => r.name),
    hard = random();
  return {
    gainsDb,
    ...(maybe(0.6) && { kickDb: between(-20, 0) }),
    ...(maybe(0.6) && {
      tone: {
        low: between(-6, 6),
        high: between(-8, 5),
        peakHz: 150 * 40 ** random(),
        peakDb: between(-7, 7),
      },
    }),
    ...(maybe(0.3) && { room: rooms[Math.floor(random() * rooms.length)]! }),
    ...(maybe(0.45) && {
      compress: {
        thresholdDb: between(-26, -8),
        ratio: between(1.5, 8),
        attack: between(0.0005, 0.03),
        release: between(0.04, 0.4),
      },
    }),
    ...(hard < 0.16
      ? { clipDb: between(1, 16) }
      : hard < 0.32
        ? { saturateDb: between(0, 16) }
        : hard < 0.55
          ? { limitDb: between(1, 12) }
          : {}),
    ...(maybe(0.35)
      ? { sides: 'mono' as const }
      : maybe(0.1)
        ? { sides: 'left only' as const }
        : maybe(0.08)
          ? { sides: 'left in both' as const }
          : {}),
    ...(maybe(0.08) && { loudspeaker: true }),
    ...(maybe(0.08) && { lowestHz: between(60, 220) }),
    ...(maybe(0.14) && { highestHz: between(3500, 14000) }),
    ...(maybe(0.22) && { noiseDb: between(-55, -14) }),
    ...(maybe(0.12) && { offset: between(0.003, 0.3) * (maybe(0.5) ? 1 : -1) }),
    ...(maybe(0.1) && { fadeDb: between(-40, 30) }),
    peakDb: maybe(0.5) ? between(-6, 0) : -45 * random() ** 1.4,
  };
}

/** A song as a listener gets it, with the truth of all that can be heard in it. */
export function record(song: Song, t: Treatment, seed: number): Mixed {
  const random = seeded(seed * 8209 + 503),
    frames = song.parts[0]!.left.length,
    gains = song.parts.map((p) => 10 ** ((t.gainsDb[p.role] ?? 0) / 20));
  if (t.kickDb !== undefined) {
    let rest = 1e-9;
    song.parts.forEach((p, i) => {
      if (p.role !== 'kick') rest = Math.max(rest, gains[i]! * peakOf([p.left, p.right]));
    });
    song.parts.forEach((p, i) => {
      if (p.role === 'kick' && song.parts.length > 1)
        gains[i] = (rest * 10 ** (t.kickDb! / 20)) / peakOf([p.left, p.right]);
    });
  }
  let left = new Float32Array(frames),
    right = new Float32Array(frames);
  song.parts.forEach((p, k) => {
    const g = gains[k]!;
    for (let i = 0; i < frames; i++) {
      left[i]! += g * p.left[i]!;
      right[i]! += g * p.right[i]!;
    }
  });
  if (t.tone) {
    for (const x of [left, right]) {
      biquad(x, bell(80, t.tone.low, 0.6));
      biquad(x, bell(8000, t.tone.high, 0.5));
      biquad(x, bell(t.tone.peakHz, t.tone.peakDb, 1.2));
    }
  }
  if (t.room) {
    left = reverb(left, t.room.seconds, t.room.wet) as Float32Array<ArrayBuffer>;
    right = reverb(right, t.room.seconds * 1.03, t.room.wet) as Float32Array<ArrayBuffer>;
  }
  const pair: Pair = [left, right];
  if (t.compress)
    compress(pair, t.compress.thresholdDb, t.compress.ratio, t.compress.attack, t.compress.release);
  const scale = (g: number): void => {
    for (const c of pair) for (let i = 0; i < frames; i++) c[i]! *= g;
  };
  scale(1 / peakOf(pair));
  if (t.saturateDb !== undefined)
    for (const c of pair)
      for (let i = 0; i < frames; i++) c[i] = Math.tanh(c[i]! * 10 ** (t.saturateDb / 20));
  if (t.clipDb !== undefined)
    for (const c of pair)
      for (let i = 0; i < frames; i++) c[i] = Math.min(1, Math.max(-1, c[i]! * 10 ** (t.clipDb / 20)));
  if (t.limitDb !== undefined) limit(pair, 10 ** (-t.limitDb / 20), 0.03 + 0.2 * random());
  if (t.loudspeaker) {
    for (const x of pair) {
      biquad(x, highPass(180 + 150 * random(), 0.9, RATE));
      biquad(x, lowPass(5000 + 6000 * random(), 0.7, RATE));
      for (let k = 0; k < 3; k++) biquad(x, bell(300 * 15 ** random(), -8 + 16 * random(), 2));
    }
    const m = reverb(left, 0.5, 0.7);
    left.set(m);
    right.set(m);
  }
  if (t.lowestHz) for (const x of pair) biquad(x, highPass(t.lowestHz, 0.7, RATE));
  if (t.highestHz) for (const x of pair) biquad(x, lowPass(t.highestHz, 0.7, RATE));
  if (t.sides === 'mono') for (let i = 0; i < frames; i++) left[i] = right[i] = (left[i]! + right[i]!) / 2;
  if (t.sides === 'left only') right.fill(0);
  if (t.sides === 'left in both') right.set(left);
  scale(10 ** (t.peakDb / 20) / peakOf(pair));
  if (t.fadeDb !== undefined)
    for (let i = 0; i < frames; i++) {
      const g = 10 ** ((t.fadeDb * (t.fadeDb < 0 ? i / frames : i / frames - 1)) / 20);
      left[i]! *= g;
      right[i]! *= g;
    }
  if (t.noiseDb !== undefined) {
    const g = 10 ** ((t.peakDb + t.noiseDb) / 20),
      both = random() < 0.5;
    let a = 0;
    for (let i = 0; i < frames; i++) {
      a += 0.3 * (random() * 2 - 1 - a);
      left[i]! += g * a;
      if (both) a += 0.3 * (random() * 2 - 1 - a);
      right[i]! += t.sides === 'left only' ? 0 : g * a;
    }
  }
  if (t.offset !== undefined) {
    const o = t.offset * 10 ** (t.peakDb / 20);
    for (const c of pair) for (let i = 0; i < frames; i++) c[i]! += o;
  }
  const notes: Sounded[] = song.parts.flatMap((p, k) =>
    p.notes.map((n) => ({ ...n, peak: n.peak * gains[k]! })),
  );
  return { left, right, ...audible(notes), speech: song.speech };
}
