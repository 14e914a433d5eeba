import type { Amplitude, Frames } from '../units';

/** One decoded file, ready to play: channels at 48 kHz. */
export interface StemSound {
  readonly left: Float32Array;
  /** null when the sound is mono */ readonly right: Float32Array | null;
  readonly gain: Amplitude;
}

/** Frames in one lap of several stems played together: the longest of them. */
export function lapFrames(stems: readonly StemSound[]): Frames {
  let n = 0;
  for (const s of stems) if (s.left.length > n) n = s.left.length;
  return n;
}

/**
 * Sums stems in lockstep at a position of the show. Past the end a looping sound goes on at its start, without a gap;
 * another one is silent. Allocates nothing: it runs on the audio thread.
 * @param position - frames since the show's start, ≥ 0
 * @param outLeft @param outRight - receive `count` frames from `at` on; what stood there is overwritten
 */
export function mixStems(
  stems: readonly StemSound[],
  lap: Frames,
  loop: boolean,
  position: Frames,
  outLeft: Float32Array,
  outRight: Float32Array,
  at: number,
  count: number,
): void {
  for (let i = 0; i < count; i++) outLeft[at + i] = outRight[at + i] = 0;
  if (lap === 0) return;
  let from = loop ? position % lap : position;
  let done = 0;
  while (done < count && from < lap) {
    const run = Math.min(count - done, lap - from);
    for (let s = 0; s < stems.length; s++) {
      const { left, right, gain } = stems[s]!;
      if (gain === 0) continue;
      const r = right ?? left;
      const end = Math.min(run, left.length - from);
      for (let i = 0; i < end; i++) {
        outLeft[at + done + i]! += left[from + i]! * gain;
        outRight[at + done + i]! += r[from + i]! * gain;
      }
    }
    done += run;
    from = loop ? 0 : lap;
  }
}
