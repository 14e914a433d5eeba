import { lapFrames, type StemSound } from '../../core/audio';
import type { PlayedInput } from './messages';

/** An input's files as whoever drives time plays them. */
export interface PlayedFiles {
  readonly stems: readonly StemSound[];
  /** First frame of the file that is played. */
  readonly from: number;
  readonly lap: number;
  readonly loop: boolean;
  /** A test tone: it sounds whether the show plays or not. */
  readonly always: boolean;
  readonly stereo: boolean;
}

/** Opens shared sound for playing: views on the part that is played. Set-up only. */
export function playedFiles(files: PlayedInput['files']): PlayedFiles | null {
  if (!files) return null;
  const view = (memory: SharedArrayBuffer): Float32Array => {
    const whole = new Float32Array(memory);
    return files.part
      ? whole.subarray(Math.min(whole.length, files.part.from), Math.min(whole.length, files.part.to))
      : whole;
  };
  const stems = files.stems.map((s): StemSound => ({
    left: view(s.left),
    right: s.right ? view(s.right) : null,
    gain: s.gain,
  }));
  return {
    stems,
    from: files.part?.from ?? 0,
    // A part that goes on past the sound's end is silent there: such a sound turns with longer ones.
    lap:
      files.part && stems.length
        ? Math.max(lapFrames(stems), files.part.to - files.part.from)
        : lapFrames(stems),
    loop: files.loop,
    always: files.always,
    stereo: stems.some((s) => s.right !== null && s.gain > 0),
  };
}
