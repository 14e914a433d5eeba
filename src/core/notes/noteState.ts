import type { Seconds } from '../units';

/** One note or its end, as a MIDI file or a keyboard gives it. */
export interface NoteEvent { readonly time: Seconds; readonly channel: number; readonly key: number; /** 0 ends the note; else 1–127 */ readonly velocity: number }

const CHANNELS = 16;

/** Which notes of one input sound now, and which began in this hop. The conductor feeds it before the ears read. */
export class NoteState {
  /** Notes that sound, by channel (0–15). */
  readonly held = new Int32Array(CHANNELS);
  /** Key and velocity (0–1) of each channel's last note. */
  readonly key = new Float32Array(CHANNELS);
  readonly velocity = new Float32Array(CHANNELS);
  /** Notes that began in this hop: their channel, time and velocity. */
  readonly begunChannel = new Int32Array(64);
  readonly begunTime = new Float64Array(64);
  readonly begunVelocity = new Float32Array(64);
  begun = 0;
  readonly #on = new Uint8Array(CHANNELS * 128);

  /** Forgets what began in the last hop. */
  begin(): void { this.begun = 0; }

  /** Takes a note or its end. @param channel - 0–15 @param key - 0–127 @param velocity - 0–127; 0 ends it */
  take(channel: number, key: number, velocity: number, time: Seconds): void {
    const at = channel * 128 + key;
    if (velocity <= 0) {
      if (this.#on[at]) { this.#on[at] = 0; this.held[channel]!--; }
      return;
    }
    // A key struck again while it is down is one key that sounds.
    if (!this.#on[at]) { this.#on[at] = 1; this.held[channel]!++; }
    this.key[channel] = key;
    this.velocity[channel] = velocity / 127;
    if (this.begun >= this.begunTime.length) return;
    this.begunChannel[this.begun] = channel;
    this.begunTime[this.begun] = time;
    this.begunVelocity[this.begun] = velocity / 127;
    this.begun++;
  }

  /** All notes end: the player stopped, or the cable is out. */
  silence(): void {
    this.release();
    this.begun = 0;
  }
  /** What is held ends; what began in this hop still counts. */
  release(): void {
    this.#on.fill(0);
    this.held.fill(0);
  }
}
