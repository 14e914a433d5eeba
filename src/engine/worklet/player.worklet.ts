import { mixStems } from '../../core/audio';
import { BLOCK_FRAMES, Control, MOST_INPUTS, Real, Word } from '../memory/control';
import type { InputsMessage, SetupMessage } from '../memory/messages';
import { PcmRing } from '../memory/pcmRing';
import { playedFiles, type PlayedFiles } from '../memory/playedFiles';

declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, make: new () => AudioWorkletProcessor): void;

interface Voice {
  place: number;
  ring: PcmRing;
  files: PlayedFiles | null;
  heard: number;
  gain: number;
}

/** Monitor levels glide over this many frames, so that a change does not click. */
const GLIDE = 1 / 480;

/**
 * The audio thread: plays the files and takes in the devices, hands every block to the analysis, sums what is to be heard.
 * Allocates nothing per block.
 */
class Player extends AudioWorkletProcessor {
  #control: Control | null = null;
  #voices: Voice[] = [];
  readonly #left = new Float32Array(BLOCK_FRAMES);
  readonly #right = new Float32Array(BLOCK_FRAMES);

  constructor() {
    super();
    this.port.onmessage = (e: MessageEvent<SetupMessage | InputsMessage>) => {
      if (e.data.type === 'setup') this.#control = new Control(e.data.control);
      else this.#take(e.data);
    };
  }

  #take({ inputs }: InputsMessage): void {
    this.#voices = inputs.map(({ place, ring, files, heard }) => {
      return {
        place,
        ring: new PcmRing(ring),
        files: playedFiles(files),
        heard,
        gain: this.#voices.find((r) => r.place === place)?.gain ?? 0,
      };
    });
  }

  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const control = this.#control;
    const out = outputs[0]!;
    const outLeft = out[0]!,
      outRight = out[1] ?? out[0]!;
    if (!control) return true;
    control.add(Word.AudioBlocks);
    if (control.get(Word.Driver) !== 1) {
      // The conductor may be in the middle of a timed hop: time passes to this thread from the next block on.
      control.set(Word.Driver, 1);
      return true;
    }
    control.takeTransport();
    const playing = control.get(Word.Playing) === 1;
    const position = control.reals[Real.Position]!;
    const frame = (control.get(Word.Blocks) >>> 0) * BLOCK_FRAMES;
    let stereo = control.get(Word.Stereo);
    for (let i = 0; i < this.#voices.length; i++) {
      const voice = this.#voices[i]!;
      let left: Float32Array = this.#left,
        right: Float32Array = this.#right;
      let silent = false;
      const { files } = voice;
      if (files) {
        if (playing || files.always)
          mixStems(
            files.stems,
            files.lap,
            files.loop,
            files.always ? frame : position,
            left,
            right,
            0,
            BLOCK_FRAMES,
          );
        else silent = true;
      } else {
        const channels = inputs[voice.place];
        if (channels && channels.length > 0) {
          left = channels[0]!;
          right = channels[1] ?? left;
        } else silent = true;
      }
      const bit = 1 << voice.place;
      if (silent) {
        voice.ring.silence(frame, BLOCK_FRAMES);
        continue;
      }
      voice.ring.write(frame, left, right, BLOCK_FRAMES);
      stereo = files
        ? files.stereo
          ? stereo | bit
          : stereo & ~bit
        : right !== left
          ? stereo | bit
          : stereo & ~bit;
      let gain = voice.gain;
      const goal = voice.heard;
      if (gain !== 0 || goal !== 0) {
        for (let k = 0; k < BLOCK_FRAMES; k++) {
          gain += (goal - gain) * GLIDE;
          outLeft[k]! += left[k]! * gain;
          outRight[k]! += right[k]! * gain;
        }
        voice.gain = gain < 1e-6 && goal === 0 ? 0 : gain;
      }
    }
    control.set(Word.Stereo, stereo);
    if (playing) control.reals[Real.Position] = position + BLOCK_FRAMES;
    // The count after the data: a reader that sees it sees the sound.
    control.add(Word.Blocks);
    control.add(Word.Wake);
    Atomics.notify(control.words, Word.Wake);
    return true;
  }
}

registerProcessor('batucada-player', Player);
export { MOST_INPUTS };
