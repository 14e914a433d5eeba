import { hzToField } from '../../core/audio';
import { FONT } from '../theme/tokens';

export const TOP_DB = 0;
export const BOTTOM_DB = -84;
/** Below the spectrum, in pixels, stand the frequencies. */
export const FOOT = 24;
/** Octave centres, as every equaliser and analyser has them. */
const HZ_LINES = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16000];
const DB_LINES = [-12, -24, -36, -48, -60, -72];
/** Closer than this, in pixels, two names would touch. */
const NAME_HEIGHT = 21,
  NAME_WIDTH = 44;

interface FieldSize {
  readonly width: number;
  readonly height: number;
  /** Where the present spectrum begins. */
  readonly top: number;
  readonly scale: number;
}

/** Lines and names of decibels and frequencies over the present spectrum. They are drawn once, and laid on. */
export class FieldScale {
  #g: OffscreenCanvasRenderingContext2D | null = null;
  #as = '';

  /** @param styles - of the canvas, which has the colours `--line`, `--night`, `--ground` and `--word` */
  draw(g: CanvasRenderingContext2D, size: FieldSize, styles: CSSStyleDeclaration): void {
    const { width, height, scale } = size,
      ink = (name: string): string => styles.getPropertyValue(name),
      as = [
        width,
        height,
        scale,
        ink('--line'),
        ink('--night'),
        ink('--ground'),
        ink('--word'),
        styles.color,
        document.fonts.status,
      ].join();
    if (!this.#g || as !== this.#as) {
      this.#as = as;
      this.#g = new OffscreenCanvas(g.canvas.width, g.canvas.height).getContext('2d')!;
      this.#g.scale(scale, scale);
      paint(this.#g, size, ink, styles.color);
    }
    g.drawImage(this.#g.canvas, 0, 0, width, height);
  }
}

function paint(
  g: OffscreenCanvasRenderingContext2D,
  { width, height, top }: FieldSize,
  ink: (name: string) => string,
  paper: string,
): void {
  const foot = height - FOOT,
    perDb = (foot - top) / (TOP_DB - BOTTOM_DB);
  g.font = `13px ${FONT.number}`;
  g.fillStyle = ink('--line');
  for (const hz of HZ_LINES) for (let y = top; y < foot; y += 8) g.fillRect(hzToField(hz) * width, y, 1.5, 3);
  g.textAlign = 'right';
  const everyDb = 12 * perDb >= NAME_HEIGHT ? 12 : 24 * perDb >= NAME_HEIGHT ? 24 : 36;
  for (const db of DB_LINES) {
    if (db % everyDb !== 0) continue;
    const y = foot - (db - BOTTOM_DB) * perDb;
    g.fillStyle = ink('--line');
    for (let x = 0; x < width - 66; x += 10) g.fillRect(x, y, 3, 1);
    g.fillStyle = ink('--night');
    g.fillRect(width - 62, y - 10, 62, 19);
    g.fillStyle = paper;
    g.fillText(`−${-db} dB`, width - 6, y + 4);
  }
  g.fillStyle = ink('--ground');
  g.fillRect(0, foot, width, height - foot);
  g.fillStyle = ink('--word');
  g.textAlign = 'center';
  const everyHz = (Math.log10(2) / 3) * width >= NAME_WIDTH ? 1 : 2;
  HZ_LINES.forEach((hz, i) => {
    const x = hzToField(hz) * width;
    if (i % everyHz === 0 && x > 14 && x < width - 40)
      g.fillText(hz >= 1000 ? `${hz / 1000} k` : String(hz), x, height - 7);
  });
  g.textAlign = 'right';
  g.fillText('Hz', width - 4, height - 7);
}
