import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { anchorPlace, ANCHORS, nearestAnchor } from './anchors';
import { cover, type Covering } from './cover';
import type { FigureForm } from './kinds';
import { anchorOf, boundsOf, moveAnchor } from './snap';

const image: FigureForm = { kind: 'image', media: null, fileName: '', flipX: false, flipY: false, aspect: 2 };
const none = (_: string, otherwise: number): number => otherwise;

describe('where a figure grows from', () => {
  it('is one of nine points, each the nearest to its own place', () => {
    expect(new Set(ANCHORS.map((a) => anchorPlace(a).join())).size).toBe(9);
    for (const a of ANCHORS) expect(nearestAnchor(...anchorPlace(a))).toBe(a);
    expect(nearestAnchor(1.4, -2)).toBe('lower right');
    expect(nearestAnchor(0.3, 0.6)).toBe('middle');
  });
  it('changes without moving what is seen, however it is sized, stretched and turned', () => {
    const rest = (id: string, otherwise: number): number =>
      ({ size: 2, wide: 0.5, tall: 3 })[id] ?? otherwise;
    let figure: Parameters<typeof boundsOf>[0] = { form: image, at: { x: 300, y: 200 } };
    const stood = boundsOf(figure, rest);
    expect([stood.w, stood.h]).toEqual([480, 1440]);
    for (const a of ANCHORS) {
      figure = { ...figure, ...moveAnchor(figure, a, rest) };
      expect(anchorOf(figure)).toBe(a);
      expect(boundsOf(figure, rest)).toEqual(stood);
    }
    // Turned by a right angle, what was right of the middle is above it.
    const turned = moveAnchor({ form: image, at: { x: 0, y: 0 } }, 'right', (id, o) =>
      id === 'turn' ? 90 : o,
    );
    expect(turned.at).toEqual({ x: 0, y: 240 });
  });
  it('is kept in its form by a solid, and not to be chosen for a ground', () => {
    const box: FigureForm = { kind: 'solid', shape: 'box', look: 'filled', anchor: 'foot' };
    expect(moveAnchor({ form: box, at: { x: 0, y: 0 } }, 'upper right', none)).toEqual({
      form: { ...box, anchor: 'upper right' },
      at: { x: 110, y: 220 },
    });
    expect(anchorOf({ form: { kind: 'ground' } })).toBeNull();
  });
});

describe('a plate that covers the picture', () => {
  const lies: Covering = { scale: 1, x: 0, y: 0 };
  /** Whether every corner of the picture lies within the plate. */
  const bare = (w: number, h: number, turn: number): boolean =>
    [-640, 640].some((px) =>
      [-360, 360].some((py) => {
        const dx = px - lies.x,
          dy = py - lies.y,
          x = dx * Math.cos(turn) + dy * Math.sin(turn),
          y = dy * Math.cos(turn) - dx * Math.sin(turn);
        return Math.abs(x) > (w * lies.scale) / 2 + 1e-6 || Math.abs(y) > (h * lies.scale) / 2 + 1e-6;
      }),
    );
  it('is as large as it must be, and as its room asks', () => {
    cover(480, 270, 1280, 720, 0, 1, 0, 0, 0, lies);
    expect(lies).toEqual({ scale: 1280 / 480, x: 0, y: 0 });
    // A tall one is as wide as the picture; shifted up, its spare height goes as far.
    cover(480, 480, 1280, 720, 0, 1, 0, 500, 500, lies);
    expect(lies).toEqual({ scale: 1280 / 480, x: 0, y: (1280 - 720) / 2 });
    cover(480, 270, 1280, 720, 0.1, 1, 0, -30, 9999, lies);
    expect(lies.scale).toBeCloseTo((1.1 * 1280) / 480, 9);
    expect([lies.x, lies.y]).toEqual([-30, expect.closeTo(36, 6) as unknown as number]);
  });
  it('never shows a bare edge, whatever it is asked for', () => {
    const random = seeded(5);
    for (let i = 0; i < 2000; i++) {
      const w = 100 + 800 * random(),
        h = 100 + 800 * random(),
        turn = 7 * (random() - 0.5);
      cover(
        w,
        h,
        1280,
        720,
        random(),
        3 * random(),
        turn,
        4000 * (random() - 0.5),
        4000 * (random() - 0.5),
        lies,
      );
      expect([i, bare(w, h, turn)]).toEqual([i, false]);
    }
  });
});
