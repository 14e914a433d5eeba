/** Pictures that the device may have before it. What is shown may wait in a row that the display works off; what is recorded is read back at once. */
export const SHOWN_DEPTH = 6,
  RECORDED_DEPTH = 1;
/** A device is given one picture at a time until so many in a row were done by the next; one that falls so far behind is again. */
const QUICK_AFTER = 8,
  SLOW_MS = 45;
/** How many pictures in a row must be done in time before the device is asked more rarely, and how rarely. */
const TRUSTED_AFTER = 60,
  ASK_EVERY = 8;

/** What it takes of a drawing context: the part of WebGL 2 that tells when work is done. */
export type Fences = Pick<
  WebGL2RenderingContext,
  | 'fenceSync'
  | 'getSyncParameter'
  | 'deleteSync'
  | 'flush'
  | 'isContextLost'
  | 'SYNC_GPU_COMMANDS_COMPLETE'
  | 'SYNC_STATUS'
  | 'SIGNALED'
>;

/**
 * Keeps a picture from being drawn faster than the graphics device can follow. A canvas that is on a display is held back by it; one
 * that is recorded, hidden or covered is not, and its pictures would pile up in the device, which all windows share.
 */
export class DevicePace {
  readonly #most: number;
  /** How many it is given now. */
  #depth: number;
  #quick = 0;
  readonly #fences: (WebGLSync | null)[];
  readonly #began: Float64Array;
  #first = 0;
  #count = 0;
  #inTime = 0;
  #skipped = 0;
  #late = false;
  /** Milliseconds that a picture takes a device which cannot follow, smoothed; 0 for one that can. */
  took = 0;

  /** @param most - how many pictures the device may have before it, at least 1 @param first - how many it is given before it is known */
  constructor(most: number, first = 1) {
    this.#most = most;
    this.#depth = Math.min(first, most);
    this.#fences = Array.from({ length: most }, () => null);
    this.#began = new Float64Array(most);
  }

  /** @returns whether the device can be given another picture */
  ready(gl: Fences, now: number): boolean {
    if (this.#count > 0 && gl.isContextLost()) this.forget();
    while (this.#count > 0) {
      const fence = this.#fences[this.#first]!;
      if (gl.getSyncParameter(fence, gl.SYNC_STATUS) !== gl.SIGNALED) break;
      gl.deleteSync(fence);
      this.#fences[this.#first] = null;
      // All that were before it are done as well: its share of the time since the oldest of them.
      const each = this.#late ? (now - this.#began[this.#first]!) / this.#depth : 0;
      this.took += 0.4 * (each - this.took);
      this.#first = (this.#first + 1) % this.#most;
      this.#count--;
      if (!this.#late) this.#inTime++;
      // Pictures in a row only hide how long each takes from whoever waits for them.
      this.#quick = this.#late ? 0 : this.#quick + 1;
      if (each > SLOW_MS) this.#depth = 1;
      else if (this.#quick >= QUICK_AFTER) this.#depth = this.#most;
    }
    if (this.#count < this.#depth) {
      if (this.#count === 0) this.#late = false;
      return true;
    }
    this.#late = true;
    this.#inTime = 0;
    return false;
  }
  /** Somebody waited for all that it was given: it is done, and how long that took says nothing of its pace. */
  waitedFor(gl: Fences): void {
    for (const fence of this.#fences) if (fence) gl.deleteSync(fence);
    this.#fences.fill(null);
    this.#count = 0;
    this.#late = false;
  }
  /** The device was lost: what it was given will never be done, and what asks about it belongs to the past. */
  forget(): void {
    this.#fences.fill(null);
    this.#count = 0;
    this.#late = false;
    this.#inTime = 0;
  }
  /** To be called after each drawing that it was ready for. @param began - when it began, in milliseconds */
  gave(gl: Fences, began: number): void {
    if (this.#count >= this.#depth || (this.#inTime >= TRUSTED_AFTER && ++this.#skipped < ASK_EVERY)) return;
    this.#skipped = 0;
    const at = (this.#first + this.#count++) % this.#most;
    this.#began[at] = began;
    this.#fences[at] = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
  }
}
