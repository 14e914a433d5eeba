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

/** Frames as a file of format 5: two dimensions, true colour. */
export function writeIlda(frames: readonly IldaFrame[]): Uint8Array<ArrayBuffer> {
  const size = frames.reduce((n, f) => n + HEAD + 8 * (f.points.length / 5), HEAD),
    out = new Uint8Array(size),
    view = new DataView(out.buffer);
  let at = 0;
  const section = (name: string, count: number, number: number): void => {
    out.set([0x49, 0x4c, 0x44, 0x41, 0, 0, 0, 5], at);
    for (let i = 0; i < Math.min(8, name.length); i++) out[at + 8 + i] = name.charCodeAt(i) & 127;
    for (let i = 0; i < 8; i++) out[at + 16 + i] = 'BATUCADA'.charCodeAt(i);
    view.setUint16(at + 24, count);
    view.setUint16(at + 26, number);
    view.setUint16(at + 28, frames.length);
    at += HEAD;
  };
  frames.forEach(({ name, points }, f) => {
    const count = points.length / 5;
    section(name, count, f);
    for (let i = 0; i < count; i++, at += 8) {
      const [x, y, r, g, b] = points.subarray(5 * i, 5 * i + 5) as unknown as [
        number,
        number,
        number,
        number,
        number,
      ];
      const dark = r <= 0 && g <= 0 && b <= 0;
      view.setInt16(at, Math.round(Math.max(-1, Math.min(1, x)) * 32767));
      view.setInt16(at + 2, Math.round(Math.max(-1, Math.min(1, y)) * 32767));
      out[at + 4] = (dark ? BLANKED : 0) | (i === count - 1 ? LAST : 0);
      [b, g, r].forEach((c, k) => {
        out[at + 5 + k] = Math.round(Math.max(0, Math.min(1, c)) * 255);
      });
    }
  });
  section('', 0, 0);
  return out;
}
