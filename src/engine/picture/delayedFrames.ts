import type { Frames } from '../memory/plan';

/** Half a second, the longest delay, of a frame every 256 samples at 48 kHz is 94: enough for a display that shows each of them. */
const KEPT = 96;
interface Past {
  parameters: Float32Array;
  vectors: Float32Array;
  time: number;
  pictureTime: number;
  darkness: number;
}

/** A screen's own delay: what frames said is kept for a while, and drawn later. Allocates only when frames grow. */
export class DelayedFrames {
  readonly #past: Past[] = Array.from({ length: KEPT }, () => ({
    parameters: new Float32Array(0),
    vectors: new Float32Array(0),
    time: NaN,
    pictureTime: 0,
    darkness: 1,
  }));
  #next = 0;

  keep(reader: Frames): void {
    const p = this.#past[this.#next]!;
    if (this.#past[(this.#next + KEPT - 1) % KEPT]!.time === reader.time) return;
    if (p.parameters.length !== reader.parameters.length)
      p.parameters = new Float32Array(reader.parameters.length);
    if (p.vectors.length !== reader.vectors.length) p.vectors = new Float32Array(reader.vectors.length);
    p.parameters.set(reader.parameters);
    p.vectors.set(reader.vectors);
    p.time = reader.time;
    p.pictureTime = reader.pictureTime;
    p.darkness = reader.curtain;
    this.#next = (this.#next + 1) % KEPT;
  }
  /** What was so many seconds before now, or the oldest of the same size that is kept. @param now - show time; the newest frame's unless told otherwise */
  at(delay: number, now = NaN): Past | null {
    const newest = this.#past[(this.#next + KEPT - 1) % KEPT]!;
    let best: Past | null = null;
    const until = now >= newest.time ? now : newest.time;
    for (let i = 1; i <= KEPT; i++) {
      const p = this.#past[(this.#next + KEPT - i) % KEPT]!;
      // Another layout of numbers, or a show that began anew, cannot be drawn with what is drawn now.
      if (!(p.time <= newest.time) || p.parameters.length !== newest.parameters.length) break;
      best = p;
      if (until - p.time >= delay) break;
    }
    return best;
  }
}
