import svgpath from 'svgpath';
import { type Element, readXml } from '../gdtf/xml';

/** The file cannot be used; the message is for the person who dropped it. */
export class DrawingError extends Error {
  override readonly name = 'DrawingError';
}
const BYTES_MOST = 2 << 20;
const PLACES_MOST = 4000;
const STROKES_MOST = 400;
/** A curve is cut into pieces so that none is off by more than this share of the drawing. */
const FINE = 1 / 400;
/** What would do something, or fetch something. */
const FORBIDDEN =
  /<\s*(script|foreignObject|image|use|iframe|animate\w*|set)\b|\son\w+\s*=|(?:href|src)\s*=\s*["']?(?!#)|<!(?:DOCTYPE|ENTITY)|url\(\s*["']?(?!#)/i;

/**
 * Strokes of an SVG drawing (paths, lines, polylines, polygons, rectangles, circles and ellipses, with their transforms), brought into
 * its middle: each a run of x and y, within 1, up being up. What is filled is drawn by its outline.
 * @throws DrawingError that says what is wrong
 */
export function readDrawing(text: string): number[][] {
  if (text.length > BYTES_MOST)
    throw new DrawingError('The drawing is larger than 2 MB. Make it simpler first.');
  const forbidden = FORBIDDEN.exec(text);
  if (forbidden)
    throw new DrawingError(
      `The drawing has something in it that would run or be fetched (“${forbidden[0].trim().slice(0, 24)}”). Save it as plain paths.`,
    );
  let root: Element;
  try {
    root = readXml(text, 'The drawing');
  } catch (cause) {
    throw new DrawingError(cause instanceof Error ? cause.message : 'The drawing is damaged.', { cause });
  }
  if (root.name !== 'svg') throw new DrawingError('The drawing is no SVG.');
  const runs: number[][] = [];
  walk(root.children, root.attributes.transform ?? '', runs);
  const strokes = runs.filter((r) => r.length >= 4);
  if (strokes.length === 0) throw new DrawingError('There is no line in the drawing.');
  return centred(strokes);
}

function walk(list: readonly Element[], transform: string, out: number[][]): void {
  for (const { name, attributes, children } of list) {
    const all = `${transform} ${attributes.transform ?? ''}`.trim();
    if (name === 'g' || name === 'svg') walk(children, all, out);
    else {
      const d = pathOf(name, attributes);
      if (d !== null) strokesOf(d, all, out);
    }
  }
}
function pathOf(name: string, a: Readonly<Record<string, string>>): string | null {
  const n = (key: string): number => Number(a[key] ?? 0) || 0;
  switch (name) {
    case 'path':
      return a.d ?? null;
    case 'line':
      return `M${n('x1')} ${n('y1')}L${n('x2')} ${n('y2')}`;
    case 'polyline':
    case 'polygon':
      return a.points ? `M${a.points}${name === 'polygon' ? 'z' : ''}` : null;
    case 'rect':
      return `M${n('x')} ${n('y')}h${n('width')}v${n('height')}h${-n('width')}z`;
    case 'circle':
    case 'ellipse': {
      const rx = n(name === 'circle' ? 'r' : 'rx'),
        ry = n(name === 'circle' ? 'r' : 'ry');
      return rx > 0 && ry > 0
        ? `M${n('cx') - rx} ${n('cy')}a${rx} ${ry} 0 1 0 ${2 * rx} 0a${rx} ${ry} 0 1 0 ${-2 * rx} 0z`
        : null;
    }
    default:
      return null;
  }
}

function strokesOf(d: string, transform: string, out: number[][]): void {
  const path = svgpath(d);
  // What is wrong in a path ends it there, as a browser has it.
  const flat = (transform ? path.transform(transform) : path).abs().unarc().unshort();
  let run: number[] = [],
    first = [0, 0];
  const end = (): void => {
    if (run.length >= 4) out.push(run);
    run = [];
  };
  flat.iterate((segment, _, x, y) => {
    const s = segment as unknown as [string, ...number[]];
    if (out.length >= STROKES_MOST)
      throw new DrawingError(`The drawing has more than ${STROKES_MOST} strokes.`);
    switch (s[0]) {
      case 'M':
        end();
        first = [s[1]!, s[2]!];
        run = [s[1]!, s[2]!];
        return;
      case 'L':
        run.push(s[1]!, s[2]!);
        return;
      case 'H':
        run.push(s[1]!, y);
        return;
      case 'V':
        run.push(x, s[1]!);
        return;
      case 'Q':
        curve(
          run,
          x,
          y,
          x + ((s[1]! - x) * 2) / 3,
          y + ((s[2]! - y) * 2) / 3,
          s[3]! + ((s[1]! - s[3]!) * 2) / 3,
          s[4]! + ((s[2]! - s[4]!) * 2) / 3,
          s[3]!,
          s[4]!,
        );
        return;
      case 'C':
        curve(run, x, y, s[1]!, s[2]!, s[3]!, s[4]!, s[5]!, s[6]!);
        return;
      case 'Z':
      case 'z':
        run.push(first[0]!, first[1]!);
        end();
        run = [first[0]!, first[1]!];
        return;
    }
  });
  end();
}
/** A cubic curve in pieces: as many as its control polygon is long, at least so that a quarter circle has eight. */
function curve(
  run: number[],
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  x2: number,
  y2: number,
  x3: number,
  y3: number,
): void {
  const n = 8;
  for (let k = 1; k <= n; k++) {
    const t = k / n,
      u = 1 - t,
      a = u * u * u,
      b = 3 * u * u * t,
      c = 3 * u * t * t,
      e = t * t * t;
    run.push(a * x0 + b * x1 + c * x2 + e * x3, a * y0 + b * y1 + c * y2 + e * y3);
  }
}

function centred(strokes: readonly (readonly number[])[]): number[][] {
  let left = Infinity,
    right = -Infinity,
    top = Infinity,
    bottom = -Infinity,
    places = 0;
  for (const run of strokes)
    for (let i = 0; i < run.length; i += 2) {
      left = Math.min(left, run[i]!);
      right = Math.max(right, run[i]!);
      top = Math.min(top, run[i + 1]!);
      bottom = Math.max(bottom, run[i + 1]!);
      places++;
    }
  if (![left, right, top, bottom].every(Number.isFinite))
    throw new DrawingError('The drawing has places that are no numbers.');
  if (places > PLACES_MOST)
    throw new DrawingError(
      `The drawing has ${places} places; a laser draws ${PLACES_MOST} at most. Make it simpler first.`,
    );
  const half = Math.max(right - left, bottom - top) / 2;
  if (!(half > 0)) throw new DrawingError('There is no line in the drawing.');
  const cx = (left + right) / 2,
    cy = (top + bottom) / 2;
  return strokes.map((run) => thinned(run.map((n, i) => (i % 2 === 0 ? (n - cx) / half : -(n - cy) / half))));
}
/** Without places that lie on the line between their neighbours. */
function thinned(run: number[]): number[] {
  const out = run.slice(0, 2);
  for (let i = 2; i + 3 < run.length; i += 2) {
    const ax = out.at(-2)!,
      ay = out.at(-1)!,
      bx = run[i + 2]!,
      by = run[i + 3]!,
      long = Math.hypot(bx - ax, by - ay) || 1,
      off = Math.abs((bx - ax) * (run[i + 1]! - ay) - (by - ay) * (run[i]! - ax)) / long;
    if (off > FINE) out.push(run[i]!, run[i + 1]!);
  }
  out.push(...run.slice(-2));
  return out;
}
