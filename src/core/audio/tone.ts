import { seeded } from '../random';
import type { Wave } from '../show/types';
import { SAMPLE_RATE, type DbFs, type Hz } from '../units';

/**
 * One lap of a test tone at 48 kHz, to be played over and over without a seam. `db` is its peak for tones and clicks, its RMS
 * for noise. Noise comes from a fixed seed: the same on every machine.
 */
export function renderTone(wave: Wave, hz: Hz, db: DbFs): Float32Array {
  const level = 10 ** (db / 20);
  if (wave === 'white' || wave === 'pink') {
    const n = SAMPLE_RATE * 12,
      random = seeded(wave === 'white' ? 31 : 32),
      out = new Float32Array(n);
    // Pink: white noise through poles and zeros an octave and a half apart, within 0.5 dB of −3 dB per octave from 20 Hz up.
    const poles = [0.99886, 0.99332, 0.969, 0.8665, 0.55, -0.7616],
      gains = [0.0555179, 0.0750759, 0.153852, 0.3104856, 0.5329522, -0.016898];
    const state = new Float64Array(6);
    let power = 0;
    // The first lap only fills the filter: the second then ends as it began, nearly enough that nobody hears the seam.
    for (let i = -n / 4; i < n; i++) {
      const w = random() + random() + random() - 1.5;
      let y = w;
      if (wave === 'pink') {
        y = 0.5362 * w;
        for (let k = 0; k < 6; k++) {
          state[k] = poles[k]! * state[k]! + gains[k]! * w;
          y += state[k]!;
        }
      }
      if (i >= 0) {
        out[i] = y;
        power += y * y;
      }
    }
    const gain = level / Math.sqrt(power / n);
    return out.map((x) => x * gain);
  }
  if (wave === 'clicks') {
    // Two a second, each a cosine bump of a millisecond.
    const out = new Float32Array(SAMPLE_RATE / 2);
    for (let i = 0; i < 48; i++)
      out[i] = level * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / 48)) * Math.cos((2 * Math.PI * i) / 12);
    return out;
  }
  // A whole number of waves in a lap of about a second, so that it closes.
  const waves = Math.max(1, Math.round(hz)),
    n = Math.round((SAMPLE_RATE * waves) / hz);
  const top = Math.floor(20000 / hz);
  return Float32Array.from({ length: n }, (_, i) => {
    const phase = (2 * Math.PI * waves * i) / n;
    if (wave === 'sine') return level * Math.sin(phase);
    let y = 0;
    for (let k = 1; k <= Math.min(top, 200); k += wave === 'square' ? 2 : 1) y += Math.sin(k * phase) / k;
    return level * y * (wave === 'square' ? 4 / Math.PI : -2 / Math.PI) * 0.85;
  });
}
