/** Frames of history of one input: 21.8 s at 48 kHz, a power of two so that the place is a mask away. */
export const RING_FRAMES = 1 << 20;
const MASK = RING_FRAMES - 1;

export function makeRingMemory(): SharedArrayBuffer {
  return new SharedArrayBuffer(RING_FRAMES * 2 * 4);
}

/**
 * The last sound of one input, by absolute frame number. The driver writes whole blocks and then advances the shared block
 * count; readers stay behind that count and within {@link RING_FRAMES} of it.
 */
export class PcmRing {
  readonly left: Float32Array;
  readonly right: Float32Array;
  constructor(memory: SharedArrayBuffer) {
    this.left = new Float32Array(memory, 0, RING_FRAMES);
    this.right = new Float32Array(memory, RING_FRAMES * 4, RING_FRAMES);
  }

  write(frame: number, left: Float32Array, right: Float32Array, count: number): void {
    for (let i = 0; i < count; i++) {
      const at = (frame + i) & MASK;
      this.left[at] = left[i]!;
      this.right[at] = right[i]!;
    }
  }
  silence(frame: number, count: number): void {
    for (let i = 0; i < count; i++) this.left[(frame + i) & MASK] = this.right[(frame + i) & MASK] = 0;
  }
  read(frame: number, left: Float32Array, right: Float32Array, count: number): void {
    for (let i = 0; i < count; i++) {
      const at = (frame + i) & MASK;
      left[i] = this.left[at]!;
      right[i] = this.right[at]!;
    }
  }
}
