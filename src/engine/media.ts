import { takeSamples, wavSeconds } from '../core/audio';
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
    // Told before it is unpacked: three hours of it would take all the memory there is.
    const seconds = await lengthOf(blob);
    if (seconds > MOST_SECONDS)
      throw new SoundError(
        `“${name}” lasts ${Math.round(seconds / 60)} minutes; ${MOST_SECONDS / 60} is the most. Cut it, and drop the part.`,
      );
    let bytes = await bytesOf(blob, name);
    if (String.fromCharCode(...new Uint8Array(bytes, 0, Math.min(4, bytes.byteLength))) === 'RIFF') {
      const answer = await this.#readWav(bytes);
      if (answer.type === 'wav')
        return { left: answer.left, right: answer.right, seconds: answer.left.byteLength / 4 / SAMPLE_RATE };
      bytes = await bytesOf(blob, name);
    }
    let buffer: AudioBuffer;
    try {
      buffer = await new OfflineAudioContext(2, 1, SAMPLE_RATE).decodeAudioData(bytes);
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
      takeSamples(buffer.getChannelData(channel), new Float32Array(memory));
      return memory;
    };
    return { left: copy(0), right: buffer.numberOfChannels > 1 ? copy(1) : null, seconds: buffer.duration };
  }

  #readWav(bytes: ArrayBuffer): Promise<ReadWavAnswer> {
    const id = ++this.#id;
    return new Promise((resolve) => {
      this.#waiting.set(id, resolve);
      const ask: ReadWavAsk = { type: 'wav', id, bytes };
      this.#helper.postMessage(ask, [bytes]);
    });
  }
}

async function bytesOf(blob: Blob, name: string): Promise<ArrayBuffer> {
  try {
    return await blob.arrayBuffer();
  } catch (cause) {
    throw new SoundError(
      `“${name}” cannot be read: it is too large, or it was moved or changed meanwhile. Choose it again.`,
      { cause },
    );
  }
}

/** A head that is longer than this has something else before its sound. */
const HEAD_BYTES = 1 << 16;
const METADATA_MS = 5000;
/** How long a sound lasts, in seconds, as far as that is known without unpacking it; 0 where it is not. */
async function lengthOf(blob: Blob): Promise<Seconds> {
  const head = await bytesOf(blob.slice(0, HEAD_BYTES), 'The file');
  const wav = wavSeconds(new Uint8Array(head), blob.size);
  if (wav !== null) return wav;
  const url = URL.createObjectURL(blob),
    player = new Audio();
  try {
    return await new Promise<Seconds>((told) => {
      player.onloadedmetadata = () => told(Number.isFinite(player.duration) ? player.duration : 0);
      player.onerror = () => told(0);
      setTimeout(() => told(0), METADATA_MS);
      player.preload = 'metadata';
      player.src = url;
    });
  } finally {
    player.removeAttribute('src');
    URL.revokeObjectURL(url);
  }
}
