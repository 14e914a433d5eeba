import type { CurvePoint } from './steps';

/** Curves by name. Each goes from 0, 0 to 1, 1. */
export const CURVES: Readonly<Record<string, readonly CurvePoint[]>> = {
  straight: [
    [0, 0],
    [1, 1],
  ],
  'slow start': [
    [0, 0],
    [0.25, 0.0625],
    [0.5, 0.25],
    [0.75, 0.5625],
    [1, 1],
  ],
  'quick start': [
    [0, 0],
    [0.0625, 0.25],
    [0.25, 0.5],
    [0.5625, 0.75],
    [1, 1],
  ],
  'late leap': [
    [0, 0],
    [0.5, 0.0625],
    [0.75, 0.32],
    [0.9, 0.66],
    [1, 1],
  ],
  'soft ends': [
    [0, 0],
    [0.25, 0.15625],
    [0.5, 0.5],
    [0.75, 0.84375],
    [1, 1],
  ],
  'soft middle': [
    [0, 0],
    [0.15625, 0.25],
    [0.5, 0.5],
    [0.84375, 0.75],
    [1, 1],
  ],
  'there and back': [
    [0, 0],
    [0.5, 1],
    [1, 0],
  ],
};

/** Slopes at the points by which a cubic through them rises wherever they rise (Fritsch & Carlson 1980, harmonic means). */
function slopes(p: readonly CurvePoint[]): number[] {
  const n = p.length,
    secant = Array.from(
      { length: n - 1 },
      (_, i) => (p[i + 1]![1] - p[i]![1]) / Math.max(1e-9, p[i + 1]![0] - p[i]![0]),
    );
  return p.map((_, i) => {
    if (i === 0) return secant[0]!;
    if (i === n - 1) return secant[n - 2]!;
    const a = secant[i - 1]!,
      b = secant[i]!;
    if (a * b <= 0) return 0;
    const h0 = p[i]![0] - p[i - 1]![0],
      h1 = p[i + 1]![0] - p[i]![0],
      w0 = 2 * h1 + h0,
      w1 = h1 + 2 * h0;
    return (w0 + w1) / (w0 / a + w1 / b);
  });
}

/**
 * The curve through its points at x: a monotone cubic between two, straight on beyond the ends.
 * @param points - two or more, x rising
 */
export function curveAt(points: readonly CurvePoint[], x: number): number {
  const m = slopes(points),
    n = points.length;
  const [x0, y0] = points[0]!,
    [xe, ye] = points[n - 1]!;
  if (x <= x0) return y0 + m[0]! * (x - x0);
  if (x >= xe) return ye + m[n - 1]! * (x - xe);
  let i = 0;
  while (x > points[i + 1]![0]) i++;
  const [xa, ya] = points[i]!,
    [xb, yb] = points[i + 1]!;
  const h = xb - xa,
    t = (x - xa) / h,
    u = 1 - t;
  return (
    ya * (1 + 2 * t) * u * u +
    m[i]! * h * t * u * u +
    yb * t * t * (3 - 2 * t) +
    m[i + 1]! * h * t * t * (t - 1)
  );
}

export const CURVE_TABLE = 256;

/** The curve over 0 to 1 as a table of {@link CURVE_TABLE} + 1 values, for reading between neighbours; below 0 and above 1 it stays at its ends. */
export function curveTable(
  points: readonly CurvePoint[],
  table: Float64Array = new Float64Array(CURVE_TABLE + 1),
): Float64Array {
  for (let i = 0; i <= CURVE_TABLE; i++) table[i] = curveAt(points, i / CURVE_TABLE);
  return table;
}

export function readCurve(table: Float64Array, x: number): number {
  const at = x <= 0 ? 0 : x >= 1 ? CURVE_TABLE : x * CURVE_TABLE;
  const i = Math.min(CURVE_TABLE - 1, Math.floor(at));
  return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
}
