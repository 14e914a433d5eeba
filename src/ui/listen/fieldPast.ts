import { SPECTRUM_POINTS } from '../../core/audio';
import { TRACE_COLUMNS } from '../../core/plan';
import { clamp } from '../../core/units';
import type { FieldData } from '../live/live';

/** Rows of history, and how many columns each stands for: all of them are still in the ring. */
const ROWS = 40;
export const COLUMNS_PER_ROW = 12;
const MIDDLE = COLUMNS_PER_ROW / 2;
/** How faint the newest and the oldest row are. */
const FAINT_NEW = 0.05,
  FAINT_OLD = 0.67;

/**
 * The past of a spectrum, printed in dashes: thicker where it was louder, fainter the longer ago. Each row is drawn once and then
 * only moved, up from under the edge of the present. In the window's thread.
 */
export class FieldPast {
  readonly #peak = new Float32Array(SPECTRUM_POINTS);
  /** Of each row that is drawn, by its number, whether it was heard by then: what is read in later is drawn anew. */
  readonly #heard = new Uint8Array(ROWS);
  #g: OffscreenCanvasRenderingContext2D | null = null;
  #fade: CanvasGradient | null = null;
  #as = '';
  /** The newest row that is drawn. */
  #newest = -1;

  /**
   * @param top - of a canvas whose drawing is scaled by `scale`, so many pixels belong to the past
   * @param ink - of the dashes @param ground - what it fades into
   * @returns pixels a column
   */
  draw(
    g: CanvasRenderingContext2D,
    { data, head: at }: FieldData,
    { width, top, scale }: { readonly width: number; readonly top: number; readonly scale: number },
    ink: string,
    ground: string,
  ): number {
    const head = Atomics.load(at, 0),
      row = Math.max(1, Math.round((top * scale) / ROWS)),
      whole = Math.floor((head + 1) / COLUMNS_PER_ROW) - 1;
    const as = `${width} ${top} ${scale} ${ink} ${ground}`;
    if (!this.#g || as !== this.#as) {
      this.#as = as;
      this.#g = new OffscreenCanvas(Math.max(1, Math.round(width * scale)), row * ROWS).getContext('2d')!;
      this.#g.fillStyle = ink;
      this.#fade = fadeOf(g, top, ground);
      this.#newest = -1;
    }
    const pen = this.#g;
    if (whole < this.#newest || this.#isStale(data)) this.#newest = -1;
    if (this.#newest < 0 || whole - this.#newest >= ROWS) {
      pen.clearRect(0, 0, pen.canvas.width, pen.canvas.height);
      this.#newest = Math.max(-1, whole - ROWS);
    } else if (whole > this.#newest) {
      pen.globalCompositeOperation = 'copy';
      pen.drawImage(pen.canvas, 0, (this.#newest - whole) * row);
      pen.globalCompositeOperation = 'source-over';
    }
    while (this.#newest < whole) {
      this.#newest++;
      this.#heard[this.#newest % ROWS] = Number(isHeard(data, this.#newest));
      this.#dash(pen, data, (ROWS - 1 - (whole - this.#newest)) * row, row);
    }
    const come = ((head + 1) % COLUMNS_PER_ROW) / COLUMNS_PER_ROW,
      below = Math.round((1 - come) * row),
      seen = pen.canvas.height - below,
      bottom = Math.round(top * scale) / scale;
    g.drawImage(
      pen.canvas,
      0,
      0,
      pen.canvas.width,
      seen,
      0,
      bottom - seen / scale,
      pen.canvas.width / scale,
      seen / scale,
    );
    g.fillStyle = this.#fade!;
    g.fillRect(0, 0, width, bottom);
    return row / scale / COLUMNS_PER_ROW;
  }
  /** Whether a row that is drawn has been heard since, or belongs to what is gone. */
  #isStale(data: Float32Array): boolean {
    for (let r = this.#newest; r >= 0 && r > this.#newest - ROWS; r--) {
      if (Number(isHeard(data, r)) !== this.#heard[r % ROWS]) return true;
    }
    return false;
  }
  #dash(g: OffscreenCanvasRenderingContext2D, data: Float32Array, y: number, height: number): void {
    const peak = this.#peak.fill(-200),
      from = this.#newest * COLUMNS_PER_ROW,
      dx = g.canvas.width / (SPECTRUM_POINTS - 1);
    for (let c = from; c < from + COLUMNS_PER_ROW; c++) {
      const at = (c % TRACE_COLUMNS) * SPECTRUM_POINTS;
      for (let i = 0; i < SPECTRUM_POINTS; i++) {
        const db = data[at + i]!;
        if (db > peak[i]!) peak[i] = db;
      }
    }
    for (let i = 0; i < SPECTRUM_POINTS; i++) {
      const loud = clamp((peak[i]! + 62) / 52, 0, 1);
      if (loud > 0.06)
        g.fillRect(
          i * dx - dx * 0.42,
          y + height * (1 - loud) * 0.5,
          dx * 0.84,
          Math.max(1, loud * height * 0.92),
        );
    }
  }
}

function isHeard(data: Float32Array, row: number): boolean {
  return !Number.isNaN(data[((row * COLUMNS_PER_ROW + MIDDLE) % TRACE_COLUMNS) * SPECTRUM_POINTS]!);
}

function fadeOf(g: CanvasRenderingContext2D, top: number, ground: string): CanvasGradient {
  const fade = g.createLinearGradient(0, top, 0, 0),
    share = (x: number): string =>
      Math.round(x * 255)
        .toString(16)
        .padStart(2, '0');
  fade.addColorStop(0, ground + share(FAINT_NEW));
  fade.addColorStop(1, ground + share(FAINT_OLD));
  return fade;
}
