import { At, type LaserSetting, POINT } from '../../../core/laser';
import { encode } from '../../../core/parameters';
import { SEEN_KEPT } from '../../../engine/memory/laserView';

/** Where the field lies in a drawing: a square, its middle and half of its side, in pixels. */
export interface FieldBox {
  readonly x: number;
  readonly y: number;
  readonly half: number;
}
const MARGIN = 22;
export const fieldBox = (width: number, height: number): FieldBox => ({
  x: width / 2,
  y: height / 2,
  half: Math.max(10, Math.min(width, height) / 2 - MARGIN),
});
export const toX = (b: FieldBox, x: number): number => b.x + x * b.half;
export const toY = (b: FieldBox, y: number): number => b.y - y * b.half;

const LINE = '#2b241b',
  EDGE = '#8a7757',
  HATCH = '#b9a274',
  TEXT = '#f2e9d4',
  WANTED = '#9c8a68';

function outline(g: CanvasRenderingContext2D, b: FieldBox, polygon: readonly number[]): void {
  g.beginPath();
  for (let i = 0; i < polygon.length; i += 2) g.lineTo(toX(b, polygon[i]!), toY(b, polygon[i + 1]!));
  g.closePath();
}

/** The field with its zones, and nothing drawn in it yet. */
export function drawField(g: CanvasRenderingContext2D, b: FieldBox, setting: LaserSetting): void {
  const left = b.x - b.half,
    top = b.y - b.half,
    side = 2 * b.half;
  g.strokeStyle = LINE;
  g.lineWidth = 1;
  g.beginPath();
  for (let i = 1; i < 8; i++) {
    g.moveTo(left + (side * i) / 8, top);
    g.lineTo(left + (side * i) / 8, top + side);
    g.moveTo(left, top + (side * i) / 8);
    g.lineTo(left + side, top + (side * i) / 8);
  }
  g.stroke();
  for (const zone of setting.limits.zones) {
    outline(g, b, zone.polygon);
    g.fillStyle = 'rgba(138, 119, 87, 0.22)';
    g.fill();
    g.setLineDash([5, 5]);
    g.strokeStyle = EDGE;
    g.stroke();
    g.setLineDash([]);
  }
  for (const polygon of setting.limits.keepOuts) {
    g.save();
    outline(g, b, polygon);
    g.clip();
    g.strokeStyle = HATCH;
    g.lineWidth = 2;
    g.globalAlpha = 0.75;
    g.beginPath();
    for (let x = left - side; x < left + side; x += 11) {
      g.moveTo(x, top + side);
      g.lineTo(x + side, top);
    }
    g.stroke();
    g.restore();
    outline(g, b, polygon);
    g.strokeStyle = HATCH;
    g.lineWidth = 2;
    g.stroke();
  }
  g.strokeStyle = EDGE;
  g.lineWidth = 2;
  g.strokeRect(left, top, side, side);
  g.fillStyle = TEXT;
  g.font = '13px "Atkinson Hyperlegible", sans-serif';
  g.textBaseline = 'top';
  g.textAlign = 'left';
  g.fillText(`${setting.scanner.angle}° across`, left + 8, top + 7);
}

/**
 * What was wanted, as thin lines, and the dark ways between as dots.
 * @param points - {@link POINT} numbers each @param shift - points by which their colours come later than their places
 */
export function drawWanted(
  g: CanvasRenderingContext2D,
  b: FieldBox,
  points: Float32Array,
  count: number,
  shift: number,
): void {
  for (const lit of [true, false]) {
    g.beginPath();
    for (let i = 1; i < count; i++) {
      const at = i * POINT,
        colour = ((i + shift) % count) * POINT,
        on = points[colour + At.Red]! + points[colour + At.Green]! + points[colour + At.Blue]! > 0;
      if (on !== lit) continue;
      g.moveTo(toX(b, points[at - POINT]!), toY(b, points[at - POINT + 1]!));
      g.lineTo(toX(b, points[at]!), toY(b, points[at + 1]!));
    }
    g.strokeStyle = lit ? WANTED : '#4f4432';
    g.lineWidth = 1;
    g.setLineDash(lit ? [] : [2, 4]);
    g.stroke();
  }
  g.setLineDash([]);
}

/** Kinds of colour that are told apart in one drawing: fewer strokes than points. */
const SHADES = 6;
const buckets = new Map<number, Path2D>();

/**
 * What mirrors drew, brighter where they stayed longer.
 * @param ring - points, over and over @param from @param to - counts of points @param kept - how many the ring has
 * @param strength - 0 to 1: of light that is only rehearsed less
 */
export function drawSeen(
  g: CanvasRenderingContext2D,
  place: (x: number, y: number, out: number[]) => void,
  ring: Float32Array,
  from: number,
  to: number,
  kept: number,
  strength: number,
): void {
  buckets.clear();
  const a = [0, 0],
    c = [0, 0];
  for (let i = from + 1; i < to; i++) {
    const at = (i % kept) * POINT,
      before = ((i - 1) % kept) * POINT,
      r = ring[at + At.Red]!,
      gr = ring[at + At.Green]!,
      bl = ring[at + At.Blue]!;
    if (!(r + gr + bl > 0)) continue;
    const long = Math.hypot(ring[at]! - ring[before]!, ring[at + 1]! - ring[before + 1]!),
      // A point's light lies on as long a way as the mirrors went in it.
      dwell = Math.max(0.25, Math.min(1, 0.02 / Math.max(long, 0.004)));
    const shade = (x: number): number => Math.round(encode(Math.min(1, x)) * SHADES);
    const key = ((shade(r) * 8 + shade(gr)) * 8 + shade(bl)) * 4 + Math.round(dwell * 3);
    let path = buckets.get(key);
    if (!path) buckets.set(key, (path = new Path2D()));
    place(ring[before]!, ring[before + 1]!, a);
    place(ring[at]!, ring[at + 1]!, c);
    path.moveTo(a[0]!, a[1]!);
    path.lineTo(c[0]!, c[1]!);
  }
  g.lineCap = 'round';
  for (const [key, path] of buckets) {
    const dwell = (key % 4) / 3,
      rest = Math.floor(key / 4),
      to255 = (x: number): number => Math.round((x / SHADES) * 255);
    g.strokeStyle = `rgb(${to255(Math.floor(rest / 64))},${to255(Math.floor(rest / 8) % 8)},${to255(rest % 8)})`;
    g.globalAlpha = strength * (0.45 + 0.55 * dwell);
    g.lineWidth = 1.5 + 2 * dwell;
    g.stroke(path);
  }
  g.globalAlpha = 1;
  g.lineCap = 'butt';
}
/** Of what mirrors drew an eye keeps about so many points: a twelfth of a second. */
export const EYE_POINTS = Math.min(2500, SEEN_KEPT);
