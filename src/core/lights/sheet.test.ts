import { describe, expect, it } from '@jest/globals';
import { kindOf } from './builtin';
import { sheetAt, SHEET_HEIGHT, SHEET_VALUES, SHEET_WIDTH, sheetOf, spotsOnSheet } from './sheet';

const ROOM = { width: 12, depth: 8, height: 5 };
/** Red is how far across, green how far up, blue 0.5. */
const slope = new Float32Array(SHEET_VALUES);
for (let y = 0; y < SHEET_HEIGHT; y++)
  for (let x = 0; x < SHEET_WIDTH; x++)
    slope.set([(x + 0.5) / SHEET_WIDTH, (y + 0.5) / SHEET_HEIGHT, 0.5], 3 * (y * SHEET_WIDTH + x));

describe('the picture over the room', () => {
  it('is read between its points: a slope is a slope', () => {
    const out = new Float32Array(6);
    for (const [x, y] of [
      [0.5, 0.5],
      [0.1, 0.9],
      [0.777, 0.123],
    ] as const) {
      sheetAt(slope, x, y, out, 3);
      expect(out[3]).toBeCloseTo(x, 5);
      expect(out[4]).toBeCloseTo(y, 5);
      expect(out[5]).toBeCloseTo(0.5, 6);
    }
    // Beyond its outermost points it is these.
    sheetAt(slope, 0, 1, out, 0);
    expect(out[0]).toBeCloseTo(0.5 / SHEET_WIDTH, 6);
    expect(out[1]).toBeCloseTo(1 - 0.5 / SHEET_HEIGHT, 6);
  });
  it('lies over all of the room unless it was put elsewhere, and each cell hangs at its own place', () => {
    expect(sheetOf(ROOM)).toEqual({ left: -6, right: 6, bottom: 0, top: 5 });
    const one = spotsOnSheet(kindOf({ mode: 'rgb' }), { x: 3, y: 2.5 }, ROOM);
    expect([...one]).toEqual([0.75, 0.5]);
    // A bar of eight cells is two metres wide: its cells lie at −0.875 … 0.875.
    const bar = spotsOnSheet(kindOf({ mode: 'bar', cells: { columns: 8, rows: 1 } }), { x: 0, y: 1 }, ROOM);
    for (let i = 0; i < 8; i++) {
      expect(bar[2 * i]).toBeCloseTo((6 - 0.875 + 0.25 * i) / 12, 6);
      expect(bar[2 * i + 1]).toBeCloseTo(0.2, 6);
    }
    // The first row of a panel is its top one.
    const panel = spotsOnSheet(
      kindOf({ mode: 'panel', cells: { columns: 2, rows: 2 } }),
      { x: 0, y: 2 },
      ROOM,
    );
    expect(panel[1]!).toBeGreaterThan(panel[5]!);
    const far = spotsOnSheet(
      kindOf({ mode: 'rgb' }),
      { x: 30, y: -4 },
      { ...ROOM, sheet: { left: 0, right: 1, bottom: 0, top: 1 } },
    );
    expect([...far]).toEqual([1, 0]);
  });
});
