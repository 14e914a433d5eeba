/**
 * Drum kits put together as producers do: each drum drawn from all recordings, soundfonts and made ones of a side, tuned, shortened,
 * driven, brightened and laid over another. No two pieces have the same, so that nobody learns a kit by heart.
 */
import { electricKit, playMade, type Made } from './dance';
import { fontsOfSide, fontStroke } from './generalMidi';
import { recordings, type Recording } from './kits';
import type { Side } from './kinds';
import { CLAP, CRASH, DRUMS, HAT, KICK, KITS, OPEN_HAT, RIDE, SNARE, STICK } from './score';
import { ROLES, type Part, type Song } from './song';

const RATE = 48000;

/** Those that sound for each other in a kit. */
const ALIKE: readonly (readonly number[])[] = [KICK, SNARE, HAT, [OPEN_HAT], [RIDE, 59], [CRASH, 57, 55, 52]];
const alike = (key: number): readonly number[] => ALIKE.find((keys) => keys.includes(key)) ?? [key];

/** Played faster or slower: higher and shorter, or lower and longer. */
function tuned(x: Recording, factor: number): Recording {
  const out = new Float32Array(Math.min(2 * RATE, Math.floor((x.length - 1) / factor)));
  for (let i = 0; i < out.length; i++) {
    const at = i * factor,
      k = Math.floor(at);
    out[i] = x[k]! + (at - k) * (x[k + 1]! - x[k]!);
  }
  return out;
}

/** One drum of a kit to be: a stroke from anywhere, changed. Null where nobody has one. */
function drawDrum(key: number, side: Side, random: () => number): Recording | null {
  const between = (a: number, b: number): number => a + (b - a) * random(),
    pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!,
    keys = alike(key),
    recorded = recordings(side).filter((r) => keys.includes(r.key)),
    quick = fontsOfSide(side).filter((f) => !f.endsWith('.sf3')),
    from = random();
  let x: Recording | undefined;
  if (from < 0.45 && recorded.length > 0) x = pick(recorded).load();
  else if (from < 0.75 && quick.length > 0) x = fontStroke(pick(quick), pick(KITS), pick(keys));
  else x = electricKit(random)[keys[0]!]?.sound;
  if (!x && quick.length > 0) x = fontStroke(quick[0]!, 0, key);
  if (!x || x.length < 480) return null;
  let peak = 0;
  x = tuned(x, 2 ** between(-0.45, 0.45));
  for (const v of x) peak = Math.max(peak, Math.abs(v));
  if (peak < 1e-4) return null;
  const fall = random() < 0.4 ? between(0.04, 0.4) : Infinity,
    drive = random() < 0.35 ? between(0.5, 6) : 0,
    tilt = between(-0.6, 0.9),
    lows = between(0.3, 1.2);
  let slow = 0;
  return x.map((v, i) => {
    const y = (v / peak) * Math.exp(-i / RATE / fall);
    slow += 0.12 * (y - slow);
    const z = lows * slow + (1 + tilt) * (y - slow);
    return 0.8 * (drive > 0 ? Math.tanh(z * (1 + drive)) : z);
  });
}

/** @returns when it is there, at a tenth of its peak, as all strokes are measured */
function madeOf(sound: Float32Array): Made {
  let peak = 1e-9,
    at = 0;
  for (const v of sound) peak = Math.max(peak, Math.abs(v));
  while (at < sound.length && Math.abs(sound[at]!) < 0.1 * peak) at++;
  return { sound, onset: at / RATE, peak };
}

/** A kit for the keys that are asked for. */
function drawKit(keys: Iterable<number>, side: Side, random: () => number): Readonly<Record<number, Made>> {
  const kit: Record<number, Made> = {};
  for (const key of keys) {
    const first = drawDrum(key, side, random);
    if (!first) continue;
    const layered = random() < (alike(key) === SNARE ? 0.45 : 0.2),
      other = layered ? drawDrum(alike(key) === SNARE && random() < 0.5 ? CLAP : key, side, random) : null;
    if (other) {
      const late = Math.round(RATE * 0.008 * random() ** 2),
        level = 0.3 + 0.7 * random();
      for (let i = 0; i < other.length && i + late < first.length; i++) first[i + late]! += level * other[i]!;
    }
    kit[key] = madeOf(first);
  }
  return kit;
}

const isDrums = ({ role }: Part): boolean => ROLES.indexOf(role) < ROLES.indexOf('bass');

/** The same song with its drums played on a kit that was put together for it. */
export function redrummed(song: Song, side: Side, random: () => number): Song {
  const drums = song.parts.filter(isDrums);
  if (drums.length === 0) return song;
  const isFor = (key: number): boolean => key !== STICK || random() < 0.5,
    keys = new Set(drums.flatMap((p) => p.notes.map(({ note }) => note.key)).filter(isFor)),
    kit = drawKit(keys, side, random);
  const parts = drums.flatMap((p): Part[] => {
    const notes = p.notes.map(({ note, onset }) => ({ ...note, t: onset, program: DRUMS })),
      heard = playMade(kit, notes, p.left.length / RATE);
    return heard.notes.length > 0 ? [{ role: p.role, ...heard }] : [];
  });
  return { ...song, parts: [...parts, ...song.parts.filter((p) => !isDrums(p))] };
}
