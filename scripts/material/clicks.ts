/** Clicks as loud as the noise around them: what is left of a metronome or a contact microphone in a noisy place. 48 kHz. */
import { seeded } from '../../src/core/random';
import { stillSound } from './mix';

const RATE = 48000;

export interface Clicks {
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly onsets: readonly number[];
}

/** @param ratioDb - peaks of the clicks against the peaks of the noise; drawn between −1 and 14 when left out */
export function clicksInNoise(seed: number, seconds: number, ratioDb?: number): Clicks {
  const random = seeded(seed * 6007 + 211),
    frames = Math.round(seconds * RATE),
    kind = (['white', 'pink', 'white', 'brown'] as const)[Math.floor(random() * 4)]!,
    noise = stillSound(kind, seconds, seed),
    out = new Float32Array(frames),
    onsets: number[] = [];
  let peak = 1e-9;
  for (const x of noise) peak = Math.max(peak, Math.abs(x));
  const ratio = 10 ** ((ratioDb ?? -1 + 15 * random()) / 20),
    // A bare impulse, a short burst, or a ringing tick.
    shape = Math.floor(random() * 3),
    hz = 800 * 8 ** random(),
    fall = (0.0006 + 0.004 * random()) * RATE,
    g = 10 ** ((-40 * random() ** 1.5) / 20) / (1 + ratio);
  for (let i = 0; i < frames; i++) out[i] = (g * noise[i]!) / peak;
  for (let t = 0.25 + 0.3 * random(); t < seconds - 0.2; t += 0.12 + 0.6 * random() ** 2) {
    const at = Math.round(t * RATE);
    onsets.push(at / RATE);
    for (let k = 0; k < 8 * fall && at + k < frames; k++) {
      const x =
        shape === 0
          ? Number(k < 24)
          : shape === 1
            ? (random() * 2 - 1) * Math.exp(-k / fall)
            : Math.cos((2 * Math.PI * hz * k) / RATE) * Math.exp(-k / fall);
      out[at + k]! += g * ratio * x;
    }
  }
  return { left: out, right: out, onsets };
}
