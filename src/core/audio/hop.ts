import type { Frames, Hz, Seconds } from '../units';

/** A stretch of sound handed to every ear of one input. The arrays belong to the caller and change after the call. */
export interface Hop {
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Valid frames in both arrays. */
  frames: Frames;
  /** True when both channels carry the same sound, so that one analysis serves both. */
  mono: boolean;
  /** Show time of the first frame. */
  time: Seconds;
}

/** @param size - frames, an integer ≥ 1 */
export function makeHop(size: Frames): Hop {
  return { left: new Float32Array(size), right: new Float32Array(size), frames: size, mono: true, time: 0 };
}

/** Frames in one tick at a sample rate: as near to 5.33 ms as whole frames allow; 256 at 48 kHz. */
export function hopFrames(sampleRate: Hz): Frames {
  return Math.max(1, Math.round((sampleRate * 256) / 48000));
}
