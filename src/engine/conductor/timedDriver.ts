import { mixStems } from '../../core/audio';
import { HOP } from '../../core/units';
import { BLOCK_FRAMES, Real, Word, type Control } from '../memory/control';
import type { PlayedInput } from '../memory/messages';
import { PcmRing } from '../memory/pcmRing';
import { playedFiles, type PlayedFiles } from '../memory/playedFiles';

export interface DrivenInput {
  readonly id: string;
  readonly place: number;
  readonly ring: PcmRing;
  readonly memory: SharedArrayBuffer;
  readonly files: PlayedFiles | null;
}

export function driven({ id, place, ring, files }: PlayedInput): DrivenInput {
  return { id, place, ring: new PcmRing(ring), memory: ring, files: playedFiles(files) };
}

/**
 * Drives time while the audio thread does not: before the first gesture, after a reload, between devices. Files are read as
 * the audio thread would read them, a hop at a time; devices are silent.
 */
export class TimedDriver {
  readonly #left = new Float32Array(HOP);
  readonly #right = new Float32Array(HOP);
  constructor(readonly control: Control) {}

  /** Writes one hop into every ring and advances the show's time by it. */
  hop(inputs: readonly DrivenInput[]): void {
    const { control } = this;
    control.takeTransport();
    const playing = control.get(Word.Playing) === 1;
    const position = control.reals[Real.Position]!;
    const frame = (control.get(Word.Blocks) >>> 0) * BLOCK_FRAMES;
    let stereo = control.get(Word.Stereo);
    for (let i = 0; i < inputs.length; i++) {
      const input = inputs[i]!;
      const { files } = input;
      if (!files || !(playing || files.always)) {
        input.ring.silence(frame, HOP);
        continue;
      }
      mixStems(
        files.stems,
        files.lap,
        files.loop,
        files.always ? frame : position,
        this.#left,
        this.#right,
        0,
        HOP,
      );
      input.ring.write(frame, this.#left, this.#right, HOP);
      const bit = 1 << input.place;
      stereo = files.stereo ? stereo | bit : stereo & ~bit;
    }
    control.set(Word.Stereo, stereo);
    if (playing) control.reals[Real.Position] = position + HOP;
    control.add(Word.Blocks, HOP / BLOCK_FRAMES);
  }
}
