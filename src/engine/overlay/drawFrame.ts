import { OVERLAY_HEIGHT, OVERLAY_WIDTH } from '../../core/overlays';
import { encode } from '../../core/parameters';

/** Width of the frame at rest, in overlay pixels. */
const BAND = 26;
const STEPS = 40;
const BADGE = 150;
const BADGE_X = 118;
const BADGE_Y = OVERLAY_HEIGHT - 118;

/** The numbers of a frame overlay, in the order of its description: swell, glow, badge, ink (three, linear light), spark. */
export const FRAME_NUMBERS = 7;
const SPARK_SECONDS = 0.7;
const SPARKS = 128;

/** Sparks along the frame: each hit leaves one of its own, as large as the hit was strong, however seldom the page draws. */
export class Sparks {
  /** How many there have been. */
  count = 0;
  readonly #born = new Float64Array(SPARKS).fill(-Infinity);
  readonly #size = new Float32Array(SPARKS);

  /** @param percent - 0 to 100 @param now - seconds, of any clock that `draw` shares */
  light(percent: number, now: number): void {
    const i = this.count++ % SPARKS;
    this.#born[i] = now;
    this.#size[i] = percent / 100;
  }
  /** All of them out, at once. */
  clear(): void {
    this.#born.fill(-Infinity);
  }
  /** Whether any still glows. */
  alive(now: number): boolean {
    return this.count > 0 && now - this.#born[(this.count - 1) % SPARKS]! < SPARK_SECONDS;
  }

  draw(g: CanvasRenderingContext2D, ink: string, now: number): void {
    g.fillStyle = ink;
    for (let k = Math.max(0, this.count - SPARKS); k < this.count; k++) {
      const left = 1 - (now - this.#born[k % SPARKS]!) / SPARK_SECONDS;
      if (left <= 0) continue;
      // Each far from the one before, all round the frame: turns of the golden ratio.
      const along = ((k * 0.618034) % 1) * 2 * (OVERLAY_WIDTH + OVERLAY_HEIGHT);
      const w = OVERLAY_WIDTH,
        h = OVERLAY_HEIGHT;
      const x = along < w ? along : along < w + h ? w : along < 2 * w + h ? 2 * w + h - along : 0,
        y = along < w ? 0 : along < w + h ? along - w : along < 2 * w + h ? h : 2 * (w + h) - along;
      // Inside the band, out of the corners.
      const cx = Math.min(w - 58, Math.max(58, x)),
        cy = Math.min(h - 58, Math.max(58, y)),
        r = 40 * this.#size[k % SPARKS]! * Math.sqrt(left);
      g.globalAlpha = Math.sqrt(left);
      g.beginPath();
      for (let i = 0; i < 8; i++) {
        const a = (i * Math.PI) / 4,
          d = i % 2 ? r * 0.34 : r;
        if (i === 0) g.moveTo(cx + d, cy);
        else g.lineTo(cx + d * Math.cos(a), cy + d * Math.sin(a));
      }
      g.closePath();
      g.fill();
    }
    g.globalAlpha = 1;
  }
}

/** One side's bulge: nothing at its ends, all of it in the middle, the same from either end. */
function bulge(t: number): number {
  const u = Math.abs(2 * t - 1); // mirrored about the middle, so that both halves are equal to the last bit
  return (1 - u * u) ** 2;
}

function innerEdge(g: CanvasRenderingContext2D, swell: number): void {
  const w = OVERLAY_WIDTH - 2 * BAND,
    h = OVERLAY_HEIGHT - 2 * BAND;
  g.moveTo(BAND, BAND);
  for (let i = 1; i <= STEPS; i++) g.lineTo(BAND + (w * i) / STEPS, BAND + swell * bulge(i / STEPS));
  for (let i = 1; i <= STEPS; i++) g.lineTo(BAND + w - swell * bulge(i / STEPS), BAND + (h * i) / STEPS);
  for (let i = 1; i <= STEPS; i++) g.lineTo(BAND + w - (w * i) / STEPS, BAND + h - swell * bulge(i / STEPS));
  for (let i = 1; i <= STEPS; i++) g.lineTo(BAND + swell * bulge(i / STEPS), BAND + h - (h * i) / STEPS);
  g.closePath();
}

/**
 * Draws a frame overlay onto a cleared canvas of its own size; what is not frame stays transparent. At rest it is the plain
 * frame, which is also what *dark* and silence show.
 * @param v - {@link FRAME_NUMBERS} numbers from `at` on
 * @param badge - the image in the corner, or null while there is none @param now - the sparks' clock, in seconds
 */
export function drawFrame(
  g: CanvasRenderingContext2D,
  v: ArrayLike<number>,
  at: number,
  badge: CanvasImageSource | null,
  sparks: Sparks | null = null,
  now = 0,
): void {
  const swell = v[at]!,
    glow = v[at + 1]! / 100,
    size = v[at + 2]!;
  const ink = `rgb(${byte(v[at + 3]!)},${byte(v[at + 4]!)},${byte(v[at + 5]!)})`;
  g.clearRect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
  if (glow > 0.004) {
    g.strokeStyle = ink;
    for (let i = 1; i <= 4; i++) {
      g.globalAlpha = glow * (0.26 / i);
      g.lineWidth = i * 16;
      g.beginPath();
      innerEdge(g, swell);
      g.stroke();
    }
    g.globalAlpha = 1;
  }
  g.fillStyle = ink;
  g.beginPath();
  g.rect(0, 0, OVERLAY_WIDTH, OVERLAY_HEIGHT);
  innerEdge(g, swell);
  g.fill('evenodd');
  // A cut line within the band, as a block print has it.
  g.strokeStyle = '#14110f';
  g.lineWidth = 3;
  g.strokeRect(10, 10, OVERLAY_WIDTH - 20, OVERLAY_HEIGHT - 20);
  sparks?.draw(g, ink, now);
  if (badge && size > 0)
    g.drawImage(
      badge,
      BADGE_X - (BADGE * size) / 2,
      BADGE_Y - (BADGE * size) / 2,
      BADGE * size,
      BADGE * size,
    );
}

function byte(linear: number): number {
  return Math.round(encode(Math.min(1, Math.max(0, linear))) * 255);
}
