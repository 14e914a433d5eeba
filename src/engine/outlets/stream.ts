import type { StreamDeclaration } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import type { FrameReader } from '../memory/frames';

/** A stream at work: what it is, and its value as of the newest frame. `fill` allocates nothing. */
export interface Stream {
  readonly declaration: StreamDeclaration;
  /** What is sent, `declaration.size` bytes. */
  readonly value: Uint8Array;
  /** It must see every frame, though it may not be sent yet; otherwise only those that can be sent. */
  readonly everyFrame: boolean;
  /** Where its numbers stand from now on. */
  place(map: PlanMap): void;
  /** Brings its value up to a frame. @returns whether that is another than before */
  fill(frame: FrameReader): boolean;
}
