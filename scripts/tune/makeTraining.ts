/**
 * Makes what the listening is tuned on: band frames and truth of many pieces. tsx scripts/tune/makeTraining.ts OUT FROM TO [crossed|long]
 * Crossed: drums of some pieces over beds of others, about as loud as they are. Rendering takes several times as long as mixing, and
 * what strokes are learned from is many mixes. Long: longer pieces alone, many of which grow faster or slower, for beats.
 */
import { writeFileSync, openSync, writeSync, closeSync } from 'node:fs';
import { makeHop } from '../../src/core/audio/hop';
import { BandFrame, BAND_COUNT, FLAT_COUNT } from '../../src/core/hearing/bandFrame';
import { seeded } from '../../src/core/random';
import { mixPiece, mixStems, renderStem, stillSound, type Mixed } from '../material/mix';
import { DRUMS, makePiece, KITS, type Note, type Piece } from '../material/score';
import { makeSpeech } from '../material/speech';
import { ferryScore } from '../../src/core/ferry/score';
import { renderVoice } from '../../src/core/ferry/synth';

const [out, from, to] = [process.argv[2]!, Number(process.argv[3]), Number(process.argv[4])];
const file = openSync(`${out}.f32`, 'w');
const index: object[] = [];
let offset = 0;

/** Written again and again: what is made so far can be trained on. */
function writeIndex(): void {
  writeFileSync(
    `${out}.json`,
    JSON.stringify({ count: BAND_COUNT + FLAT_COUNT, bands: BAND_COUNT, pieces: index }),
  );
}

/** What a room, a mixer and a cheap microphone do to it. */
function colour(m: { left: Float32Array; right: Float32Array }, random: () => number): void {
  const mono = random() < 0.5;
  const tilt = (random() - 0.5) * 1.2,
    cut = random() < 0.12 ? 0.15 + 0.5 * random() : 1,
    noise = random() < 0.3 ? 10 ** (-2 - 1.5 * random()) : 0;
  let peak = 1e-9;
  for (const x of m.left) peak = Math.max(peak, Math.abs(x));
  if (mono) for (let i = 0; i < m.left.length; i++) m.left[i] = m.right[i] = (m.left[i]! + m.right[i]!) / 2;
  for (const c of mono ? [m.left] : [m.left, m.right]) {
    let low = 0,
      smooth = 0;
    for (let i = 0; i < c.length; i++) {
      low += 0.08 * (c[i]! - low);
      let y = c[i]! + tilt * (tilt > 0 ? c[i]! - low : low);
      if (tilt <= 0) y = c[i]! - tilt * low;
      smooth += cut * (y - smooth);
      c[i] = (cut < 1 ? smooth : y) + noise * peak * (random() * 2 - 1);
    }
  }
  if (mono) m.right.set(m.left);
}

function put(
  sound: { left: Float32Array; right: Float32Array },
  truth: Omit<Mixed, 'left' | 'right'> & {
    beats: readonly number[];
    downbeats: readonly number[];
    name: string;
    beatKnown: boolean;
    hitKnown: boolean;
  },
): void {
  const { left, right } = sound;
  const frame = new BandFrame(48000),
    hop = makeHop(256),
    n = Math.floor(left.length / 256);
  hop.mono = left === right || left.every((x, i) => x === right[i]);
  const wide = BAND_COUNT + FLAT_COUNT;
  const rows = new Float32Array(n * wide);
  for (let k = 0; k < n; k++) {
    hop.left.set(left.subarray(k * 256, (k + 1) * 256));
    hop.right.set(right.subarray(k * 256, (k + 1) * 256));
    frame.process(hop);
    rows.set(frame.bands, k * wide);
    rows.set(frame.flatness, k * wide + BAND_COUNT);
  }
  writeSync(file, new Uint8Array(rows.buffer));
  index.push({ ...truth, offset, frames: n });
  offset += n;
}

/** A mix of a piece, as it is or through a room, a mixer and a cheap microphone. */
function putPiece(m: Mixed, piece: Piece, beatKnown: boolean, random: (() => number) | null): void {
  const { left, right, ...truth } = m,
    both = { left, right: right === left ? right.slice() : right };
  if (random) colour(both, random);
  put(both, {
    ...truth,
    beats: piece.beats,
    downbeats: piece.downbeats,
    name: piece.style,
    beatKnown,
    hitKnown: true,
  });
}

/** One piece, or noise, or speech. */
function one(seed: number): void {
  const random = seeded(seed * 7919 + 17);
  const kind = random();
  const none = {
    any: [],
    faint: [],
    kick: [],
    snare: [],
    hat: [],
    speech: [] as [number, number][],
    beats: [],
    downbeats: [],
  };
  if (kind < 0.07) {
    const type = (['white', 'pink', 'brown', 'hum', 'chord'] as const)[Math.floor(random() * 5)]!;
    const x = stillSound(type, 16, seed),
      g = 10 ** ((-50 * random()) / 20);
    for (let i = 0; i < x.length; i++) x[i]! *= g;
    put({ left: x, right: x }, { ...none, name: type, beatKnown: false, hitKnown: true });
  } else if (kind < 0.19) {
    const ferry = random() < 0.12;
    const { sound, spans } = ferry
      ? (() => {
          const s = ferryScore(seed);
          return {
            sound: renderVoice(s.syllables, s.syllables.at(-1)!.frame + 48000).slice(48000 * 14),
            spans: s.speech.map(([a, b]) => [a - 14, b - 14] as [number, number]).filter(([, b]) => b > 0),
          };
        })()
      : makeSpeech(seed, 24);
    const g = 10 ** ((-45 * random()) / 20),
      background =
        random() < 0.5
          ? stillSound(
              (['white', 'pink', 'brown', 'hum'] as const)[Math.floor(random() * 4)]!,
              sound.length / 48000,
              seed,
            )
          : null,
      b = 10 ** ((-20 - 30 * random()) / 20);
    for (let i = 0; i < sound.length; i++) sound[i] = g * (sound[i]! + (background ? b * background[i]! : 0));
    const m = { left: sound, right: sound.slice() };
    colour(m, random);
    put(m, { ...none, speech: spans, name: 'speech', beatKnown: false, hitKnown: false });
  } else {
    const piece = makePiece(seed, { kit: KITS[Math.floor(random() * KITS.length)]! });
    const bedDb = random() < 0.22 ? -Infinity : -12 + 16 * random();
    const m = mixPiece(piece, {
      source: random() < 0.3 ? 'own' : 'gm',
      font: random() < 0.5 ? 0 : Math.floor(random() * 4),
      bedDb,
      peakDb: -50 * random() ** 1.5,
      ...(random() < 0.3 && { room: 0.3 + 1.2 * random() }),
      ...(random() < 0.35 && { voiceDb: -8 + 12 * random() }),
      seed,
    });
    putPiece(m, piece, piece.drums.length + (bedDb > -90 ? piece.bed.length : 0) > 20, random);
  }
}

/** A longer piece, at an even tempo or from one to another: once in each of two mixes. */
function long(seed: number): void {
  const random = seeded(seed * 7919 + 29),
    bpm = 68 + 114 * random(),
    toBpm = random() < 0.4 ? Math.min(185, Math.max(66, bpm * (0.75 + 0.55 * random()))) : bpm;
  const piece = makePiece(seed, { seconds: 46, bpm, toBpm, kit: KITS[Math.floor(random() * KITS.length)]! }),
    source = random() < 0.15 ? ('own' as const) : ('gm' as const),
    font = random() < 0.5 ? 0 : Math.floor(random() * 4);
  const drums = renderStem(piece.drums, piece, source, font, seed),
    bed = renderStem(piece.bed, piece, source, font, seed);
  for (const withBed of [false, true]) {
    if (!withBed && piece.drums.length <= 20) continue;
    const m = mixStems(drums, withBed ? bed : null, {
      bedDb: -10 + 13 * random(),
      peakDb: -40 * random() ** 1.5,
      ...(random() < 0.25 && { room: 0.3 + 1.2 * random() }),
      ...(random() < 0.25 && { voiceDb: -8 + 8 * random() }),
      seed: 2 * seed + Number(withBed),
    });
    putPiece(
      m,
      piece,
      piece.drums.length + (withBed ? piece.bed.length : 0) > 20,
      random() < 0.6 ? random : null,
    );
  }
}

const CROSSED = 8,
  MIXES = 5;

/** Another balance of the kit: each kind of drum a little louder or softer. */
function balanced(notes: readonly Note[], random: () => number): Note[] {
  const gains = new Map<number, number>();
  return notes.map((n) => {
    if (n.program !== DRUMS) return n;
    if (!gains.has(n.key)) gains.set(n.key, 0.75 + 0.4 * random());
    return { ...n, velocity: Math.max(8, Math.min(127, Math.round(n.velocity * gains.get(n.key)!))) };
  });
}

/** Drums of some pieces, over beds of the same and of each other. */
function crossed(seed: number): void {
  const random = seeded(seed * 7919 + 23),
    source = random() < 0.2 ? ('own' as const) : ('gm' as const);
  const parts = Array.from({ length: CROSSED }, (_, i) => {
    const piece = makePiece(seed + i, { seconds: 24, kit: KITS[Math.floor(random() * KITS.length)]! }),
      font = random() < 0.5 ? 0 : Math.floor(random() * 4);
    const drums = random() < 0.5 ? piece.drums : balanced(piece.drums, random);
    return {
      piece,
      drums: renderStem(drums, piece, source, font, seed + i),
      bed: renderStem(piece.bed, piece, source, font, seed + i),
    };
  });
  parts.forEach(({ piece, drums }, i) => {
    for (let k = 0; k < MIXES; k++) {
      const j = k < 2 ? i : Math.floor(random() * CROSSED),
        bed = parts[j]!.bed;
      const m = mixStems(drums, random() < 0.1 && drums.notes.length > 0 ? null : bed, {
        bedDb: -7 + 11 * random(),
        peakDb: -50 * random() ** 1.5,
        ...(random() < 0.2 && { room: 0.3 + 1.2 * random() }),
        ...(random() < 0.6 && { voiceDb: -10 + 12 * random() }),
        seed: (seed + i) * MIXES + k,
      });
      putPiece(m, piece, j === i && piece.drums.length > 20, k % 2 ? random : null);
    }
  });
}

const mode = process.argv[5],
  step = mode === 'crossed' ? CROSSED : 1;
for (let seed = from; seed < to; seed += step) {
  if (mode === 'crossed') crossed(seed);
  else if (mode === 'long') long(seed);
  else one(seed);
  if (seed % 20 < step) {
    console.error(seed);
    writeIndex();
  }
}
closeSync(file);
writeIndex();
