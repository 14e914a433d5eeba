import type { Milliseconds } from '../core/units';

const HZ = 2000,
  SECONDS = 0.01;

/** Clicks on the loudspeakers, evenly. Main thread. */
export class Clicks {
  readonly #sources: AudioBufferSourceNode[] = [];

  /** Those before end. @param inMs - until the first @returns when that leaves the context, by `performance.now()` */
  start(context: AudioContext, inMs: Milliseconds, everyMs: Milliseconds, count: number): Milliseconds {
    this.stop();
    const now = performance.now(),
      frames = Math.round(SECONDS * context.sampleRate),
      buffer = context.createBuffer(1, frames, context.sampleRate),
      wave = buffer.getChannelData(0);
    for (let i = 0; i < frames; i++)
      wave[i] = 0.5 * Math.sin((2 * Math.PI * HZ * i) / context.sampleRate) * (1 - i / frames);
    for (let k = 0; k < count; k++) {
      const source = context.createBufferSource();
      source.buffer = buffer;
      source.connect(context.destination);
      source.start(context.currentTime + (inMs + k * everyMs) / 1000);
      this.#sources.push(source);
    }
    return now + inMs;
  }
  stop(): void {
    for (const source of this.#sources.splice(0)) source.stop();
  }
}
