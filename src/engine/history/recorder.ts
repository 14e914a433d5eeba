import { writeWav } from '../../core/audio';
import { SAMPLE_RATE, type Frames, type Seconds } from '../../core/units';
import { RING_FRAMES, type PcmRing } from '../memory/pcmRing';

/** How much of every live input is kept. */
export const RECORDED_SECONDS: Seconds = 300;
const CHUNK: Frames = SAMPLE_RATE * 5;
const CHUNKS = Math.ceil((RECORDED_SECONDS * SAMPLE_RATE) / CHUNK) + 1;

interface Chunk {
  readonly left: Int16Array;
  right: Int16Array | null;
}

/**
 * Keeps the last minutes of one live input as 16-bit sound, chunk by chunk, out of its ring. A mono input takes half the room.
 * Whoever owns it calls `take` every few seconds; nothing older than the ring can be caught up.
 */
export class Recorder {
  readonly #ring: PcmRing;
  readonly #chunks = new Map<number, Chunk>();
  readonly #left = new Float32Array(SAMPLE_RATE);
  readonly #right = new Float32Array(SAMPLE_RATE);
  #next: Frames;
  #first: Frames;

  /** @param from - frame from which on it is kept */
  constructor(ring: PcmRing, from: Frames) {
    this.#ring = ring;
    this.#next = this.#first = from;
  }

  /** Seconds that are there, up to `now`. */
  seconds(): Seconds {
    return (this.#next - this.#oldest()) / SAMPLE_RATE;
  }

  /** Takes all up to `now` (exclusive). @param stereo - whether the channels differ */
  take(now: Frames, stereo: boolean): void {
    if (now - this.#next > RING_FRAMES - SAMPLE_RATE) {
      this.#chunks.clear();
      this.#next = this.#first = now - RING_FRAMES + SAMPLE_RATE;
    }
    while (this.#next < now) {
      const index = Math.floor(this.#next / CHUNK),
        offset = this.#next - index * CHUNK;
      const n = Math.min(now - this.#next, CHUNK - offset, this.#left.length);
      let chunk = this.#chunks.get(index);
      if (!chunk) {
        this.#chunks.set(index, (chunk = { left: new Int16Array(CHUNK), right: null }));
        this.#chunks.delete(index - CHUNKS);
      }
      this.#ring.read(this.#next, this.#left, this.#right, n);
      if (stereo && !chunk.right) chunk.right = chunk.left.slice();
      for (let i = 0; i < n; i++) {
        chunk.left[offset + i] = toInt(this.#left[i]!);
        if (chunk.right) chunk.right[offset + i] = toInt(this.#right[i]!);
      }
      this.#next += n;
    }
  }

  #oldest(): Frames {
    return Math.max(
      this.#first,
      this.#next - RECORDED_SECONDS * SAMPLE_RATE,
      (Math.floor(this.#next / CHUNK) - CHUNKS + 1) * CHUNK,
    );
  }

  /** A stretch as a WAV file, or null when nothing of it is there. @param from @param to - seconds before the newest sound, from > to */
  stretch(from: Seconds, to: Seconds): Uint8Array<ArrayBuffer> | null {
    const start = Math.max(this.#oldest(), this.#next - Math.round(from * SAMPLE_RATE)),
      end = this.#next - Math.max(0, Math.round(to * SAMPLE_RATE));
    if (end <= start) return null;
    const stereo = [...this.#chunks.values()].some((c) => c.right);
    const left = new Float32Array(end - start),
      right = new Float32Array(stereo ? end - start : 0);
    for (let at = start; at < end;) {
      const index = Math.floor(at / CHUNK),
        offset = at - index * CHUNK,
        n = Math.min(end - at, CHUNK - offset),
        chunk = this.#chunks.get(index);
      for (let i = 0; i < n; i++) {
        left[at - start + i] = (chunk?.left[offset + i] ?? 0) / 32768;
        if (stereo) right[at - start + i] = ((chunk?.right ?? chunk?.left)?.[offset + i] ?? 0) / 32768;
      }
      at += n;
    }
    return writeWav(stereo ? [left, right] : [left], SAMPLE_RATE, 16);
  }
}

function toInt(x: number): number {
  return x >= 1 ? 32767 : x <= -1 ? -32768 : x === x ? Math.round(x * 32767) : 0;
}
