import type { Seconds } from '../units';

/** One note or its end, as a MIDI file or a keyboard gives it. */
export interface NoteEvent {
  readonly time: Seconds;
  /** From 0; a keyboard's is 0. */ readonly track: number;
  /** 0–15 */ readonly channel: number;
  readonly key: number;
  /** 0 ends the note; else 1–127 */ readonly velocity: number;
}

export const CHANNELS = 16;
/** Tracks that are told apart; those beyond count as the last. */
export const TRACKS = 32;
const LANES = TRACKS * CHANNELS;

/** Which notes of one input sound now, and which began in this hop, by lane (`track × 16 + channel`). The conductor feeds it before the ears read. */
export class NoteState {
  /** Notes that sound, by lane. */
  readonly held = new Int32Array(LANES);
  /** Notes that began in this hop: their lane, key, time and velocity (0–1). */
  readonly begunLane = new Int32Array(64);
  readonly begunKey = new Float32Array(64);
  readonly begunTime = new Float64Array(64);
  readonly begunVelocity = new Float32Array(64);
  begun = 0;
  /** Velocity (1–127) of each key that sounds, at `lane × 128 + key`; 0 of those that do not. */
  readonly velocity = new Uint8Array(LANES * 128);

  /** Forgets what began in the last hop. */
  begin(): void {
    this.begun = 0;
  }

  /** Takes a note or its end. @param track - from 0 @param channel - 0–15 @param key - 0–127 @param velocity - 0–127; 0 ends it */
  take(track: number, channel: number, key: number, velocity: number, time: Seconds): void {
    const lane = (track < TRACKS ? track : TRACKS - 1) * CHANNELS + channel,
      at = lane * 128 + key;
    if (velocity <= 0) {
      if (this.velocity[at]) {
        this.velocity[at] = 0;
        this.held[lane]!--;
      }
      return;
    }
    // A key struck again while it is down is one key that sounds.
    if (!this.velocity[at]) this.held[lane]!++;
    this.velocity[at] = velocity;
    if (this.begun >= this.begunTime.length) return;
    this.begunLane[this.begun] = lane;
    this.begunKey[this.begun] = key;
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
    this.velocity.fill(0);
    this.held.fill(0);
  }
}
