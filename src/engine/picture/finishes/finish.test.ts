import { describe, expect, it } from '@jest/globals';
import type { Mesh, RawShaderMaterial, Scene, Texture, WebGLRenderer, WebGLRenderTarget } from 'three';
import { FINISH_KINDS, type FinishForm, type FinishKind, finishParameters } from '../../../core/finishes';
import { Places } from '../places';
import { Blur, Passes, Targets } from '../passes';
import { FinishWork, type Bench } from './finish';

/** A device that does the arithmetic of a trail's pass for one pixel, half covered by a figure: a soft edge. */
class OnePixel {
  readonly value = new Map<Texture, number>();
  #target: WebGLRenderTarget | null = null;
  setRenderTarget(t: WebGLRenderTarget | null): void {
    this.#target = t;
  }
  render(scene: Scene): void {
    const { uniforms: u, fragmentShader } = (scene.children[0] as Mesh).material as RawShaderMaterial,
      of = (name: string): number => this.value.get(u[name]?.value as Texture) ?? 0;
    const now = 0.5,
      alpha = 0.5,
      isTrail = fragmentShader.includes('pick(before');
    this.value.set(
      this.#target!.texture,
      isTrail
        ? u.has!.value < 0.5
          ? now
          : now + (1 - alpha) * of('before') * 0.1 ** (u.dt!.value / u.p_last!.value)
        : of('other'),
    );
  }
}

function places(
  kind: FinishKind,
  id = 'f',
): { at: Places; values: Float32Array; set(parameter: string, v: number): void } {
  const map: Record<string, number> = {};
  let n = 0;
  for (const p of finishParameters(kind)) {
    map[`${id}/${p.id}`] = n;
    n += p.kind === 'colour' ? 3 : 1;
    if (p.kind === 'number' && p.wrap) map[`${id}/${p.id}:sum`] = n++;
  }
  const values = new Float32Array(n);
  for (const p of finishParameters(kind)) if (p.kind === 'number') values[map[`${id}/${p.id}`]!] = p.rest;
  return {
    at: new Places(id, { parameters: map, vectors: {} }),
    values,
    set: (parameter, v) => {
      values[map[`${id}/${parameter}`]!] = v;
    },
  };
}

function workbench(values: Float32Array): { bench: Bench; device: OnePixel } {
  const device = new OnePixel(),
    targets = new Targets();
  targets.size(64, 36);
  return {
    device,
    bench: {
      renderer: device as unknown as WebGLRenderer,
      passes: new Passes(),
      targets,
      blur: new Blur(),
      values,
      time: 0,
      dt: 0,
      pictureOf: () => null,
      whole: false,
    },
  };
}

describe('trails', () => {
  const form: FinishForm = { kind: 'trails' };
  const begin = (): {
    step(dt: number): number;
    work: FinishWork;
    set(parameter: string, v: number): void;
    bench: Bench;
  } => {
    const { at, values, set } = places('trails');
    set('last', 1);
    set('mix', 100);
    const { bench, device } = workbench(values),
      work = new FinishWork({ id: 'f', name: 'f', form, on: 'picture', off: false, rest: {} }, at),
      source = {} as Texture;
    return {
      work,
      set,
      bench,
      step: (dt) => {
        bench.dt = dt;
        const out = device.value.get(work.run(source, bench))!;
        bench.targets.back();
        return out;
      },
    };
  };
  it('fade by time, whatever the pace', () => {
    const { step } = begin();
    expect(step(0.05)).toBe(0.5);
    // A half-covered pixel over itself, 0.05 s older: 0.5 + 0.5 · 0.5 · 0.1^0.05.
    expect(step(0.05)).toBeCloseTo(0.5 + 0.25 * 0.1 ** 0.05, 6);
  });
  it('stay as they are while the picture stands still, soft edges too, and go on from there', () => {
    const held = begin(),
      free = begin();
    for (const t of [held, free]) for (let i = 0; i < 5; i++) t.step(0.05);
    const before = held.step(0),
      again = [1, 2, 3, 4, 5, 6].map(() => held.step(0));
    expect(before).toBeLessThan(0.95);
    for (const x of again) expect(x).toBe(before);
    expect(held.step(0.05)).toBeCloseTo(free.step(0.05), 6);
  });
  it('stay as they are when the picture stands still from its first drawing on', () => {
    const { step } = begin();
    expect([step(0), step(0), step(0)]).toEqual([0.5, 0.5, 0.5]);
  });
  it('are cleared by their key, also while the picture stands still', () => {
    const { step, set } = begin();
    for (let i = 0; i < 5; i++) step(0.05);
    set('clear:sum', 1);
    expect([step(0), step(0)]).toEqual([0.5, 0.5]);
  });
  it('begin anew after they were out of use', () => {
    const { step, set, work, bench } = begin();
    for (let i = 0; i < 5; i++) step(0.05);
    set('mix', 0);
    expect(work.idle(bench.values)).toBe(true);
    set('mix', 100);
    expect(work.idle(bench.values)).toBe(false);
    expect(step(0.05)).toBe(0.5);
  });
  it('survive another size of the picture', () => {
    const { step, bench } = begin();
    for (let i = 0; i < 40; i++) step(0.01);
    const before = step(0.01);
    bench.targets.size(32, 18);
    expect(step(0.01)).toBeCloseTo(before, 3);
    expect(step(0)).toBeGreaterThan(0.6);
  });
});

describe('every kind of finish', () => {
  it.each(FINISH_KINDS)(
    '%s leaves a picture that it can be given again, and gives back what it was lent',
    (kind) => {
      const form = (
        {
          trails: { kind },
          mirror: { kind, way: 'left onto right' },
          shove: { kind, by: null },
          mask: { kind, by: null, inverted: false },
        } as Partial<Record<FinishKind, unknown>>
      )[kind] ?? { kind };
      const { at, values } = places(kind),
        { bench, device } = workbench(values),
        work = new FinishWork(
          { id: 'f', name: 'f', form: form as FinishForm, on: 'picture', off: false, rest: {} },
          at,
        ),
        source = {} as Texture;
      for (let i = 0; i < 30; i++) {
        bench.dt = 0.02;
        const out = work.run(source, bench);
        // A mask of nothing lets everything through.
        expect(out === source).toBe(kind === 'mask');
        bench.targets.back();
      }
      // However often it ran, no more targets were made than one frame needs.
      expect(new Set(device.value.keys()).size).toBeLessThanOrEqual(8);
      work.dispose();
    },
  );
});
