import { describe, expect, it } from '@jest/globals';
import { OVERLAY_HEIGHT, OVERLAY_WIDTH } from '../../core/overlays';
import { drawFrame, Sparks } from './drawFrame';

type Point = [number, number];
/** A drawing context that only notes what it is told. */
function notebook(): {
  g: CanvasRenderingContext2D;
  paths: { kind: string; points: Point[] }[];
  images: number[][];
} {
  const paths: { kind: string; points: Point[] }[] = [];
  const images: number[][] = [];
  let points: Point[] = [];
  const g = {
    clearRect: () => undefined,
    beginPath: () => {
      points = [];
    },
    rect: () => undefined,
    closePath: () => undefined,
    strokeRect: () => undefined,
    moveTo: (x: number, y: number) => points.push([x, y]),
    lineTo: (x: number, y: number) => points.push([x, y]),
    fill: () => paths.push({ kind: 'fill', points }),
    stroke: () => paths.push({ kind: 'stroke', points }),
    globalAlpha: 1,
    drawImage: (_: unknown, ...at: number[]) => images.push(at),
  };
  return { g: g as unknown as CanvasRenderingContext2D, paths, images };
}
const inner = (swell: number): Point[] => {
  const n = notebook();
  drawFrame(n.g, [swell, 0, 1, 1, 1, 1], 0, null);
  return n.paths.find((p) => p.kind === 'fill')!.points;
};

describe('the frame overlay', () => {
  it('is a plain rectangle at rest, without glow', () => {
    const n = notebook();
    drawFrame(n.g, [0, 0, 1, 1, 1, 1], 0, null);
    for (const [x, y] of n.paths[0]!.points)
      expect(x === 26 || x === OVERLAY_WIDTH - 26 || y === 26 || y === OVERLAY_HEIGHT - 26).toBe(true);
    expect(n.paths.some((p) => p.kind === 'stroke')).toBe(false);
  });
  it('bulges on all four sides alike, exactly symmetric', () => {
    const points = inner(50);
    const has = (x: number, y: number): boolean =>
      points.some(([a, b]) => Math.abs(a - x) < 1e-9 && Math.abs(b - y) < 1e-9);
    for (const [x, y] of points) {
      expect(has(OVERLAY_WIDTH - x, y)).toBe(true);
      expect(has(x, OVERLAY_HEIGHT - y)).toBe(true);
    }
    expect(
      Math.min(...points.filter(([x]) => Math.abs(x - OVERLAY_WIDTH / 2) < 1e-9).map(([, y]) => y)),
    ).toBeCloseTo(76, 9);
    expect(
      Math.min(...points.filter(([, y]) => Math.abs(y - OVERLAY_HEIGHT / 2) < 1e-9).map(([x]) => x)),
    ).toBeCloseTo(76, 9);
  });
  it('keeps its corners whatever the swell', () => {
    for (const swell of [0, 60, 120]) expect(inner(swell)[0]).toEqual([26, 26]);
  });
  it('scales the badge about its middle, and leaves it out at size 0 or without an image', () => {
    const draw = (size: number, image: object | null): number[][] => {
      const n = notebook();
      drawFrame(n.g, [0, 0, size, 1, 1, 1], 0, image as CanvasImageSource | null);
      return n.images;
    };
    const [small] = draw(1, {}),
      [large] = draw(2, {});
    expect(small![0]! + small![2]! / 2).toBe(large![0]! + large![2]! / 2);
    expect(large![2]).toBe(2 * small![2]!);
    expect(draw(0, {})).toEqual([]);
    expect(draw(1, null)).toEqual([]);
  });
});

describe('sparks', () => {
  /** Outlines of the sparks alone: eight points each. */
  const drawn = (sparks: Sparks, now: number): Point[][] => {
    const n = notebook();
    sparks.draw(n.g, '#fff', now);
    return n.paths.map((p) => p.points);
  };
  const width = (points: Point[]): number =>
    Math.max(...points.map(([x]) => x)) - Math.min(...points.map(([x]) => x));
  it('are one for every hit, however many came between two drawings, as large as each was strong', () => {
    const sparks = new Sparks();
    for (const percent of [100, 50, 25]) sparks.light(percent, 5);
    const [strong, half, quarter] = drawn(sparks, 5).map(width);
    expect(half! / strong!).toBeCloseTo(0.5, 6);
    expect(quarter! / strong!).toBeCloseTo(0.25, 6);
    expect(sparks.count).toBe(3);
  });
  it('lie within the frame, apart from each other, and shrink until they are gone', () => {
    const sparks = new Sparks();
    for (let i = 0; i < 100; i++) sparks.light(100, 0);
    const all = drawn(sparks, 0),
      middles = new Set(
        all.map((p) =>
          p
            .reduce(([sx, sy], [x, y]): Point => [sx + x / 8, sy + y / 8], [0, 0])
            .map(Math.round)
            .join(),
        ),
      );
    expect(middles.size).toBeGreaterThan(90);
    for (const [x, y] of all.flat()) {
      expect(x > 0 && x < OVERLAY_WIDTH).toBe(true);
      expect(y > 0 && y < OVERLAY_HEIGHT).toBe(true);
    }
    expect(width(drawn(sparks, 0.5)[0]!)).toBeLessThan(width(all[0]!));
    expect(sparks.alive(0.5)).toBe(true);
    expect(drawn(sparks, 0.71)).toEqual([]);
    expect(sparks.alive(0.71)).toBe(false);
  });
  it('are out at once when it is dark', () => {
    const sparks = new Sparks();
    sparks.light(100, 1);
    sparks.clear();
    expect(drawn(sparks, 1)).toEqual([]);
    sparks.light(100, 2);
    expect(drawn(sparks, 2)).toHaveLength(1);
  });
});
