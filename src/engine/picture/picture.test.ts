import { describe, expect, it } from '@jest/globals';
import { Box3, Mesh, Vector3, type InstancedMesh, type ShaderMaterial } from 'three';
import { FERRY_FIGURES } from '../../core/ferry/show';
import { figureBox, figureParameters, PRINT_FORMS, WAVE_WRAP, type FigureForm } from '../../core/figures/kinds';
import { parameterSize } from '../../core/parameters/description';
import { toLinear } from '../../core/parameters/colour';
import { seeded } from '../../core/random';
import { restOf, thingsOf } from '../../core/show/things';
import { ferryShow } from '../../core/ferry/show';
import type { Figure } from '../../core/show/types';
import { cut, disc, sheet } from './cut';
import { DialFigure } from './figures/dial';
import { Places, type Drawn } from './figures/drawn';
import { layersOf } from './figures/forms';
import { LanternsFigure } from './figures/lanterns';
import { litSegments, MeterFigure } from './figures/meter';
import { PrintFigure } from './figures/print';
import { StarsFigure } from './figures/stars';
import { WavesFigure } from './figures/waves';
import { PictureScene } from './scene';

const show = ferryShow({ stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' }, badge: 'a', tune: 'a' });
/** A frame of the resting show, and where its numbers stand. */
function resting(): { values: Float32Array; places: Record<string, number>; set(key: string, x: number): void } {
  const places: Record<string, number> = {};
  const numbers: number[] = [];
  for (const thing of thingsOf(show)) for (const p of thing.parameters) {
    places[`${thing.id}/${p.id}`] = numbers.length;
    const rest = restOf(thing, p), out = [0, 0, 0];
    if (typeof rest === 'string') toLinear(rest, out); else out[0] = rest;
    numbers.push(...out.slice(0, parameterSize(p)));
    if (p.kind === 'number' && p.wrap) { places[`${thing.id}/${p.id}:sum`] = numbers.length; numbers.push(0); }
  }
  const values = Float32Array.from(numbers);
  return { values, places, set: (key, x) => { values[places[key]!] = x; } };
}
const figure = (id: string): Figure => FERRY_FIGURES.find((f) => f.id === id)!;
function extent(d: Drawn, values: Float32Array): Box3 {
  d.update(values, 0);
  d.object.updateMatrixWorld(true);
  return new Box3().setFromObject(d.object);
}

describe('cut edges', () => {
  it('stray a little, the same way every time', () => {
    const square: [number, number][] = [[0, 0], [100, 0], [100, 100], [0, 100]];
    const once = cut(square, seeded(3)), again = cut(square, seeded(3));
    expect(again).toEqual(once);
    expect(once.length).toBe(16);
    for (const [x, y] of once) { expect(Math.min(Math.abs(x), Math.abs(x - 100), Math.abs(y), Math.abs(y - 100))).toBeLessThanOrEqual(1.5); expect(x).toBeGreaterThanOrEqual(-1.5); }
  });
  it('every printed form becomes triangles', () => {
    for (const form of PRINT_FORMS) layersOf(form).forEach((l, i) => {
      const { index, attributes } = sheet(l.outlines, i, l.stray, l.holes);
      expect(index!.count).toBeGreaterThan(0);
      expect([...attributes.position!.array].every(Number.isFinite)).toBe(true);
    });
    expect(disc(0, 0, 10)).toHaveLength(28);
  });
});

describe('a printed shape', () => {
  it('grows from its anchor upward only, moves in picture pixels, and turns about its anchor', () => {
    const { values, places, set } = resting();
    const ferry = new PrintFigure('ferry', figure('ferry'), new Places('ferry', places));
    const still = extent(ferry, values).clone();
    const anchor = figure('ferry').at;
    set('ferry/grow', 1.5);
    const grown = extent(ferry, values).clone();
    expect(grown.max.y - anchor.y).toBeCloseTo(1.5 * (still.max.y - anchor.y), 3);
    expect(grown.max.x).toBeCloseTo(still.max.x, 5);
    set('ferry/grow', 1); set('ferry/height', 18); set('ferry/across', -7);
    const moved = extent(ferry, values).clone();
    expect(moved.min.y - still.min.y).toBeCloseTo(18, 4);
    expect(moved.min.x - still.min.x).toBeCloseTo(-7, 4);
    set('ferry/height', 0); set('ferry/across', 0); set('ferry/tilt', 180);
    const turned = extent(ferry, values);
    expect(turned.min.y - anchor.y).toBeCloseTo(-(still.max.y - anchor.y), 2);
    ferry.dispose();
  });
});

describe('lanterns and stars', () => {
  it('a lantern swings on its hook, and its rays come out with its glow', () => {
    const { values, places, set } = resting();
    const lanterns = new LanternsFigure(3, 100, figure('lanterns'), new Places('lanterns', places));
    const [hooks, rays, core] = lanterns.object.children as InstancedMesh[];
    const at = (m: InstancedMesh, i: number): Vector3 => new Vector3(m.instanceMatrix.array[i * 16 + 12], m.instanceMatrix.array[i * 16 + 13], 0);
    lanterns.update(values);
    const hook = at(hooks!, 0), rest = at(core!, 0), small = rays!.instanceMatrix.array[0]!;
    set('lanterns/sway', 30); set('lanterns/glow', 100);
    lanterns.update(values);
    expect(at(hooks!, 0)).toEqual(hook);
    expect(at(core!, 0).distanceTo(hook)).toBeCloseTo(rest.distanceTo(hook), 4);
    expect(at(core!, 0).x).not.toBeCloseTo(rest.x, 1);
    expect(rays!.instanceMatrix.array[0]!).toBeGreaterThan(small);
    lanterns.dispose();
  });
  it('stars keep their places and grow where they are', () => {
    const { values, places, set } = resting();
    const stars = new StarsFigure(5, figure('stars'), new Places('stars', places));
    const mesh = stars.object.children[0] as InstancedMesh;
    stars.update(values);
    const before = [...mesh.instanceMatrix.array];
    set('stars/size', 2);
    stars.update(values);
    const after = mesh.instanceMatrix.array;
    for (let i = 0; i < 5; i++) { expect(after[i * 16 + 12]).toBe(before[i * 16 + 12]); expect(after[i * 16]!).toBeCloseTo(2 * before[i * 16]!, 5); }
    stars.dispose();
  });
});

describe('waves', () => {
  it('follow the way that the conductor summed, and every wave length divides the length at which that starts over', () => {
    const { values, places, set } = resting();
    const waves = new WavesFigure(6, figure('river'), new Places('river', places));
    set('river/drift:sum', 321); set('river/swell', 40);
    waves.update(values);
    const mesh = waves.object.children[0] as Mesh;
    const { uniforms } = mesh.material as ShaderMaterial;
    expect([uniforms.way!.value, uniforms.swell!.value]).toEqual([321, 40]);
    const wave = mesh.geometry.attributes.wave!;
    for (let i = 0; i < wave.count; i++) {
      // Each row takes its own share of the way; its long wave comes twice in a period of the folded one.
      expect(((WAVE_WRAP * wave.getW(i)) / (2 * wave.getX(i))) % 1).toBeCloseTo(0, 6);
      expect(((WAVE_WRAP * wave.getW(i)) / wave.getY(i)) % 1).toBeCloseTo(0, 6);
    }
    waves.dispose();
  });
});

describe('instruments', () => {
  /** A figure by itself, at its parameters' rest. */
  function alone(form: FigureForm, make: (f: Figure, p: Places) => Drawn): { drawn: Drawn; values: Float32Array; set(parameter: string, x: number): void } {
    const places: Record<string, number> = {}, numbers: number[] = [];
    for (const p of figureParameters(form.kind)) {
      const out = [0, 0, 0];
      places[`x/${p.id}`] = numbers.length;
      if (typeof p.rest === 'string') toLinear(p.rest, out); else out[0] = p.rest;
      numbers.push(...out.slice(0, parameterSize(p)));
    }
    const values = Float32Array.from(numbers);
    return { drawn: make({ id: 'x', name: 'x', form, at: { x: 300, y: 200 }, hidden: false, twin: null, rest: {} }, new Places('x', places)), values, set: (parameter, x) => { values[places[`x/${parameter}`]!] = x; } };
  }
  it('a needle points from the first mark over the top to the last, and turns about the middle alone', () => {
    const { drawn, values, set } = alone({ kind: 'dial', marks: 11 }, (f, p) => new DialFigure(11, f, p));
    const needle = drawn.object.children[5] as Mesh;
    for (const [reading, degrees] of [[0, 210], [50, 90], [100, -30]] as const) {
      set('reading', reading);
      drawn.update(values, 0);
      expect(Math.cos(needle.rotation.z - (degrees * Math.PI) / 180)).toBeCloseTo(1, 9);
      needle.geometry.computeBoundingBox();
      // Its tip is far out on that side.
      const tip = new Vector3(needle.geometry.boundingBox!.max.x, 0, 0).applyMatrix4(needle.matrix.makeRotationZ(needle.rotation.z));
      expect(tip.x).toBeCloseTo(0.74 * 110 * Math.cos((degrees * Math.PI) / 180), -0.5);
      expect(tip.y).toBeCloseTo(0.74 * 110 * Math.sin((degrees * Math.PI) / 180), -0.5);
    }
    const still = extent(drawn, values).clone();
    set('size', 2);
    const large = extent(drawn, values);
    expect(large.max.x - 300).toBeCloseTo(2 * (still.max.x - 300), 3);
    drawn.dispose();
  });
  it('segments light whole, from one ink to the other', () => {
    expect([-5, 0, 9.9, 10, 19.99, 55, 99.9, 100, 120].map((x) => litSegments(x, 10))).toEqual([0, 0, 0, 1, 1, 5, 9, 10, 10]);
    const { drawn, values, set } = alone({ kind: 'meter', segments: 10, upright: true }, (f, p) => new MeterFigure(10, true, f, p));
    const mesh = drawn.object.children[1] as InstancedMesh;
    const colours = (level: number): string[] => { set('level', level); drawn.update(values, 0); return Array.from({ length: 10 }, (_, i) => [...mesh.instanceColor!.array.slice(i * 3, i * 3 + 3)].map((x) => x.toFixed(3)).join()); };
    const dark = colours(0)[0]!, half = colours(50), full = colours(100);
    expect(half.slice(5)).toEqual(Array(5).fill(dark));
    expect(half.slice(0, 5)).toEqual(full.slice(0, 5));
    expect(new Set(full).size).toBe(10);
    const out = [0, 0, 0];
    toLinear('#e8572a', out);
    expect(full[9]).toBe(out.map((x) => Math.fround(x).toFixed(3)).join());
    drawn.dispose();
  });
  it('a meter grows upward from its foot, or to the right', () => {
    for (const upright of [true, false]) {
      const { drawn, values } = alone({ kind: 'meter', segments: 6, upright }, (f, p) => new MeterFigure(6, upright, f, p));
      drawn.update(values, 0);
      const b = figureBox({ kind: 'meter', segments: 6, upright }), e = new Box3().setFromObject(drawn.object);
      expect(Math.abs(e.max.x - e.min.x - b.width)).toBeLessThan(12);
      expect(Math.abs(e.max.y - e.min.y - b.height)).toBeLessThan(12);
      expect(Math.abs((upright ? e.min.y - 200 : e.min.x - 300))).toBeLessThan(6);
      drawn.dispose();
    }
  });
});

describe('the scene', () => {
  it('keeps what did not change its form, drops what is gone, and orders by the list', () => {
    const { places } = resting();
    const scene = new PictureScene();
    scene.set(FERRY_FIGURES, places);
    expect(() => scene.set([...FERRY_FIGURES].reverse().filter((f) => f.id !== 'moon').map((f) => ({ ...f, hidden: f.id === 'stars' })), places)).not.toThrow();
    scene.dispose();
  });
  it('every kind of figure has its numbers in a frame', () => {
    const { places } = resting();
    for (const f of FERRY_FIGURES) for (const p of figureParameters(f.form.kind)) expect(new Places(f.id, places).of(p.id)).toBeGreaterThanOrEqual(0);
    expect(new Places('ferry', places).of('nothing')).toBe(-1);
  });
});
