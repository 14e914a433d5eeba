import { describe, expect, it } from '@jest/globals';
import { newEdgeForm } from '../show/overlayStarts';
import {
  bulgeAt,
  EDGE_STEPS,
  glowAt,
  outlineDistances,
  OUTLINE_REACH,
  placeOnOutline,
  sideSwell,
} from './edge';

describe('the swell of a side', () => {
  const zero = [0];
  it('is nothing in silence and at its end, and all of it in its middle', () => {
    const out = new Float32Array(EDGE_STEPS).fill(9);
    expect(sideSwell(out, 0, 'middle', zero, 0, 1, zero, 0, 1)).toBe(0);
    expect(out.every((x) => x === 0)).toBe(true);
    expect(sideSwell(out, 0, 'middle', [40], 0, 1, [-10], 0, 1)).toBe(30);
    expect([out[0], out[EDGE_STEPS - 1]]).toEqual([30, 0]);
    // (1 − u²)² between.
    for (const i of [20, 64, 100]) expect(out[i]).toBeCloseTo(30 * (1 - (i / 127) ** 2) ** 2, 4);
  });
  it.each(['middle', 'even'] as const)('%s: falls from its middle to its end, closed there', (bulge) => {
    let before = bulgeAt(0, bulge);
    expect(before).toBe(1);
    for (let u = 0.01; u <= 1; u += 0.01) {
      const now = bulgeAt(u, bulge);
      expect(now).toBeLessThanOrEqual(before);
      before = now;
    }
    expect(bulgeAt(1, bulge)).toBe(0);
  });
  it('lays a row from its first point in the middle to its last at the end, and its own upon that of all', () => {
    const out = new Float32Array(2 * EDGE_STEPS),
      row = [99, 10, 20, 30, 40];
    sideSwell(out, EDGE_STEPS, 'even', row, 1, 4, [0, 5], 1, 1);
    // Up to seven eighths nothing is taken off.
    for (const u of [0, 0.2, 0.5, 0.8])
      expect(out[EDGE_STEPS + Math.round(u * 127)]).toBeCloseTo(10 + 30 * (Math.round(u * 127) / 127) + 5, 3);
    expect([...out.subarray(0, EDGE_STEPS)].every((x) => x === 0)).toBe(true);
  });
});

describe('a glow', () => {
  it('is whole at the edge, a quarter at half of its reach, and nothing beyond', () => {
    expect([glowAt(0, 40), glowAt(20, 40), glowAt(40, 40), glowAt(80, 40), glowAt(-3, 40)]).toEqual([
      1, 0.25, 0, 0, 1,
    ]);
  });
});

describe('a drawn outline', () => {
  it('knows how far away it is, less than nothing within: a square against its closed form', () => {
    const n = 64,
      field = outlineDistances([-1, -1, 1, -1, 1, 1, -1, 1], 200, 100, n);
    for (let row = 0; row < n; row += 7)
      for (let column = 0; column < n; column += 5) {
        const x = (((column + 0.5) / n) * 2 - 1) * OUTLINE_REACH * 100,
          y = (((row + 0.5) / n) * 2 - 1) * OUTLINE_REACH * 50,
          qx = Math.abs(x) - 100,
          qy = Math.abs(y) - 50,
          box = Math.min(Math.max(qx, qy), 0) + Math.hypot(Math.max(qx, 0), Math.max(qy, 0));
        expect(field[row * n + column]).toBeCloseTo(box, 3);
      }
  });
  it.each(['rectangle', 'round', 'drawing'] as const)('%s: places go once round it', (outline) => {
    const form = { ...newEdgeForm({ width: 400, height: 200 }), outline },
      at = [0, 0];
    let way = 0,
      before: number[] | null = null;
    for (let i = 0; i <= 400; i++) {
      placeOnOutline(form, (i % 400) / 400, at);
      expect(Math.abs(at[0]!)).toBeLessThanOrEqual(200 + 1e-9);
      expect(Math.abs(at[1]!)).toBeLessThanOrEqual(100 + 1e-9);
      if (before) way += Math.hypot(at[0]! - before[0]!, at[1]! - before[1]!);
      before = [...at];
    }
    const whole = { rectangle: 1200, round: 968.8, drawing: 4 * Math.hypot(200, 100) }[outline];
    expect(way / whole).toBeGreaterThan(0.99);
    expect(way / whole).toBeLessThan(1.01);
  });
});
