import { afterEach, describe, expect, it, jest } from '@jest/globals';
import { newEdgeForm } from '../../../core/show';
import { inkUniform, uniform } from '../shade';
import { SPARK_SECONDS, Sparks } from './sparks';

describe('sparks of an edge', () => {
  afterEach(() => {
    jest.restoreAllMocks();
  });
  /** How much of its life each spark that was lit has left in the picture that is drawn now, 0 to 1. */
  const left = (sparks: Sparks, count: number): number[] => {
    sparks.update();
    const born = sparks.mesh.geometry.getAttribute('spark'),
      now = (sparks.mesh.material.uniforms.now as { value: number }).value;
    return Array.from({ length: count }, (_, i) => 1 - (now - born.getZ(i)) / SPARK_SECONDS);
  };
  it('begin with the picture that shows them first, however long ago the one before was, and end by the clock', () => {
    let ms = 1000;
    jest.spyOn(performance, 'now').mockImplementation(() => ms);
    const sparks = new Sparks(newEdgeForm({ width: 640, height: 360 }), {
      ink: inkUniform(),
      shown: uniform(1),
    });
    sparks.update();
    ms += 5000;
    sparks.light(100);
    expect(left(sparks, 1)[0]).toBeCloseTo(1, 3);
    ms += (SPARK_SECONDS * 1000) / 2;
    sparks.light(50);
    const [first, second] = left(sparks, 2);
    expect(first).toBeCloseTo(0.5, 3);
    expect(second).toBeCloseTo(1, 3);
    ms += (SPARK_SECONDS * 1000) / 2 + 1;
    expect(left(sparks, 1)[0]).toBeLessThanOrEqual(0);
    sparks.clear();
    for (const x of left(sparks, 2)) expect(x).toBeLessThan(0);
  });
});
