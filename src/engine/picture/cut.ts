import { BufferGeometry, Float32BufferAttribute, Path, Shape, ShapeGeometry } from 'three';
import { seeded } from '../../core/random';
import type { Point } from './outline';

/** How far a knife strays, and how long it cuts before it is set anew, in picture pixels. */
const STRAY = 1.5;
const STROKE = 26;

/** A closed outline as cut by hand: long edges broken into strokes, each end a little off. Done once, when a thing is made. */
export function cut(points: readonly Point[], random: () => number, stray = STRAY): Point[] {
  const out: Point[] = [];
  points.forEach(([x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length]!;
    const length = Math.hypot(nx - x, ny - y);
    const strokes = Math.max(1, Math.round(length / STROKE));
    for (let k = 0; k < strokes; k++) {
      const t = k / strokes;
      out.push([
        x + (nx - x) * t + (random() - 0.5) * 2 * stray,
        y + (ny - y) * t + (random() - 0.5) * 2 * stray,
      ]);
    }
  });
  return out;
}

/** Triangles of several outlines in one geometry: one draw call an ink. */
export function sheet(
  outlines: readonly (readonly Point[])[],
  seed: number,
  stray?: number,
  holes: readonly (readonly Point[])[] = [],
): BufferGeometry {
  const random = seeded(seed);
  const shapes = outlines.map((o) => {
    const shape = new Shape();
    cut(o, random, stray).forEach(([x, y], i) => (i ? shape.lineTo(x, y) : shape.moveTo(x, y)));
    for (const h of holes) {
      const path = new Path();
      cut(h, random, stray).forEach(([x, y], i) => (i ? path.lineTo(x, y) : path.moveTo(x, y)));
      shape.holes.push(path);
    }
    return shape;
  });
  return new ShapeGeometry(shapes);
}

/** Thin slanted strokes, as a gouge leaves them. */
export function gouges(
  list: readonly {
    readonly x: number;
    readonly y: number;
    readonly length: number;
    readonly width: number;
    readonly angle: number;
  }[],
  seed: number,
): BufferGeometry {
  const random = seeded(seed);
  const position: number[] = [];
  for (const { x, y, length, width, angle } of list) {
    const dx = Math.cos(angle) * length * 0.5,
      dy = Math.sin(angle) * length * 0.5;
    const w = width * (0.6 + 0.8 * random()) * 0.5;
    const nx = -Math.sin(angle) * w,
      ny = Math.cos(angle) * w;
    // A stroke is thick where the gouge enters and ends in a point.
    position.push(x - dx + nx, y - dy + ny, 0, x - dx - nx, y - dy - ny, 0, x + dx, y + dy, 0);
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new Float32BufferAttribute(position, 3));
  return geometry;
}
