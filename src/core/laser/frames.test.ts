import { describe, expect, it } from '@jest/globals';
import { FRAME_POINTS_MOST, FramesError, packFrames, pathsOfFrames } from './frames';
import { POINT } from './points';

const points = (...list: (readonly [number, number, number, number, number])[]): Float32Array =>
  Float32Array.from(list.flat());

describe('frames of a file', () => {
  it('come back as paths in their own colours, parted where they are blanked', () => {
    const packed = packFrames([
      points([-0.5, 0, 0, 0, 0], [0.5, 0, 1, 0, 0], [0.5, 0.5, 1, 0, 0], [0, 0.5, 0, 0, 0], [0, 0, 0, 0, 1]),
      points([0, 0, 0, 0, 0]),
    ]);
    const [first, second] = pathsOfFrames(packed);
    expect(first!.paths).toBe(2);
    expect([...first!.starts.subarray(0, 3)]).toEqual([0, 3, 5]);
    const flat = [...first!.corners.subarray(0, 5 * POINT)].map((x) => Math.round(x * 1000) / 1000);
    expect(flat).toEqual([
      -0.5, 0, 1, 0, 0, 0.5, 0, 1, 0, 0, 0.5, 0.5, 1, 0, 0, 0, 0.5, 0, 0, 1, 0, 0, 0, 0, 1,
    ]);
    expect(second!.paths).toBe(0);
  });
  it('lose what lies on a straight way, and nothing that a mirror would draw', () => {
    const line = points(...Array.from({ length: 101 }, (_, i) => [i / 100, 0, 0, 1, 0] as const));
    expect(packFrames([line]).counts).toEqual([2]);
    const ring = points(
      ...Array.from({ length: 400 }, (_, i) => {
        const a = (2 * Math.PI * i) / 399;
        return [0.5 * Math.cos(a), 0.5 * Math.sin(a), 1, 1, 1] as const;
      }),
    );
    const packed = packFrames([ring]);
    expect(packed.counts[0]).toBeLessThan(80);
    // No chord is further from the ring than 0.004, so none is longer than 2 √(r² − (r − d)²).
    const [paths] = pathsOfFrames(packed);
    for (let i = 1; i < paths!.starts[1]!; i++) {
      const far = Math.hypot(
        paths!.corners[i * POINT]! - paths!.corners[(i - 1) * POINT]!,
        paths!.corners[i * POINT + 1]! - paths!.corners[(i - 1) * POINT + 1]!,
      );
      expect(far).toBeLessThan(2 * Math.sqrt(0.25 - (0.5 - 0.0045) ** 2) + 1e-3);
    }
  });
  it('are refused where there are more points than a show bears; what is cut short gives no frame', () => {
    const many = new Float32Array(POINT * (FRAME_POINTS_MOST + 1));
    for (let i = 0; i <= FRAME_POINTS_MOST; i++)
      many.set([(i % 2) - 0.5, (i % 3) / 3, i % 2, 1, 0], i * POINT);
    expect(() => packFrames([many])).toThrow(FramesError);
    const packed = packFrames([points([0, 0, 1, 1, 1], [1, 1, 1, 1, 1])]);
    expect(pathsOfFrames({ ...packed, counts: [2, 9] })).toHaveLength(1);
  });
});
