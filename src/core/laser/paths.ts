import { length } from './length';
import { At, POINT } from './points';

/** Corners of all paths of one frame at most. */
export const CORNERS_IN_FRAME = 4096;
const PATHS_MOST = 512;

/**
 * What a frame draws, before it is points: lines through corners, each corner with its place and its colour (as {@link POINT} says).
 * Made once and filled anew for every frame; what is too much is left out and counted.
 */
export class LaserPaths {
  readonly corners = new Float32Array(POINT * CORNERS_IN_FRAME);
  /** First corner of each path, and one more: where the last ends. */
  readonly starts = new Int32Array(PATHS_MOST + 1);
  paths = 0;
  leftOut = 0;
  #count = 0;

  clear(): void {
    this.paths = this.#count = this.leftOut = 0;
  }
  /** Begins a path; corners that follow belong to it. */
  begin(): void {
    // One of a single corner is no line.
    if (this.paths > 0 && this.#count - this.starts[this.paths - 1]! < 2) {
      this.#count = this.starts[this.paths - 1]!;
      this.paths--;
    }
    if (this.paths >= PATHS_MOST) {
      this.leftOut++;
      return;
    }
    this.starts[this.paths++] = this.#count;
    this.starts[this.paths] = this.#count;
  }
  corner(x: number, y: number, r: number, g: number, b: number): void {
    if (this.paths === 0 || this.#count >= CORNERS_IN_FRAME) {
      this.leftOut++;
      return;
    }
    const at = POINT * this.#count++;
    this.corners[at + At.X] = x;
    this.corners[at + At.Y] = y;
    this.corners[at + At.Red] = r;
    this.corners[at + At.Green] = g;
    this.corners[at + At.Blue] = b;
    this.starts[this.paths] = this.#count;
  }
  /** After the last corner. */
  end(): void {
    if (this.paths > 0 && this.#count - this.starts[this.paths - 1]! < 2) this.paths--;
  }
  /** How long all of it is, lit. */
  get length(): number {
    let sum = 0;
    for (let p = 0; p < this.paths; p++)
      for (let i = this.starts[p]! + 1; i < this.starts[p + 1]!; i++)
        sum += length(
          this.corners[i * POINT]! - this.corners[(i - 1) * POINT]!,
          this.corners[i * POINT + 1]! - this.corners[(i - 1) * POINT + 1]!,
        );
    return sum;
  }
}
