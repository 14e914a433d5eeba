import { SAMPLE_RATE, type Seconds } from '../core/units';
import type {
  ReadWavAnswer,
  ReadWavAsk,
  RecordTask,
  StretchAnswer,
  StretchAsk,
} from './history/history.worker';
import type { ControlMemory } from './memory/control';

export interface DecodedSound {
  readonly left: SharedArrayBuffer;
  readonly right: SharedArrayBuffer | null;
  readonly seconds: number;
}

/** A file that cannot be played; the message is for the person who dropped it. */
export class SoundError extends Error {
  override readonly name = 'SoundError';
}

/** Longest sound that is kept whole in memory: an hour in stereo takes 1.4 GB, so a quarter of that. */
export const MOST_SECONDS = 15 * 60;

/**
 * Turns a file into sound in shared memory at 48 kHz. WAV at 48 kHz is read by the helper worker; all else by the browser.
 * Works before any gesture: it needs no running audio.
 * @throws SoundError with what to do about it
 */
export class SoundReader {
  readonly #helper: Worker;
  readonly #waiting = new Map<number, (answer: ReadWavAnswer) => void>();
  #id = 0;
  readonly #stretches = new Map<number, (wav: Uint8Array<ArrayBuffer> | null) => void>();
  constructor(helper: Worker) {
    this.#helper = helper;
    helper.addEventListener('message', (e: MessageEvent<ReadWavAnswer | StretchAnswer>) => {
      if (e.data.type === 'stretch') {
        this.#stretches.get(e.data.id)?.(e.data.wav);
        this.#stretches.delete(e.data.id);
        return;
      }
      this.#waiting.get(e.data.id)?.(e.data);
      this.#waiting.delete(e.data.id);
    });
  }

  /** Which live inputs are recorded. */
  record(control: ControlMemory, inputs: RecordTask['inputs']): void {
    this.#helper.postMessage({ type: 'record', control, inputs } satisfies RecordTask);
  }
  /** A stretch of what was recorded, as a WAV file; null when there is none. @param from @param to - seconds before now */
  stretch(input: string, from: Seconds, to: Seconds): Promise<Uint8Array<ArrayBuffer> | null> {
    const id = ++this.#id;
    return new Promise((resolve) => {
      this.#stretches.set(id, resolve);
      this.#helper.postMessage({ type: 'stretch', id, input, from, to } satisfies StretchAsk);
    });
  }

  async read(blob: Blob, name: string): Promise<DecodedSound> {
    if (blob.size === 0) throw new SoundError(`“${name}” is empty. Choose another file.`);
    const head = new Uint8Array(await blob.slice(0, 12).arrayBuffer());
    if (String.fromCharCode(...head.subarray(0, 4)) === 'RIFF') {
      const id = ++this.#id;
      const bytes = await blob.arrayBuffer();
      const answer = await new Promise<ReadWavAnswer>((resolve) => {
        this.#waiting.set(id, resolve);
        const ask: ReadWavAsk = { type: 'wav', id, bytes };
        this.#helper.postMessage(ask, [bytes]);
      });
      if (answer.type === 'wav')
        return { left: answer.left, right: answer.right, seconds: answer.left.byteLength / 4 / SAMPLE_RATE };
    }
    let buffer: AudioBuffer;
    try {
      buffer = await new OfflineAudioContext(2, 1, SAMPLE_RATE).decodeAudioData(await blob.arrayBuffer());
    } catch (cause) {
      throw new SoundError(
        `“${name}” cannot be played: this browser does not know its format, or the file is damaged. Save it as WAV, MP3, Ogg or FLAC and drop it again.`,
        { cause },
      );
    }
    if (buffer.duration > MOST_SECONDS)
      throw new SoundError(
        `“${name}” lasts ${Math.round(buffer.duration / 60)} minutes; ${MOST_SECONDS / 60} is the most. Cut it, and drop the part.`,
      );
    const copy = (channel: number): SharedArrayBuffer => {
      const memory = new SharedArrayBuffer(buffer.length * 4);
      new Float32Array(memory).set(buffer.getChannelData(channel));
      return memory;
    };
    return { left: copy(0), right: buffer.numberOfChannels > 1 ? copy(1) : null, seconds: buffer.duration };
  }
}
