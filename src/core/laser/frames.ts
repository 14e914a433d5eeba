import { LaserPaths } from './paths';
import { At, POINT } from './points';

/** Points of all frames of one file, once they are thinned: what a show bears. */
export const FRAME_POINTS_MOST = 60000;
/** x and y in 16 bits, red, green and blue in 8. */
const BYTES = 7;

/** Frames as a show keeps them: how many points each has, and all of them in base64. */
export interface PackedFrames {
  readonly counts: readonly number[];
  readonly data: string;
}
/** There are more points than a show bears; the message says so. */
export class FramesError extends Error {
  override readonly name = 'FramesError';
}

/** What lies so near to the straight between its neighbours adds nothing that a mirror would draw. */
const STRAIGHT = 0.004;

/**
 * Packs frames for a show, without the points that lie on a straight way and have its colour.
 * @param frames - x, y from −1 to 1 and red, green, blue from 0 to 1 of each point
 * @throws FramesError when there are too many of them
 */
export function packFrames(frames: readonly Float32Array[]): PackedFrames {
  const thin = frames.map(thinned),
    total = thin.reduce((n, f) => n + f.length / POINT, 0);
  if (total > FRAME_POINTS_MOST)
    throw new FramesError(
      `The frames have ${total} points; a show bears ${FRAME_POINTS_MOST}. Take fewer frames.`,
    );
  const bytes = new Uint8Array(total * BYTES),
    view = new DataView(bytes.buffer);
  let at = 0;
  for (const f of thin)
    for (let i = 0; i < f.length; i += POINT, at += BYTES) {
      view.setInt16(at, Math.round(clamp1(f[i + At.X]!) * 32767));
      view.setInt16(at + 2, Math.round(clamp1(f[i + At.Y]!) * 32767));
      for (let c = 0; c < 3; c++)
        bytes[at + 4 + c] = Math.round(Math.max(0, clamp1(f[i + At.Red + c]!)) * 255);
    }
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return { counts: thin.map((f) => f.length / POINT), data: btoa(text) };
}
const clamp1 = (x: number): number => (x > -1 ? (x < 1 ? x : 1) : -1);

function thinned(f: Float32Array): Float32Array {
  const n = f.length / POINT,
    kept: number[] = [];
  for (let i = 0; i < n; i++) {
    const last = kept.at(-1);
    if (last !== undefined && i + 1 < n && sameColour(f, i, i + 1) && onStraight(f, last, i + 1)) continue;
    kept.push(i);
  }
  const out = new Float32Array(kept.length * POINT);
  kept.forEach((i, k) => out.set(f.subarray(i * POINT, (i + 1) * POINT), k * POINT));
  return out;
}
const sameColour = (f: Float32Array, a: number, b: number): boolean =>
  [At.Red, At.Green, At.Blue].every((c) => f[a * POINT + c] === f[b * POINT + c]);
/** Whether everything between two points lies on the straight way from one to the other, forwards. */
function onStraight(f: Float32Array, a: number, c: number): boolean {
  const ax = f[a * POINT]!,
    ay = f[a * POINT + 1]!,
    dx = f[c * POINT]! - ax,
    dy = f[c * POINT + 1]! - ay,
    whole = Math.hypot(dx, dy);
  let before = 0;
  for (let b = a + 1; b < c; b++) {
    const ux = f[b * POINT]! - ax,
      uy = f[b * POINT + 1]! - ay,
      along = whole > 0 ? (ux * dx + uy * dy) / whole : 0;
    if (along < before || along > whole || Math.hypot(ux, uy) ** 2 - along * along > STRAIGHT * STRAIGHT)
      return false;
    before = along;
  }
  return true;
}

/** Each frame as paths, in its own colours: what is blanked parts them. What does not fit together is no frame. */
export function pathsOfFrames({ counts, data }: PackedFrames): LaserPaths[] {
  const text = atob(data),
    bytes = Uint8Array.from(text, (c) => c.charCodeAt(0)),
    view = new DataView(bytes.buffer);
  let at = 0;
  return counts.flatMap((count) => {
    const paths = new LaserPaths();
    let lit = false;
    if (at + count * BYTES > bytes.length) return [];
    for (let i = 0; i < count; i++, at += BYTES) {
      const x = view.getInt16(at) / 32767,
        y = view.getInt16(at + 2) / 32767,
        [r, g, b] = [bytes[at + 4]! / 255, bytes[at + 5]! / 255, bytes[at + 6]! / 255] as const,
        on = r + g + b > 0;
      if (on && lit) paths.corner(x, y, r, g, b);
      else if (on && i > 0) {
        // A point's colour shines on the way to it: the line begins where the one before stood.
        paths.begin();
        paths.corner(view.getInt16(at - BYTES) / 32767, view.getInt16(at - BYTES + 2) / 32767, r, g, b);
        paths.corner(x, y, r, g, b);
      }
      lit = on && (lit || i > 0);
    }
    paths.end();
    return [paths];
  });
}
