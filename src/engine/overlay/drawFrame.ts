import { OVERLAY_HEIGHT, OVERLAY_WIDTH } from '../../core/overlays/kinds';
import { encode } from '../../core/parameters/colour';

/** Width of the frame at rest, in overlay pixels. */
const BAND = 26;
const STEPS = 40;
const BADGE = 150;
const BADGE_X = 118;
const BADGE_Y = OVERLAY_HEIGHT - 118;

/** The numbers of a frame overlay, in the order of its description: swell, glow, badge, ink (three, linear light). */
export const FRAME_NUMBERS = 6;

/** One side's bulge: nothing at its ends, all of it in the middle, the same from either end. */
function bulge(t: number): number {
  const u = Math.abs(2 * t - 1); // mirrored about the middle, so that both halves are equal to the last bit
  return (1 - u * u) ** 2;
}

function innerEdge(g: CanvasRenderingContext2D, swell: number): void {
  const w = OVERLAY_WIDTH - 2 * BAND, h = OVERLAY_HEIGHT - 2 * BAND;
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
 * @param badge - the image in the corner, or null while there is none
 */
export function drawFrame(g: CanvasRenderingContext2D, v: ArrayLike<number>, at: number, badge: CanvasImageSource | null): void {
  const swell = v[at]!, glow = v[at + 1]! / 100, size = v[at + 2]!;
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
  if (badge && size > 0) g.drawImage(badge, BADGE_X - (BADGE * size) / 2, BADGE_Y - (BADGE * size) / 2, BADGE * size, BADGE * size);
}

function byte(linear: number): number {
  return Math.round(encode(Math.min(1, Math.max(0, linear))) * 255);
}
