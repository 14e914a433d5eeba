/** Recorded drum kits from Debian's hydrogen-drumkits, decoded by sox. Nothing of them is part of the project. */
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import { ofSide, type Side } from './kinds';
import { CLAP, CRASH, HAT, KICK, OPEN_HAT, RIDE, SNARE, STICK, type Note } from './score';
import type { Sounded } from './mix';

const FOLDER = '/usr/share/hydrogen/data/drumkits';

interface Layer {
  readonly file: string;
  readonly min: number;
  readonly max: number;
}
interface Instrument {
  readonly key: number;
  readonly layers: readonly Layer[];
}
interface Sample {
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly onset: number;
  readonly peak: number;
}
export interface RecordedKit {
  readonly name: string;
  readonly instruments: readonly Instrument[];
}

/** What the makers of kits call the drums, as General MIDI keys; the first that fits. */
const NAMES: readonly (readonly [RegExp, number])[] = [
  [/kick|bass ?drum|\bbd\b|cajon thump|djembe\d bass|dununba\d head hit/, KICK[0]!],
  [/rim click|stick|side ?stick/, STICK],
  [/snare roll|redo/, -1],
  [/snare|\bsn?d?\b|cajon slap/, SNARE[0]!],
  [/clap/, CLAP],
  [/(hh|hat|hi-hat).*(ped|pd)|(ped|pd).*(hh|hat)/, HAT[1]!],
  [/(hh|hat).*(op)|(op|free).*(hh|hat)|side ohh/, OPEN_HAT],
  [/hh|hat/, HAT[0]!],
  [/ride|cymbal/, RIDE],
  [/crash|china|splash/, CRASH],
  [/floor tom|tom low|low tom|kenkeni\d head|drum 1/, 43],
  [/tom hi|high tom|djembe\d tone|tom 1/, 50],
  [/tom/, 47],
  [/cowbell|agogo|bell/, 56],
  [/tambourine/, 54],
  [/maraca|shaker/, 70],
  [/conga|bongo/, 62],
  [/clave|woodblock/, 76],
];

const kits: RecordedKit[] = [];
const samples = new Map<string, Sample>();

/** The kits that are there and have at least a bass drum and a snare. */
export function recordedKits(side: Side): readonly RecordedKit[] {
  if (kits.length === 0 && existsSync(FOLDER) && existsSync('/usr/bin/sox'))
    for (const name of readdirSync(FOLDER)) {
      const kit = readKit(name);
      if ([KICK[0], SNARE[0]].every((key) => kit.instruments.some((i) => i.key === key))) kits.push(kit);
    }
  return ofSide(kits, side, (k) => k.name);
}

const list = <T>(x: T | readonly T[] | undefined): readonly T[] =>
  x === undefined ? [] : Array.isArray(x) ? (x as readonly T[]) : [x as T];

interface XmlLayer {
  filename?: string;
  min?: number;
  max?: number;
}
interface XmlInstrument {
  name?: string;
  filename?: string;
  layer?: XmlLayer | XmlLayer[];
  instrumentComponent?: { layer?: XmlLayer | XmlLayer[] };
}

function readKit(name: string): RecordedKit {
  const xml = new XMLParser().parse(readFileSync(path.join(FOLDER, name, 'drumkit.xml'), 'utf8')) as {
    drumkit_info: { instrumentList: { instrument: XmlInstrument | XmlInstrument[] } };
  };
  const instruments: Instrument[] = [];
  for (const i of list(xml.drumkit_info.instrumentList.instrument)) {
    const called = String(i.name ?? '').toLowerCase(),
      key = NAMES.find(([r]) => r.test(called))?.[1] ?? -1;
    const layers = [
      ...list(i.layer),
      ...list(i.instrumentComponent?.layer),
      ...(i.filename ? [{ filename: i.filename }] : []),
    ]
      .filter((l) => l.filename && existsSync(path.join(FOLDER, name, l.filename)))
      .map((l: XmlLayer): Layer => ({
        file: path.join(FOLDER, name, l.filename!),
        min: l.min ?? 0,
        max: l.max ?? 1,
      }));
    if (key >= 0 && layers.length > 0) instruments.push({ key, layers });
  }
  return { name, instruments };
}

function sampleOf(file: string): Sample {
  let s = samples.get(file);
  if (s) return s;
  const raw = execFileSync(
    'sox',
    ['-V1', file, '-t', 'f32', '-r', '48000', '-c', '2', '-', 'trim', '0', '2.5'],
    { maxBuffer: 1 << 26 },
  );
  const both = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength)),
    frames = both.length >> 1,
    left = new Float32Array(frames),
    right = new Float32Array(frames);
  let peak = 1e-9;
  for (let i = 0; i < frames; i++) {
    left[i] = both[2 * i]!;
    right[i] = both[2 * i + 1]!;
    peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!));
  }
  let at = 0;
  while (at < frames && Math.max(Math.abs(left[at]!), Math.abs(right[at]!)) < 0.1 * peak) at++;
  s = { left, right, onset: at / 48000, peak };
  samples.set(file, s);
  return s;
}

/** Every recording of every kit of a side, by what it is called: left and right together, with when it is there. */
export function recordings(side: Side): readonly { readonly key: number; readonly load: () => Recording }[] {
  return recordedKits(side).flatMap(({ instruments }) =>
    instruments.flatMap(({ key, layers }) =>
      layers.map(({ file }) => ({
        key,
        load: (): Recording => {
          const { left, right } = sampleOf(file);
          return left.map((x, i) => (x + right[i]!) / 2);
        },
      })),
    ),
  );
}
/** One stroke of a drum, at 48 kHz. */
export type Recording = Float32Array;

/** Other drums of a kit that stand in for one it lacks. */
const INSTEAD: Readonly<Record<number, readonly number[]>> = {
  35: [36],
  40: [38],
  44: [42],
  51: [49, 42],
  59: [51, 42],
  53: [56, 51],
  57: [49],
  55: [49],
  52: [49],
  41: [43, 47],
  45: [47, 43],
  48: [50, 47],
  37: [38],
};

/** Plays drum notes on a recorded kit. @param choose - draws one of several instruments of a kind, the same for the whole piece */
export function playKit(
  kit: RecordedKit,
  notes: readonly Note[],
  seconds: number,
  choose: () => number,
): { left: Float32Array; right: Float32Array; notes: Sounded[] } {
  const frames = Math.round(seconds * 48000),
    left = new Float32Array(frames),
    right = new Float32Array(frames),
    heard: Sounded[] = [];
  const chosen = new Map<number, Instrument | null>();
  const find = (key: number): Instrument | null => {
    if (!chosen.has(key)) {
      const all = [key, ...(INSTEAD[key] ?? [])]
        .map((k) => kit.instruments.filter((i) => i.key === k))
        .find((x) => x.length > 0);
      chosen.set(key, all ? all[Math.floor(choose() * all.length)]! : null);
    }
    return chosen.get(key)!;
  };
  for (const note of notes) {
    const instrument = find(note.key);
    if (!instrument) continue;
    const v = note.velocity / 127,
      fitting = instrument.layers.filter((l) => v >= l.min && v <= l.max),
      layer = (fitting.length > 0 ? fitting : instrument.layers)[
        Math.floor(choose() * (fitting.length || instrument.layers.length))
      ]!;
    const s = sampleOf(layer.file),
      gain = (v ** 1.3 * 0.7) / Math.max(0.05, s.peak) ** 0.7,
      at = Math.round(note.t * 48000);
    for (let i = 0, k = at; i < s.left.length && k < frames; i++, k++) {
      left[k]! += gain * s.left[i]!;
      right[k]! += gain * s.right[i]!;
    }
    heard.push({ note, onset: note.t + s.onset, peak: gain * s.peak, soft: s.onset > 0.03 });
  }
  return { left, right, notes: heard };
}
