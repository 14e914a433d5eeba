/**
 * Arranged pieces: chord charts of our own, in random keys, tempos and forms, played by a general accompaniment generator with
 * some hundreds of styles (Debian's mma) and rendered through soundfonts. Its MIDI is the truth.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseMidi, writeMidi, type MidiEvent } from 'midi-file';
import { seeded } from '../../src/core/random';
import { fontsOfSide, onsetOf, renderMidi } from './generalMidi';
import { playKit, recordedKits } from './kits';
import { sideOfStyle, type Side } from './kinds';
import { DRUMS, HAT, KICK, KITS, OPEN_HAT, SNARE, type Note } from './score';
import type { Part, Role, Song } from './song';

const LIBRARY = '/usr/share/mma/lib';

interface StyleFile {
  readonly name: string;
  readonly grooves: readonly string[];
  readonly meter: number;
  readonly beatKnown: boolean;
}
let styles: StyleFile[] | null = null;

export function hasArranger(): boolean {
  return existsSync('/usr/bin/mma') && existsSync(LIBRARY);
}

/** Styles of the generator's library in bars of three or four, by file. */
function styleFiles(side: Side): readonly StyleFile[] {
  styles ??= readdirSync(LIBRARY, { withFileTypes: true })
    .filter((e) => e.isDirectory())
    .flatMap(({ name: folder }) =>
      readdirSync(path.join(LIBRARY, folder))
        .filter((f) => f.endsWith('.mma') && !/metronome|none/.test(f))
        .map((f): StyleFile => {
          const text = readFileSync(path.join(LIBRARY, folder, f), 'latin1');
          const meters = new Set([...text.matchAll(/^\s*time\s+(\d+)/gim)].map((m) => Number(m[1])));
          return {
            name: `${folder}/${f.slice(0, -4)}`,
            grooves: [...text.matchAll(/^\s*defgroove\s+(\S+)/gim)].map((m) => m[1]!),
            meter: meters.size === 1 ? [...meters][0]! : 0,
            beatKnown: !/68|128|54|34/.test(f),
          };
        })
        .filter((s) => s.grooves.length > 0 && (s.meter === 3 || s.meter === 4)),
    );
  return styles.filter((s) => sideOfStyle(s.name) === side);
}

const ROOTS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'];
/** Steps of the scale and their kinds of chord, by usual ways of going on. */
const FORMS: readonly (readonly (readonly [number, string])[])[] = [
  [[0, ''], [9, 'm'], [5, ''], [7, '7']],
  [[0, 'maj7'], [9, 'm7'], [2, 'm7'], [7, '7']],
  [[9, 'm'], [5, ''], [0, ''], [7, '']],
  [[0, '7'], [5, '7'], [0, '7'], [7, '7']],
  [[0, 'm'], [10, ''], [8, ''], [7, '7']],
  [[0, 'm7'], [5, 'm7'], [10, '7'], [3, 'maj7']],
  [[0, ''], [5, ''], [0, ''], [7, 'sus4']],
  [[2, 'm7'], [7, '7'], [0, 'maj7'], [0, '6']],
  [[0, ''], [4, 'm'], [5, ''], [5, 'm']],
  [[0, 'm'], [0, 'm'], [5, 'm'], [7, '7#9']],
]; // prettier-ignore
const MELODY = [0, 4, 11, 12, 22, 24, 25, 26, 27, 29, 30, 40, 42, 56, 57, 60, 64, 65, 66, 68, 71, 73, 75, 79, 80, 81, 104]; // prettier-ignore

const usualBpm = (name: string, random: () => number): number => {
  const [low, high] = /slow|ballad|bolero|spiritual|lullaby|hymn/.test(name)
    ? [66, 92]
    : /fast|quick|bebop|polka|samba|merengue|dixie|march|charleston|bluegrass|ska|jive|twist/.test(name)
      ? [112, 186]
      : /trance|techno|house|dance|rave|disco/.test(name)
        ? [112, 144]
        : [80, 156];
  return low! * (high! / low!) ** random();
};

/** How a tempo goes over to another: over some bars, or at once. */
export type TempoChange = 'slides' | 'leaps';

/** A chord chart from a seed. @param change - of its tempo; drawn where null */
function chartOf(
  style: StyleFile,
  seconds: number,
  random: () => number,
  change: TempoChange | null,
): { text: string; bpm: number } {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const key = Math.floor(random() * 12),
    bpm = Math.round(usualBpm(style.name, random) * 10) / 10;
  const bars = Math.ceil((seconds * bpm) / 60 / style.meter) + 1;
  const plain = style.grooves.filter((g) => !/intro|end|fill|break/i.test(g)),
    main = pick(plain.length > 0 ? plain : style.grooves),
    fills = style.grooves.filter((g) => /fill|break/i.test(g));
  const isMoved = random() < 0.16,
    isLeapt = !isMoved && random() < 0.1,
    moves = change ? change === 'slides' : isMoved,
    leaps = change ? change === 'leaps' : isLeapt;
  const lines = [`Tempo ${bpm}`];
  let form = pick(FORMS);
  for (let bar = 0; bar < bars; bar++) {
    if (bar % 8 === 0) {
      const intro = style.grooves.filter((g) => /intro/i.test(g));
      const groove =
        bar === 0 && intro.length > 0 && random() < 0.4 ? pick(intro) : random() < 0.6 ? main : pick(plain);
      lines.push(`Groove ${style.name}:${groove ?? main}`);
      if (random() < 0.3) form = pick(FORMS);
    } else if (bar % 8 === 7 && fills.length > 0 && random() < 0.6)
      lines.push(`Groove ${style.name}:${pick(fills)}`);
    if (moves && bar > 1 && bar % 6 === 2)
      lines.push(`Tempo ${(bpm * (0.72 + 0.5 * random())).toFixed(1)} ${2 + Math.floor(random() * 4)}`);
    if (leaps && bar > 3 && bar % 8 === 4)
      lines.push(`Tempo ${(bpm * (random() < 0.5 ? 0.78 : 1.2)).toFixed(1)}`);
    const [step, kind] = form[bar % form.length]!,
      name = `${ROOTS[(key + step) % 12]}${kind}`;
    const next = form[(bar + 1) % form.length]!,
      two = random() < 0.15 ? ` / ${ROOTS[(key + next[0]) % 12]}${next[1]}` : '';
    lines.push(`${bar + 1} ${name}${two}`);
  }
  return { text: lines.join('\n') + '\n', bpm };
}

const roleOf = (program: number, key: number): Role =>
  program === DRUMS
    ? KICK.includes(key)
      ? 'kick'
      : SNARE.includes(key)
        ? 'snare'
        : HAT.includes(key) || key === OPEN_HAT
          ? 'hat'
          : 'drums'
    : program >= 32 && program < 40
      ? 'bass'
      : 'chords';

interface Played {
  readonly tracks: readonly (readonly MidiEvent[])[];
  readonly ticksPerBeat: number;
  readonly secondsAt: (ticks: number) => number;
  readonly ticksAt: (seconds: number) => number;
}

function readMidi(bytes: Uint8Array): Played {
  const { tracks, header } = parseMidi(bytes),
    ticksPerBeat = header.ticksPerBeat ?? 192;
  const turns: { at: number; us: number; s: number }[] = [];
  for (const track of tracks) {
    let at = 0;
    for (const e of track) {
      at += e.deltaTime;
      if (e.type === 'setTempo') turns.push({ at, us: e.microsecondsPerBeat, s: 0 });
    }
  }
  turns.sort((a, b) => a.at - b.at);
  if (turns.length === 0 || turns[0]!.at > 0) turns.unshift({ at: 0, us: 500000, s: 0 });
  for (let i = 1; i < turns.length; i++) {
    const p = turns[i - 1]!;
    turns[i]!.s = p.s + ((turns[i]!.at - p.at) * p.us) / ticksPerBeat / 1e6;
  }
  return {
    tracks,
    ticksPerBeat,
    secondsAt: (ticks) => {
      let t = turns[0]!;
      for (const u of turns) if (u.at <= ticks) t = u;
      return t.s + ((ticks - t.at) * t.us) / ticksPerBeat / 1e6;
    },
    ticksAt: (seconds) => {
      let t = turns[0]!;
      for (const u of turns) if (u.s <= seconds) t = u;
      return t.at + ((seconds - t.s) * 1e6 * ticksPerBeat) / t.us;
    },
  };
}

/** The same file with those notes alone that belong to a role. */
function only(p: Played, role: Role, kit: number): { bytes: Uint8Array; notes: Note[] } {
  const notes: Note[] = [],
    program = new Map<number, number>();
  const tracks = p.tracks.map((track) => {
    const out: MidiEvent[] = [];
    let at = 0,
      before = 0;
    for (const e of track) {
      at += e.deltaTime;
      if (e.type === 'programChange') program.set(e.channel, e.programNumber);
      if (e.type === 'programChange' && e.channel === 9) continue;
      if (e.type === 'noteOn' || e.type === 'noteOff') {
        const from = e.channel === 9 ? DRUMS : (program.get(e.channel) ?? 0);
        if (roleOf(from, e.noteNumber) !== role) continue;
        if (e.type === 'noteOn' && e.velocity > 0)
          notes.push({
            t: p.secondsAt(at),
            length: 0.3,
            program: from,
            key: e.noteNumber,
            velocity: e.velocity,
          });
      }
      out.push({ ...e, deltaTime: at - before });
      before = at;
    }
    return out;
  });
  tracks[0]!.unshift({ deltaTime: 0, channel: 9, type: 'programChange', programNumber: kit });
  const bytes = Uint8Array.from(
    writeMidi({
      header: { format: 1, numTracks: tracks.length, ticksPerBeat: p.ticksPerBeat },
      tracks: tracks as MidiEvent[][],
    }),
  );
  return { bytes, notes: notes.sort((a, b) => a.t - b.t) };
}

/** A tune over the whole, in the key's neighbourhood; its notes on beats and halves of them. */
function tuneOver(beats: readonly number[], seconds: number, random: () => number): Note[] {
  const program = MELODY[Math.floor(random() * MELODY.length)]!,
    notes: Note[] = [];
  let key = 66 + Math.floor(random() * 10);
  for (let i = 0; i + 1 < beats.length;) {
    const length = [0.5, 0.5, 1, 1, 2, 3][Math.floor(random() * 6)]!,
      whole = Math.floor(i),
      t = beats[whole]! + (i - whole) * (beats[whole + 1]! - beats[whole]!);
    key += [-3, -2, -1, 0, 1, 2, 3, 4, -4][Math.floor(random() * 9)]!;
    if (key < 55 || key > 86) key = 67;
    const s = length * (beats[whole + 1]! - beats[whole]!);
    if (random() < 0.75 && t + 0.1 < seconds)
      notes.push({
        t,
        length: s * (random() < 0.5 ? 1 : 0.8),
        program,
        key,
        velocity: 70 + Math.floor(random() * 50),
      });
    i += length;
  }
  return notes;
}

/** A piece of a style that is tuned on, or of one that is kept out of it; null when the generator could not play it. */
export function makeArranged(
  seed: number,
  side: Side,
  seconds: number,
  change: TempoChange | null = null,
): Song | null {
  const random = seeded(seed * 7919 + 101),
    pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const style = pick(styleFiles(side)),
    { text } = chartOf(style, seconds, random, change),
    // Compressed fonts take ten times as long to load.
    all = fontsOfSide(side),
    quick = all.filter((f) => !f.endsWith('.sf3')),
    font = pick(random() < 0.15 || quick.length === 0 ? all : quick);
  const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-chart-'));
  let played: Played;
  try {
    // The generator plays by chance too: with its own seed, a piece is the same from run to run.
    writeFileSync(path.join(folder, 'a.mma'), `RndSeed ${seed}\n${text}`);
    execFileSync('mma', [path.join(folder, 'a.mma'), '-f', path.join(folder, 'a.mid')], {
      stdio: 'ignore',
      env: { ...process.env, PYTHONHASHSEED: '0' },
    });
    played = readMidi(readFileSync(path.join(folder, 'a.mid')));
  } catch {
    return null;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  const beats: number[] = [],
    downbeats: number[] = [];
  for (let k = 0; ; k++) {
    const t = played.secondsAt(k * played.ticksPerBeat);
    if (t >= seconds) break;
    beats.push(t);
    if (k % style.meter === 0) downbeats.push(t);
  }
  const kits = recordedKits(side),
    recorded = kits.length > 0 && random() < 0.45 ? pick(kits) : null,
    kit = pick(KITS);
  const parts: Part[] = [];
  for (const role of ['kick', 'snare', 'hat', 'drums', 'bass', 'chords'] as const) {
    const { bytes, notes: all } = only(played, role, kit),
      notes = all.filter((n) => n.t < seconds - 0.05);
    if (notes.length === 0) continue;
    if (recorded && role !== 'bass' && role !== 'chords') {
      const heard = playKit(recorded, notes, seconds, seeded(seed * 31 + role.length));
      if (heard.notes.length > 0) parts.push({ role, ...heard });
      continue;
    }
    const [left, right] = renderMidi(bytes, seconds, font);
    // A font may lack an instrument.
    if (left.some((x) => x > 1e-4 || x < -1e-4))
      parts.push({ role, left, right, notes: notes.map((note) => soundedOf(note, kit, font)) });
  }
  if (random() < 0.5) {
    const notes = tuneOver(beats, seconds, random),
      { bytes } = only({ ...played, tracks: [tuneTrack(notes, played)] }, 'chords', 0);
    if (notes.length > 0) {
      const [left, right] = renderMidi(bytes, seconds, font);
      parts.push({ role: 'lead', left, right, notes: notes.map((note) => soundedOf(note, kit, font)) });
    }
  }
  if (parts.length === 0) return null;
  return {
    kind: 'arranged',
    from: [
      `style ${style.name}`,
      `font ${path.basename(font)}`,
      ...(recorded ? [`kit ${recorded.name}`] : []),
    ],
    seconds,
    parts,
    beats,
    downbeats,
    beatKnown: style.beatKnown && parts.some((p) => p.role !== 'lead'),
    speech: [],
  };
}

function soundedOf(note: Note, kit: number, font: string): Part['notes'][number] {
  const [offset, peak] = onsetOf(note, kit, font);
  return { note, onset: note.t + offset, peak: peak * (note.velocity / 100) ** 2, soft: offset > 0.03 };
}

function tuneTrack(notes: readonly Note[], p: Played): MidiEvent[] {
  const timed: { at: number; event: MidiEvent }[] = notes.flatMap((n) => [
    {
      at: Math.round(p.ticksAt(n.t)),
      event: { deltaTime: 0, channel: 0, type: 'noteOn', noteNumber: n.key, velocity: n.velocity } as const,
    },
    {
      at: Math.round(p.ticksAt(n.t + n.length)) - 1,
      event: { deltaTime: 0, channel: 0, type: 'noteOff', noteNumber: n.key, velocity: 0 } as const,
    },
  ]);
  timed.sort((a, b) => a.at - b.at);
  // The tempo map first, so that its times are the piece's.
  for (const track of p.tracks) {
    let at = 0;
    for (const e of track) {
      at += e.deltaTime;
      if (e.type === 'setTempo') timed.push({ at, event: { ...e } });
    }
  }
  timed.sort(
    (a, b) => a.at - b.at || Number(b.event.type === 'setTempo') - Number(a.event.type === 'setTempo'),
  );
  const track: MidiEvent[] = [
    { deltaTime: 0, channel: 0, type: 'programChange', programNumber: notes[0]?.program ?? 0 },
  ];
  let before = 0;
  for (const { at, event } of timed) {
    track.push({ ...event, deltaTime: Math.max(0, at - before) });
    before = Math.max(before, at);
  }
  track.push({ deltaTime: 1, meta: true, type: 'endOfTrack' });
  return track;
}
