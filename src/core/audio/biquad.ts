import type { Hz } from '../units';

/** Coefficients of `H(z) = (b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²)`. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/**
 * One second-order low-pass by the bilinear transform with the cutoff prewarped, unity gain at DC.
 * @param cutoff - −3 dB frequency when `q` is 1/√2; above 0 and below half the sample rate
 */
export function lowPass(cutoff: Hz, q: number, sampleRate: Hz): Biquad {
  const k = Math.tan((Math.PI * cutoff) / sampleRate);
  const norm = 1 / (1 + k / q + k * k);
  const b0 = k * k * norm;
  return { b0, b1: 2 * b0, b2: b0, a1: 2 * (k * k - 1) * norm, a2: (1 - k / q + k * k) * norm };
}

/** The matching high-pass, unity gain far above the cutoff. */
export function highPass(cutoff: Hz, q: number, sampleRate: Hz): Biquad {
  const k = Math.tan((Math.PI * cutoff) / sampleRate);
  const norm = 1 / (1 + k / q + k * k);
  return { b0: norm, b1: -2 * norm, b2: norm, a1: 2 * (k * k - 1) * norm, a2: (1 - k / q + k * k) * norm };
}

/** Q of the two sections of a fourth-order Butterworth low-pass: `1 / (2 cos((2k+1)π/8))`. */
export const BUTTERWORTH_4_Q = [
  1 / (2 * Math.cos(Math.PI / 8)),
  1 / (2 * Math.cos((3 * Math.PI) / 8)),
] as const;
