import type { Milliseconds } from '../units';

/** A corner of what is shown, in shares of the screen from its lower left. */
export type Corner = readonly [x: number, y: number];

/** An output window: which part of the picture it shows, how large, and how it is laid onto the surface in front of it. */
export interface Screen {
  readonly id: string;
  readonly name: string;
  /** Pixels that it is drawn with. */
  readonly width: number;
  readonly height: number;
  /** The part of the picture that it shows, in shares from its lower left. */
  readonly crop: {
    readonly left: number;
    readonly bottom: number;
    readonly right: number;
    readonly top: number;
  };
  /** Degrees by which it is turned, anticlockwise. */
  readonly turn: 0 | 90 | 180 | 270;
  /** Where the corners of the picture come to lie: lower left, lower right, upper right, upper left. */
  readonly corners: readonly [Corner, Corner, Corner, Corner];
  /** How much later than the sound it shows what it shows. */
  readonly delayMs: Milliseconds;
  /** How it lies on a display of another shape; absent: whole, with bars. */
  readonly lies?: Lie;
  /** From a picture that is drawn to its light, as measured or known; absent: none. */
  readonly lagMs?: number;
}
/** Whole with bars beside it; over all of the display, cut off where it is wider or taller; or drawn out of shape to just cover it. */
export const LIES = ['fit', 'fill', 'stretch'] as const;
export type Lie = (typeof LIES)[number];

export const SCREEN_TURNS = [0, 90, 180, 270] as const;
export const SCREEN_LEAST = 64,
  SCREEN_MOST = 4096;
/** Longest delay of a screen. */
export const SCREEN_DELAY_MOST: Milliseconds = 500;

export const FLAT_CORNERS: Screen['corners'] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

export function newScreen(id: string, name: string): Screen {
  return {
    id,
    name,
    width: 1280,
    height: 720,
    crop: { left: 0, bottom: 0, right: 1, top: 1 },
    turn: 0,
    corners: FLAT_CORNERS,
    delayMs: 0,
  };
}

/**
 * The projective map that takes the unit square's corners to four points, row by row: (x, y) goes to
 * ((m0 x + m1 y + m2) / w, (m3 x + m4 y + m5) / w) with w = m6 x + m7 y + 1.
 * Source: Heckbert 1989, "Fundamentals of Texture Mapping and Image Warping", section 2.2.3.
 * @returns null when the points do not span a quadrangle that can be seen
 */
export function squareToQuad([[x0, y0], [x1, y1], [x2, y2], [x3, y3]]: Screen['corners']):
  readonly number[] | null {
  const dx1 = x1 - x2,
    dx2 = x3 - x2,
    dy1 = y1 - y2,
    dy2 = y3 - y2;
  const sx = x0 - x1 + x2 - x3,
    sy = y0 - y1 + y2 - y3;
  const det = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(det) < 1e-9) return null;
  const g = (sx * dy2 - dx2 * sy) / det,
    h = (dx1 * sy - sx * dy1) / det;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
}

/** Inverse of a projective map of nine numbers, up to its scale; null when it has none. */
export function invertMap(m: readonly number[]): readonly number[] | null {
  const [a, b, c, d, e, f, g, h, i] = m as unknown as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const A = e * i - f * h,
    B = f * g - d * i,
    C = d * h - e * g;
  const det = a * A + b * B + c * C;
  if (Math.abs(det) < 1e-12) return null;
  return [
    A,
    c * h - b * i,
    b * f - c * e,
    B,
    a * i - c * g,
    c * d - a * f,
    C,
    b * g - a * h,
    a * e - b * d,
  ].map((x) => x / det);
}

/** Width and height at which a screen is laid on a display, in the display's pixels; what does not fit lies beyond its edges, evenly. */
export function laidOn(
  { width, height, lies = 'fit' }: Pick<Screen, 'width' | 'height' | 'lies'>,
  display: { readonly width: number; readonly height: number },
): { readonly width: number; readonly height: number } {
  if (lies === 'stretch') return { width: display.width, height: display.height };
  const across = display.width / width,
    up = display.height / height,
    scale = lies === 'fill' ? Math.max(across, up) : Math.min(across, up);
  return { width: width * scale, height: height * scale };
}

/** Whether four corners, in their order, make a convex quadrangle: others cannot be shown. */
export function isShowable(corners: Screen['corners']): boolean {
  return corners.every(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % 4]!,
      [ox, oy] = corners[(i + 2) % 4]!;
    return (nx - x) * (oy - ny) - (ny - y) * (ox - nx) > 1e-4;
  });
}

/** From a place on the screen to one in the picture: through its corners, turned, and into its crop; null where nothing is changed. */
export function screenMap({ corners, turn, crop }: Screen): readonly number[] | null {
  const quad = isShowable(corners) ? squareToQuad(corners) : null,
    inverse = quad && invertMap(quad);
  const m = inverse ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
  const turns = (
    {
      0: [1, 0, 0, 0, 1, 0],
      90: [0, 1, 0, -1, 0, 1],
      180: [-1, 0, 1, 0, -1, 1],
      270: [0, -1, 1, 1, 0, 0],
    } as const
  )[turn];
  const w = crop.right - crop.left,
    h = crop.top - crop.bottom;
  const t = [
    turns[0] * w,
    turns[1] * w,
    turns[2] * w + crop.left,
    turns[3] * h,
    turns[4] * h,
    turns[5] * h + crop.bottom,
    0,
    0,
    1,
  ];
  const out = Array.from({ length: 9 }, (_, i) => {
    const r = Math.floor(i / 3),
      c = i % 3;
    return t[r * 3]! * m[c]! + t[r * 3 + 1]! * m[3 + c]! + t[r * 3 + 2]! * m[6 + c]!;
  });
  return out.every((x, i) => Math.abs(x / out[8]! - [1, 0, 0, 0, 1, 0, 0, 0, 1][i]!) < 1e-9) ? null : out;
}
