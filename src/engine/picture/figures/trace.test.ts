import { describe, expect, it } from '@jest/globals';
import type { InstancedBufferGeometry, InterleavedBufferAttribute, Mesh, ShaderMaterial } from 'three';
import { figureParameters } from '../../../core/figures';
import { parameterSize, toLinear } from '../../../core/parameters';
import { newFigure } from '../../../core/show';
import { PictureMedia } from '../media';
import { makeSurroundings } from '../shade';
import { type Workshop } from './drawn';
import { Places } from '../places';
import { TraceFigure } from './trace';

/** A trace by itself, and what stands in its buffer. */
function pen(): {
  readonly trace: TraceFigure;
  set(parameter: string, x: number): void;
  look(time: number): void;
  stretches(): { readonly from: readonly [number, number]; readonly to: readonly [number, number] }[];
  uniforms: ShaderMaterial['uniforms'];
} {
  const places: Record<string, number> = {},
    numbers: number[] = [];
  for (const p of figureParameters('trace')) {
    const out = [0, 0, 0];
    places[`x/${p.id}`] = numbers.length;
    if (typeof p.rest === 'string') toLinear(p.rest, out);
    else out[0] = p.rest;
    numbers.push(...out.slice(0, parameterSize(p)));
    if (p.kind === 'number' && p.wrap) {
      places[`x/${p.id}:sum`] = numbers.length;
      numbers.push(0);
    }
  }
  const values = Float32Array.from(numbers),
    workshop = {
      around: makeSurroundings(),
      media: new PictureMedia(
        () => undefined,
        () => undefined,
      ),
    } as unknown as Workshop;
  const trace = new TraceFigure(
      newFigure('x', 'x', { kind: 'trace' }, { x: 0, y: 0 }),
      new Places('x', { parameters: places, vectors: {} }),
      workshop,
    ),
    mesh = trace.object.children[0] as Mesh<InstancedBufferGeometry, ShaderMaterial>;
  return {
    trace,
    uniforms: mesh.material.uniforms,
    set: (parameter, x) => {
      values[places[`x/${parameter}`]!] = x;
    },
    look: (time) => trace.update(values, time),
    stretches: () => {
      const { array, stride } = (mesh.geometry.getAttribute('a') as InterleavedBufferAttribute).data,
        found = [];
      for (let i = 0; i < mesh.geometry.instanceCount; i++) {
        const a = i * stride,
          b = a + stride;
        if (array[b + 5]! >= 0.5)
          found.push({
            from: [array[a + 2]!, array[a + 1]!] as const,
            to: [array[b + 2]!, array[b + 1]!] as const,
          });
      }
      return found.sort((x, y) => x.to[0] - y.to[0]);
    },
  };
}

describe('a trace', () => {
  it('draws a stretch between each two places of the pen, however far apart', () => {
    const { trace, set, look, stretches } = pen();
    for (let i = 0; i < 5; i++) {
      set('penY', i % 2 ? 300 : -300);
      look(i);
    }
    expect(stretches().map((s) => [...s.from, ...s.to])).toEqual([
      [0, -300, 1, 300],
      [1, 300, 2, -300],
      [2, -300, 3, 300],
      [3, 300, 4, -300],
    ]);
    trace.dispose();
  });
  it('has no gap where its row of points starts over, once or many times', () => {
    const { trace, set, look, stretches } = pen(),
      shown = 1900;
    for (let i = 0; i < 9000; i++) {
      set('penY', i % 97);
      look(i);
      // At once after it started over, and at other times.
      if (i < shown + 1 || (i % 2048 > 3 && i % 311 !== 0)) continue;
      const late = stretches().slice(-shown);
      expect(late.at(-1)!.to).toEqual([i, i % 97]);
      expect(
        late.every(
          (s, k) => k === 0 || (s.from[0] === late[k - 1]!.to[0] && s.from[1] === late[k - 1]!.to[1]),
        ),
      ).toBe(true);
    }
    trace.dispose();
  });
  it('begins anew when time goes back, and keeps nothing twice while it stands', () => {
    const { trace, look, stretches, uniforms } = pen();
    for (const t of [10, 11, 11, 11, 12]) look(t);
    expect(trace.kept).toBe(3);
    look(2);
    expect([trace.kept, stretches().length, uniforms.now!.value]).toEqual([1, 0, 0]);
    look(3);
    expect([stretches().length, uniforms.now!.value]).toEqual([1, 1]);
    trace.dispose();
  });
});
