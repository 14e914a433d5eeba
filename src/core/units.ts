/** Number kinds, named for readers. They inform; they do not convert. */
export type Seconds = number;
export type Milliseconds = number;
export type Hz = number;
/** Decibels relative to full scale: a sine that just reaches ±1 peaks at 0 and has an RMS of −3.01. */
export type DbFs = number;
/** Linear amplitude, 1 = full scale. */
export type Amplitude = number;
export type Frames = number;

/** The one rate of the audio graph. Other rates appear only when files are analysed from the command line. */
export const SAMPLE_RATE: Hz = 48000;
/** Frames in one tick of the conductor at 48 kHz: 5.33 ms. */
export const HOP: Frames = 256;
/** What "nothing at all" reads on a dB scale. Below the noise of 24-bit converters, and finite. */
export const SILENCE_DB: DbFs = -144;

const DB_FLOOR_POWER = 10 ** (SILENCE_DB / 10);

/** Gain factor of a level in dB: `10^(dB/20)`. */
export function dbToGain(db: DbFs): Amplitude {
  return 10 ** (db / 20);
}

/** Level in dB of a gain factor, never below {@link SILENCE_DB}; NaN reads as silence. */
export function gainToDb(gain: Amplitude): DbFs {
  return powerToDb(gain * gain);
}

/** Level in dB of a power (mean square), never below {@link SILENCE_DB}; NaN reads as silence. */
export function powerToDb(power: number): DbFs {
  return power > DB_FLOOR_POWER ? 10 * Math.log10(power) : SILENCE_DB;
}

export function clamp(x: number, low: number, high: number): number {
  return x < low ? low : x > high ? high : x;
}

/** Share of the way that a first-order low-pass covers in `dt`: `1 − exp(−dt/τ)`; 1 when τ is 0, 0 when dt is not positive. */
export function onePole(dt: Seconds, tau: Seconds): number {
  if (!(dt > 0)) return 0;
  return tau > 0 ? -Math.expm1(-dt / tau) : 1;
}
