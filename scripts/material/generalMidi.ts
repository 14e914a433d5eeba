/**
 * Renders notes through General MIDI soundfonts from Debian's packages (fluidsynth, fluid-soundfont-gm; for tuning also
 * timgm6mb-soundfont, musescore-general-soundfont-small, opl3-soundfont). Nothing of them is part of the project; whoever wants
 * them installs them, and every command says when they are not there.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeMidi, type MidiEvent } from 'midi-file';
import { readWav } from '../../src/core/audio/wav';
import type { Side } from './kinds';
import { DRUMS, type Note } from './score';

const FONT = '/usr/share/sounds/sf2/FluidR3_GM.sf2';
const FURTHER = [
  '/usr/share/sounds/sf2/TimGM6mb.sf2',
  '/usr/share/sounds/sf3/MuseScore_General_Lite.sf3',
  '/usr/share/sounds/sf2/OPL-3_FM_128M.sf2',
];
const PATCHES = '/etc/timidity/freepats.cfg';
const TICKS_PER_SECOND = 19200;
const CACHE = '.cache/onsets.json';

export function hasGeneralMidi(): boolean {
  return existsSync(FONT) && ['/usr/bin/fluidsynth', '/usr/local/bin/fluidsynth'].some((f) => existsSync(f));
}

/** Soundfonts that are there; the first is the one the accuracy report plays. */
export function fonts(): readonly string[] {
  return [FONT, ...FURTHER].filter((f) => existsSync(f));
}

/** Instruments that are tuned on, and those kept out of it; the latter are two that share nothing with the others. */
export function fontsOfSide(side: Side): readonly string[] {
  const out = ['/usr/share/sounds/sf2/TimGM6mb.sf2', PATCHES];
  return side === 'unknown'
    ? out.filter((f) => existsSync(f) && (f !== PATCHES || existsSync('/usr/bin/timidity')))
    : [FONT, '/usr/share/sounds/sf3/MuseScore_General.sf3', '/usr/share/sounds/sf2/OPL-3_FM_128M.sf2'].filter(
        (f) => existsSync(f),
      );
}

/** A standard MIDI file of notes; drums on channel 10. */
export function midiOf(notes: readonly Note[], kit: number): Uint8Array {
  const programs = [...new Set(notes.filter((n) => n.program !== DRUMS).map((n) => n.program))].slice(0, 15);
  const channelOf = (program: number): number => {
    if (program === DRUMS) return 9;
    const i = programs.indexOf(program);
    return i < 9 ? i : i + 1;
  };
  const events: { at: number; order: number; event: MidiEvent }[] = [
    { at: 0, order: 0, event: { deltaTime: 0, channel: 9, type: 'programChange', programNumber: kit } },
  ];
  for (const p of programs)
    events.push({
      at: 0,
      order: 0,
      event: { deltaTime: 0, channel: channelOf(p), type: 'programChange', programNumber: p },
    });
  for (const n of notes) {
    const channel = channelOf(n.program),
      at = Math.round(n.t * TICKS_PER_SECOND);
    events.push({
      at,
      order: 2,
      event: { deltaTime: 0, channel, type: 'noteOn', noteNumber: n.key, velocity: n.velocity },
    });
    events.push({
      at: Math.round((n.t + n.length) * TICKS_PER_SECOND),
      order: 1,
      event: { deltaTime: 0, channel, type: 'noteOff', noteNumber: n.key, velocity: 0 },
    });
  }
  events.sort((a, b) => a.at - b.at || a.order - b.order);
  let before = 0;
  const track: MidiEvent[] = [{ deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: 500000 }];
  for (const { at, event } of events) {
    track.push({ ...event, deltaTime: at - before });
    before = at;
  }
  track.push({ deltaTime: TICKS_PER_SECOND / 2, meta: true, type: 'endOfTrack' });
  return Uint8Array.from(
    writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: TICKS_PER_SECOND / 2 }, tracks: [track] }),
  );
}

/** @returns left and right at 48 kHz, `seconds` long; a piece without notes is silence */
export function renderGeneralMidi(
  notes: readonly Note[],
  kit: number,
  seconds: number,
  { reverb = false, font = FONT } = {},
): [Float32Array, Float32Array] {
  const frames = Math.round(seconds * 48000);
  if (notes.length === 0) return [new Float32Array(frames), new Float32Array(frames)];
  return renderMidi(midiOf(notes, kit), seconds, font, reverb);
}

/**
 * Renders a standard MIDI file, bare of a room unless asked.
 * @param font - a soundfont, or `freepats` for its patches, which timidity plays @returns left and right at 48 kHz, `seconds` long
 */
export function renderMidi(
  bytes: Uint8Array,
  seconds: number,
  font: string,
  reverb = false,
): [Float32Array, Float32Array] {
  const frames = Math.round(seconds * 48000),
    folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-gm-'));
  try {
    const midi = path.join(folder, 'a.mid'),
      wav = path.join(folder, 'a.wav');
    writeFileSync(midi, bytes);
    if (font === PATCHES)
      execFileSync(
        'timidity',
        [
          '-c',
          PATCHES,
          '-Ow',
          '-s',
          '48000',
          '-EFreverb=0',
          '-EFchorus=0',
          '-EFdelay=0',
          '-A60',
          '-o',
          wav,
          midi,
        ],
        { stdio: 'ignore' },
      );
    else
      execFileSync(
        'fluidsynth',
        [
          '-ni',
          '-q',
          '-F',
          wav,
          '-T',
          'wav',
          '-O',
          'float',
          '-r',
          '48000',
          '-g',
          '0.4',
          '-R',
          reverb ? '1' : '0',
          '-C',
          '0',
          '-o',
          'synth.dynamic-sample-loading=1',
          font,
          midi,
        ],
        { stdio: 'ignore' },
      );
    const { channels } = readWav(readFileSync(wav));
    const fit = (x: Float32Array): Float32Array => {
      const out = new Float32Array(frames);
      out.set(x.subarray(0, frames));
      return out;
    };
    return [fit(channels[0]!), fit(channels[1] ?? channels[0]!)];
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const LOWEST_DRUM = 35,
  DRUM_COUNT = 47,
  DRUM_SPACE = 1.3;
const struck = new Map<string, Float32Array>();
/** One stroke of a drum of a soundfont's kit, 1.2 s at 48 kHz; the kit is rendered once, as a font takes long to load. */
export function fontStroke(font: string, kit: number, key: number): Float32Array {
  const name = `${font} ${kit}`;
  let all = struck.get(name);
  if (!all) {
    const notes = Array.from({ length: DRUM_COUNT }, (_, i): Note => ({
      t: i * DRUM_SPACE,
      length: 0.4,
      program: DRUMS,
      key: LOWEST_DRUM + i,
      velocity: 110,
    }));
    const [l, r] = renderGeneralMidi(notes, kit, DRUM_COUNT * DRUM_SPACE, { font });
    struck.set(name, (all = l.map((v, i) => (v + r[i]!) / 2)));
  }
  const from = Math.round((key - LOWEST_DRUM) * DRUM_SPACE * 48000);
  return all.subarray(Math.max(0, from), Math.max(0, from) + 57600);
}

type Offsets = Record<string, [offset: number, peak: number]>;
let offsets: Offsets | null = null;
const GRID = 3,
  SPACE = 1.3;

function measured(): Offsets {
  try {
    return JSON.parse(readFileSync(CACHE, 'utf8')) as Offsets;
  } catch {
    return {};
  }
}
/** Renders each note of an instrument alone and finds when it is there: at −20 dB of its peak. */
function measure(program: number, kit: number, font: string): void {
  const keys =
    program === DRUMS
      ? Array.from({ length: 47 }, (_, i) => 35 + i)
      : Array.from({ length: 26 }, (_, i) => 24 + i * GRID);
  const notes = keys.map((key, i): Note => ({
    t: 0.1 + i * SPACE,
    length: 0.8,
    program,
    key,
    velocity: 100,
  }));
  const [l, r] = renderGeneralMidi(notes, kit, keys.length * SPACE + 0.5, { font });
  notes.forEach(({ t, key }) => {
    const from = Math.round(t * 48000),
      to = Math.round((t + SPACE - 0.1) * 48000);
    let peak = 0;
    for (let i = from; i < to; i++) peak = Math.max(peak, Math.abs(l[i]!), Math.abs(r[i]!));
    let at = from;
    while (at < to && Math.max(Math.abs(l[at]!), Math.abs(r[at]!)) < peak * 0.1) at++;
    offsets![nameOf(program, kit, key, font)] = [(at - from) / 48000, peak];
  });
  mkdirSync('.cache', { recursive: true });
  // Others may have measured meanwhile.
  offsets = { ...measured(), ...offsets };
  writeFileSync(CACHE, JSON.stringify(offsets));
}

const nameOf = (program: number, kit: number, key: number, font: string): string =>
  `${program} ${program === DRUMS ? kit : 0} ${key}${font === FONT ? '' : ` ${path.basename(font)}`}`;

/** How long after its time in the file a note's sound begins, in seconds, and how loud its peak is at velocity 100. */
export function onsetOf(note: Note, kit: number, font = FONT): [offset: number, peak: number] {
  offsets ??= measured();
  const key =
    note.program === DRUMS
      ? note.key
      : Math.min(99, Math.max(24, 24 + Math.round((note.key - 24) / GRID) * GRID));
  const name = nameOf(note.program, kit, key, font);
  if (!offsets[name]) measure(note.program, kit, font);
  return offsets[name] ?? [0, 0];
}
