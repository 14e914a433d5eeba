/**
 * Makes what the listening is tuned on: frames and truth of many pieces of the known side. tsx scripts/tune/makeTraining.ts OUT FROM TO
 * Each seed gives one group of a kind. Rendering takes longer than mixing, so songs are recorded several times, differently, on
 * drum kits put together anew, and the drums of some are laid over the rest of others, where beats are not known but strokes are.
 */
import { closeSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { makeHop } from '../../src/core/audio/hop';
import {
  BandFrame,
  COMMON_COUNT,
  FINE_COUNT,
  FLAT_COUNT,
  MOMENT_COUNT,
} from '../../src/core/hearing/bandFrame';
import { ferryScore } from '../../src/core/ferry/score';
import { renderVoice } from '../../src/core/ferry/synth';
import { seeded } from '../../src/core/random';
import { makeArranged } from '../material/arranged';
import { clicksInNoise } from '../material/clicks';
import { makeDance } from '../material/dance';
import { redrummed } from '../material/drawnKit';
import { fonts, fontsOfSide } from '../material/generalMidi';
import { lineSong } from '../material/lines';
import { mixStems, renderStem, stillSound, type Mixed, type Stem } from '../material/mix';
import { drawTreatment, record } from '../material/record';
import { KITS, makePiece, type Piece } from '../material/score';
import { ROLES, type Part, type Song } from '../material/song';
import { makeSpeech } from '../material/speech';

const WIDE = FINE_COUNT + FLAT_COUNT + COMMON_COUNT + MOMENT_COUNT;
const [out, from, to] = [process.argv[2]!, Number(process.argv[3]), Number(process.argv[4])];
const file = openSync(`${out}.f32`, 'w');
const index: object[] = [];
let offset = 0,
  treated = from * 100;

/** Written again and again: what is made so far can be trained on. */
function writeIndex(): void {
  writeFileSync(`${out}.json`, JSON.stringify({ count: WIDE, pieces: index }));
}

interface About {
  readonly name: string;
  readonly beats?: readonly number[];
  readonly downbeats?: readonly number[];
  readonly beatKnown?: boolean;
  readonly hitKnown?: boolean;
}
function put(m: Mixed, about: About): void {
  const { left, right, ...truth } = m,
    frame = new BandFrame(48000),
    hop = makeHop(256),
    n = Math.floor(left.length / 256),
    rows = new Float32Array(n * WIDE);
  for (let k = 0; k < n; k++) {
    hop.left.set(left.subarray(k * 256, (k + 1) * 256));
    hop.right.set(right.subarray(k * 256, (k + 1) * 256));
    frame.process(hop);
    let at = k * WIDE;
    for (const part of [frame.fine, frame.flatness, frame.common, frame.moments]) {
      rows.set(part, at);
      at += part.length;
    }
  }
  writeSync(file, new Uint8Array(rows.buffer));
  index.push({
    beats: [],
    downbeats: [],
    beatKnown: false,
    hitKnown: true,
    ...truth,
    ...about,
    offset,
    frames: n,
  });
  offset += n;
}

/** Songs as they are, each recorded so many times, and the drums of each over the rest of the next. */
function putSongs(songs: readonly Song[], times: number): void {
  const isDrum = ({ role }: Part): boolean => ROLES.indexOf(role) < ROLES.indexOf('bass');
  songs.forEach((song, i) => {
    const { kind: name, beats, downbeats, beatKnown } = song;
    for (let k = 0; k < times; k++) {
      const seed = treated++,
        random = seeded(seed),
        bare = random() < 0.08,
        played = k > 0 ? redrummed(song, 'known', random) : song;
      const m = record(played, bare ? { gainsDb: {}, peakDb: -3 } : drawTreatment(seed, 'known'), seed);
      put(m, { name, beats, downbeats, beatKnown });
    }
    const other = songs[(i + 1) % songs.length]!,
      crossed = [...song.parts.filter(isDrum), ...other.parts.filter((p) => !isDrum(p))];
    if (other === song || !song.parts.some(isDrum) || crossed.every(isDrum)) return;
    const frames = Math.min(...crossed.map((p) => p.left.length)),
      seed = treated++;
    const parts = crossed.map((p) => ({
      ...p,
      left: p.left.subarray(0, frames),
      right: p.right.subarray(0, frames),
      notes: p.notes.filter((n) => n.onset < frames / 48000),
    }));
    const played = redrummed({ ...song, parts }, 'known', seeded(seed));
    put(record(played, drawTreatment(seed, 'known'), seed), { name: `${name} crossed` });
  });
}

/** A pattern of our own as a song. */
function songOf(piece: Piece, drums: Stem, bed: Stem): Song {
  const part = (role: 'drums' | 'chords', s: Stem): Part => ({ role, ...s });
  return {
    kind: 'patterns',
    from: [piece.style],
    seconds: piece.seconds,
    parts: [
      ...(drums.notes.length > 0 ? [part('drums', drums)] : []),
      ...(bed.notes.length > 0 ? [part('chords', bed)] : []),
    ],
    beats: piece.beats,
    downbeats: piece.downbeats,
    beatKnown: piece.drums.length > 20,
    speech: [],
  };
}

const knownFonts = (): number[] => {
  const known = new Set(fontsOfSide('known'));
  return fonts().flatMap((f, i) => (known.has(f) ? [i] : []));
};

/** Patterns of our own: mixed as reports mix them, and recorded as songs are. */
function patterns(seed: number): void {
  const random = seeded(seed * 7919 + 17),
    list = knownFonts(),
    songs: Song[] = [];
  for (let k = 0; k < 4; k++) {
    const long = random() < 0.4,
      bpm = 68 + 114 * random(),
      toBpm = random() < 0.5 ? Math.min(185, Math.max(66, bpm * (0.75 + 0.55 * random()))) : bpm;
    const piece = makePiece(seed * 4 + k, {
        kit: KITS[Math.floor(random() * KITS.length)]!,
        seconds: long ? 40 : 24,
        ...(long && { bpm, toBpm }),
      }),
      source = random() < 0.25 || list.length === 0 ? ('own' as const) : ('gm' as const),
      font = list[Math.floor(random() * list.length)] ?? 0,
      about = { name: 'patterns', beats: piece.beats, downbeats: piece.downbeats };
    const drums = renderStem(piece.drums, piece, source, font, seed),
      bed = renderStem(piece.bed, piece, source, font, seed),
      alone = random() < 0.2 && piece.drums.length > 0;
    const m = mixStems(drums, alone ? null : bed, {
      bedDb: -10 + 14 * random(),
      peakDb: -50 * random() ** 1.5,
      ...(random() < 0.3 && { room: 0.3 + 1.2 * random() }),
      ...(random() < 0.4 && { voiceDb: -8 + 12 * random() }),
      seed: seed * 4 + k,
    });
    put(m, { ...about, beatKnown: piece.drums.length + (alone ? 0 : piece.bed.length) > 20 });
    const song = songOf(piece, drums, bed);
    if (song.parts.length > 0) songs.push(song);
  }
  putSongs(songs, 1);
}

function still(seed: number): void {
  const random = seeded(seed * 7919 + 31);
  for (const type of ['white', 'pink', 'brown', 'hum', 'chord'] as const) {
    const x = stillSound(type, 10, seed),
      g = 10 ** ((-50 * random()) / 20),
      offset = random() < 0.3 ? 0.4 * (random() - 0.5) * g : 0,
      one = random() < 0.2;
    for (let i = 0; i < x.length; i++) x[i] = x[i]! * g + offset;
    put({ left: x, right: one ? new Float32Array(x.length) : x, ...NONE }, { name: type });
  }
}
const NONE = { any: [], faint: [], kick: [], snare: [], hat: [], speech: [] };

function speech(seed: number): void {
  const random = seeded(seed * 7919 + 37);
  for (let k = 0; k < 3; k++) {
    let { sound } = makeSpeech(seed * 3 + k, 20);
    if (random() < 0.12) {
      const s = ferryScore(seed);
      sound = renderVoice(s.syllables, s.syllables.at(-1)!.frame + 48000).slice(48000 * 14);
    }
    const g = 10 ** ((-45 * random()) / 20),
      kinds = ['white', 'pink', 'brown', 'hum'] as const,
      kind = kinds[Math.floor(random() * 4)]!,
      behind = random() < 0.5 ? stillSound(kind, sound.length / 48000, seed) : null,
      b = 10 ** ((-20 - 30 * random()) / 20);
    for (let i = 0; i < sound.length; i++) sound[i] = g * (sound[i]! + (behind ? b * behind[i]! : 0));
    put({ left: sound, right: sound, ...NONE }, { name: 'speech', hitKnown: false });
  }
}

function lines(seed: number): void {
  const songs = [0, 1, 2, 3].map((k) => lineSong(seed * 4 + k, 'known', 14));
  for (const song of songs) {
    const s = treated++;
    put(record(song, drawTreatment(s, 'known'), s), { name: 'lines' });
  }
}

function mixed(seed: number): void {
  const songs: Song[] = [];
  for (let k = 0; k < 2; k++) {
    const a = makeArranged(seed * 2 + k, 'known', 30);
    if (a) songs.push(a);
    songs.push(makeDance(seed * 2 + k, 'known', 30));
  }
  putSongs(songs, 4);
}

function clicks(seed: number): void {
  for (let k = 0; k < 4; k++) {
    const { left, right, onsets } = clicksInNoise(seed * 4 + k, 14);
    put({ left, right, ...NONE, any: onsets }, { name: 'clicks' });
  }
}

const GROUPS = [mixed, patterns, mixed, patterns, mixed, lines, mixed, patterns, mixed, still, mixed, patterns, mixed, clicks, mixed, patterns, mixed, speech, mixed, patterns]; // prettier-ignore
for (let seed = from; seed < to; seed++) {
  GROUPS[seed % GROUPS.length]!(seed);
  writeIndex();
  console.error(seed, index.length, Math.round((offset * 256) / 48000));
}
closeSync(file);
