/**
 * ILDA Image Data Transfer Format, revision 11: frames of points in a file. A section begins with 32 bytes, whose eighth says what
 * follows: 0 and 1 are points with the number of a colour, in three dimensions and in two, 2 is a palette, 4 and 5 are points with a
 * colour of their own. A section of no records ends the file. All numbers are big-endian.
 */

/** One frame: x, y from −1 to 1, and red, green, blue from 0 to 1 as the file has them, of each point; 0, 0, 0 is blanked. */
export interface IldaFrame {
  readonly name: string;
  readonly points: Float32Array;
}
/** The file cannot be used; the message is for the person who dropped it. */
export class IldaError extends Error {
  override readonly name = 'IldaError';
}

const HEAD = 32;
const RECORD: Readonly<Record<number, number>> = { 0: 8, 1: 6, 2: 3, 4: 10, 5: 8 };
const BLANKED = 0x40,
  LAST = 0x80;
/** A file of more than this would hold up everything else. */
const FRAMES_MOST = 2000;
const POINTS_MOST = 2_000_000;

/** The palette of files that bring none (ILDA, appendix A). */
export const ILDA_PALETTE: readonly (readonly [number, number, number])[] = [
  ...Array.from({ length: 17 }, (_, i) => [255, Math.min(255, 16 * i), 0] as const),
  ...[224, 192, 160, 128, 96, 64, 32].map((x) => [x, 255, 0] as const),
  ...[0, 36, 73, 109, 146, 182, 219, 255].map((x) => [0, 255, x] as const),
  ...[227, 198, 170, 142, 113, 85, 56, 28, 0].map((x) => [0, x, 255] as const),
  ...[32, 64, 96, 128, 160, 192, 224, 255].map((x) => [x, 0, 255] as const),
  ...[32, 64, 96, 128, 160, 192, 224, 255].map((x) => [255, x, 255] as const),
  ...[224, 192, 160, 128, 96, 64, 32].map((x) => [255, x, x] as const),
];

/** @param bytes - the file; untrusted @throws IldaError that says what is wrong and where */
export function readIlda(bytes: Uint8Array): IldaFrame[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength),
    frames: IldaFrame[] = [];
  let palette = ILDA_PALETTE,
    at = 0,
    total = 0;
  for (;;) {
    if (at === 0 && text(bytes, 0, 4) !== 'ILDA')
      throw new IldaError('At byte 0 no ILDA section begins: this is no ILDA file.');
    if (at + HEAD > bytes.length) {
      if (frames.length > 0 && at === bytes.length) return frames;
      throw new IldaError(`The file ends in the middle of a section, at byte ${at}.`);
    }
    if (text(bytes, at, 4) !== 'ILDA') throw new IldaError(`At byte ${at} no ILDA section begins.`);
    const format = bytes[at + 7]!,
      count = view.getUint16(at + 24),
      size = RECORD[format];
    if (size === undefined)
      throw new IldaError(
        `At byte ${at} there is a section of format ${format}; 0, 1, 2, 4 and 5 can be read.`,
      );
    const name = text(bytes, at + 8, 8);
    if (count === 0) return frames;
    const from = at + HEAD;
    at = from + count * size;
    if (at > bytes.length)
      throw new IldaError(
        `The section at byte ${from - HEAD} says that it has ${count} records, and is cut short.`,
      );
    if (format === 2) {
      palette = Array.from(
        { length: count },
        (_, i) => [bytes[from + 3 * i]!, bytes[from + 3 * i + 1]!, bytes[from + 3 * i + 2]!] as const,
      );
      continue;
    }
    total += count;
    if (frames.length >= FRAMES_MOST || total > POINTS_MOST)
      throw new IldaError(
        `The file is too long: at most ${FRAMES_MOST} frames and ${POINTS_MOST} points are read.`,
      );
    frames.push({ name, points: pointsOf(view, from, count, format, size, palette) });
  }
}

function pointsOf(
  view: DataView,
  from: number,
  count: number,
  format: number,
  size: number,
  palette: readonly (readonly [number, number, number])[],
): Float32Array {
  const points = new Float32Array(5 * count),
    deep = format === 0 || format === 4 ? 2 : 0;
  for (let i = 0; i < count; i++) {
    const p = from + i * size,
      status = view.getUint8(p + 4 + deep),
      own = p + 5 + deep;
    points[5 * i] = Math.max(-1, view.getInt16(p) / 32767);
    points[5 * i + 1] = Math.max(-1, view.getInt16(p + 2) / 32767);
    if (status & BLANKED) continue;
    // True colour stands as blue, green, red.
    const [r, g, b] =
      format >= 4
        ? [view.getUint8(own + 2), view.getUint8(own + 1), view.getUint8(own)]
        : (palette[view.getUint8(own)] ?? [255, 255, 255]);
    points.set([r / 255, g / 255, b / 255], 5 * i + 2);
  }
  return points;
}
function text(bytes: Uint8Array, from: number, length: number): string {
  let out = '';
  for (let i = from; i < from + length && bytes[i]; i++) {
    const c = bytes[i]!;
    if (c >= 32 && c < 127) out += String.fromCharCode(c);
  }
  return out;
}

/** Formats that are written: points with the number of a colour (0, 1) or a colour of their own (4, 5), in three dimensions or in two. */
export const ILDA_WRITTEN = [5, 4, 1, 0] as const;
export type IldaFormat = (typeof ILDA_WRITTEN)[number];
const COLOURS_MOST = 256;
type Colour = readonly [number, number, number];

/**
 * Frames as a file. Where points have the number of a colour, the file brings a palette of its own with all colours that there are;
 * of more than 256 each takes the nearest of the standard's.
 */
export function writeIlda(frames: readonly IldaFrame[], format: IldaFormat = 5): Uint8Array<ArrayBuffer> {
  const record = RECORD[format]!,
    numbered = format < 2,
    own = numbered ? coloursOf(frames) : null,
    palette = own ?? ILDA_PALETTE,
    deep = format === 0 || format === 4 ? 2 : 0;
  const size = frames.reduce(
      (n, f) => n + HEAD + record * (f.points.length / 5),
      HEAD + (own ? HEAD + 3 * own.length : 0),
    ),
    out = new Uint8Array(size),
    view = new DataView(out.buffer);
  let at = 0;
  const section = (of: number, name: string, count: number, number: number): void => {
    out.set([0x49, 0x4c, 0x44, 0x41, 0, 0, 0, of], at);
    for (let i = 0; i < Math.min(8, name.length); i++) out[at + 8 + i] = name.charCodeAt(i) & 127;
    for (let i = 0; i < 8; i++) out[at + 16 + i] = 'BATUCADA'.charCodeAt(i);
    view.setUint16(at + 24, count);
    view.setUint16(at + 26, number);
    view.setUint16(at + 28, frames.length);
    at += HEAD;
  };
  if (own) {
    section(2, 'COLOURS', own.length, 0);
    for (const c of own) {
      out.set(c, at);
      at += 3;
    }
  }
  frames.forEach(({ name, points }, f) => {
    const count = points.length / 5;
    section(format, name, count, f);
    for (let i = 0; i < count; i++, at += record) {
      const colour = colourOf(points, i),
        dark = colour[0] + colour[1] + colour[2] === 0;
      view.setInt16(at, Math.round(Math.max(-1, Math.min(1, points[5 * i]!)) * 32767));
      view.setInt16(at + 2, Math.round(Math.max(-1, Math.min(1, points[5 * i + 1]!)) * 32767));
      const status = at + 4 + deep;
      out[status] = (dark ? BLANKED : 0) | (i === count - 1 ? LAST : 0);
      if (numbered) out[status + 1] = nearestOf(palette, colour);
      // True colour stands as blue, green, red.
      else [...colour].reverse().forEach((c, k) => (out[status + 1 + k] = c));
    }
  });
  section(format, '', 0, 0);
  return out;
}
const colourOf = (points: Float32Array, i: number): Colour =>
  [2, 3, 4].map((c) => Math.round(Math.max(0, Math.min(1, points[5 * i + c]!)) * 255)) as unknown as Colour;
/** All colours of the frames, or null where a palette has no room for them. */
function coloursOf(frames: readonly IldaFrame[]): readonly Colour[] | null {
  const known = new Map<number, Colour>();
  for (const { points } of frames)
    for (let i = 0; i < points.length / 5; i++) {
      const c = colourOf(points, i);
      known.set((c[0] << 16) | (c[1] << 8) | c[2], c);
      if (known.size > COLOURS_MOST) return null;
    }
  return known.size > 0 ? [...known.values()] : null;
}
function nearestOf(palette: readonly Colour[], [r, g, b]: Colour): number {
  let best = 0,
    least = Infinity;
  palette.forEach((c, i) => {
    const far = (c[0] - r) ** 2 + (c[1] - g) ** 2 + (c[2] - b) ** 2;
    if (far < least) {
      least = far;
      best = i;
    }
  });
  return best;
}
