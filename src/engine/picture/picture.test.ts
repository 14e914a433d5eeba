import { describe, expect, it } from '@jest/globals';
import {
  Box3,
  BoxGeometry,
  Mesh,
  Vector3,
  type InstancedBufferGeometry,
  type InstancedMesh,
  type ShaderMaterial,
} from 'three';
import { bareStage, FERRY_FIGURES, ferryShow } from '../../core/ferry';
import {
  PICTURE_SIZE,
  figureBox,
  type FigureForm,
  figureParameters,
  PRINT_FORMS,
  WAVE_WRAP,
} from '../../core/figures';
import { parameterSize, toLinear } from '../../core/parameters';
import { seeded } from '../../core/random';
import { type Figure, newFigure, restOf, thingsOf } from '../../core/show';
import { cut, sheet } from './cut';
import { disc } from './outline';
import { CopiesFigure } from './figures/copies';
import { DialFigure } from './figures/dial';
import { type Drawn } from './figures/drawn';
import { Places } from './places';
import { chance, EmitterFigure, gone } from './figures/emitter';
import { layersOf } from './figures/forms';
import { anchored, withEdges } from './figures/solid';
import { LanternsFigure } from './figures/lanterns';
import { litSegments, MeterFigure } from './figures/meter';
import { PrintFigure } from './figures/print';
import { StarsFigure } from './figures/stars';
import { WavesFigure } from './figures/waves';
import { Entries, type Stage } from './entries';
import { PictureMedia } from './media';
import { makeSurroundings } from './shade';

const show = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
/** A frame of the resting show, and where its numbers stand. */
function resting(): {
  values: Float32Array;
  places: Record<string, number>;
  set(key: string, x: number): void;
} {
  const places: Record<string, number> = {};
  const numbers: number[] = [];
  for (const thing of thingsOf(show))
    for (const p of thing.parameters) {
      places[`${thing.id}/${p.id}`] = numbers.length;
      const rest = restOf(thing, p),
        out = [0, 0, 0];
      if (typeof rest === 'string') toLinear(rest, out);
      else out[0] = rest;
      numbers.push(...out.slice(0, parameterSize(p)));
      if (p.kind === 'number' && p.wrap) {
        places[`${thing.id}/${p.id}:sum`] = numbers.length;
        numbers.push(0);
      }
    }
  const values = Float32Array.from(numbers);
  return {
    values,
    places,
    set: (key, x) => {
      values[places[key]!] = x;
    },
  };
}
const figure = (id: string): Figure => FERRY_FIGURES.find((f) => f.id === id)!;
function extent(d: Drawn, values: Float32Array): Box3 {
  d.update(values, 0);
  d.object.updateMatrixWorld(true);
  return new Box3().setFromObject(d.object);
}

describe('cut edges', () => {
  it('stray a little, the same way every time', () => {
    const square: [number, number][] = [
      [0, 0],
      [100, 0],
      [100, 100],
      [0, 100],
    ];
    const once = cut(square, seeded(3)),
      again = cut(square, seeded(3));
    expect(again).toEqual(once);
    expect(once.length).toBe(16);
    for (const [x, y] of once) {
      expect(Math.min(Math.abs(x), Math.abs(x - 100), Math.abs(y), Math.abs(y - 100))).toBeLessThanOrEqual(
        1.5,
      );
      expect(x).toBeGreaterThanOrEqual(-1.5);
    }
  });
  it('every printed form becomes triangles', () => {
    for (const form of PRINT_FORMS)
      layersOf(form).forEach((l, i) => {
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
    const ferry = new PrintFigure(
      'ferry',
      figure('ferry'),
      new Places('ferry', { parameters: places, vectors: {} }),
    );
    const still = extent(ferry, values).clone();
    const anchor = figure('ferry').at;
    set('ferry/grow', 1.5);
    const grown = extent(ferry, values).clone();
    expect(grown.max.y - anchor.y).toBeCloseTo(1.5 * (still.max.y - anchor.y), 3);
    expect(grown.max.x).toBeCloseTo(still.max.x, 5);
    set('ferry/grow', 1);
    set('ferry/height', 18);
    set('ferry/across', -7);
    const moved = extent(ferry, values).clone();
    expect(moved.min.y - still.min.y).toBeCloseTo(18, 4);
    expect(moved.min.x - still.min.x).toBeCloseTo(-7, 4);
    set('ferry/height', 0);
    set('ferry/across', 0);
    set('ferry/tilt', 180);
    const turned = extent(ferry, values);
    expect(turned.min.y - anchor.y).toBeCloseTo(-(still.max.y - anchor.y), 2);
    ferry.dispose();
  });
});

describe('points for copies', () => {
  it('lie on the edges of a printed shape, in reach of each other', () => {
    const { places } = resting(),
      block = new PrintFigure(
        'block',
        figure('ferry'),
        new Places('ferry', { parameters: places, vectors: {} }),
      ),
      p = block.points();
    // A block of 120 by 120 on its foot: every point on its rim.
    expect(p.length / 2).toBeGreaterThan(30);
    for (let i = 0; i < p.length; i += 2)
      expect(
        Math.min(Math.abs(Math.abs(p[i]!) - 60), Math.abs(p[i + 1]!), Math.abs(p[i + 1]! - 120)),
      ).toBeLessThan(1e-3);
    for (let i = 2; i < p.length; i += 2)
      expect(Math.hypot(p[i]! - p[i - 2]!, p[i + 1]! - p[i - 1]!)).toBeLessThan(14);
    block.dispose();
  });
});

describe('copies', () => {
  it.each([
    [1, 400],
    [0.5, 200],
    [0.01, 150],
  ])('thinned to a share of %s, %i of the same are drawn, on the same spots', (share, drawn) => {
    const form: FigureForm = {
        kind: 'copies',
        shape: 'disc',
        count: 400,
        along: 'points',
        of: 'other',
        fromMiddle: false,
      },
      places: Record<string, number> = {},
      numbers: number[] = [];
    for (const p of figureParameters('copies')) {
      places[`x/${p.id}`] = numbers.length;
      numbers.push(...(typeof p.rest === 'string' ? [1, 1, 1] : [p.rest]));
    }
    const spots = Float32Array.from({ length: 800 }, (_, i) => i),
      around = makeSurroundings(),
      media = new PictureMedia(
        () => undefined,
        () => undefined,
      );
    const copies = new CopiesFigure(
      form,
      newFigure('x', 'x', form, { x: 0, y: 0 }),
      new Places('x', { parameters: places, vectors: {} }),
      { around, media, size: PICTURE_SIZE, pointsOf: (id) => (id === 'other' ? spots : null) },
    );
    around.counts.value = 1;
    copies.update(Float32Array.from(numbers), 0);
    around.counts.value = share;
    copies.update(Float32Array.from(numbers), 0);
    const { geometry } = copies.object.children[0] as Mesh<InstancedBufferGeometry>,
      spot = geometry.getAttribute('spot');
    expect(geometry.instanceCount).toBe(drawn);
    // First and last stay; between them each stands on a spot of its own, one after the other.
    const used = Array.from({ length: drawn }, (_, i) => spot.getX(i) / 2);
    expect([used[0], used.at(-1)]).toEqual([0, 399]);
    for (let i = 1; i < drawn; i++) {
      expect(Number.isInteger(used[i]!)).toBe(true);
      expect(used[i]! - used[i - 1]!).toBeGreaterThanOrEqual(1);
      expect(used[i]! - used[i - 1]!).toBeLessThanOrEqual(Math.ceil(399 / (drawn - 1)));
      expect(spot.getY(i)).toBe(used[i]! * 2 + 1);
    }
    copies.dispose();
  });
});

describe('particles', () => {
  it('are born by the conductor’s sum, each with a fate that follows from its number alone, and their places are used again', () => {
    const form: FigureForm = { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 3000 };
    const make = (): { emitter: EmitterFigure; values: Float32Array; set(p: string, x: number): void } => {
      const places: Record<string, number> = {},
        numbers: number[] = [];
      for (const p of figureParameters('emitter')) {
        places[`x/${p.id}`] = numbers.length;
        const out = [0, 0, 0];
        if (typeof p.rest === 'string') toLinear(p.rest, out);
        else out[0] = p.rest;
        numbers.push(...out.slice(0, parameterSize(p)));
        if (p.kind === 'number' && p.wrap) {
          places[`x/${p.id}:sum`] = numbers.length;
          numbers.push(0);
        }
      }
      const values = Float32Array.from(numbers),
        media = new PictureMedia(
          () => undefined,
          () => undefined,
        );
      return {
        emitter: new EmitterFigure(
          form,
          newFigure('x', 'x', form, { x: 0, y: 0 }),
          new Places('x', { parameters: places, vectors: {} }),
          {
            around: makeSurroundings(),
            media,
            size: PICTURE_SIZE,
            pointsOf: () => null,
          },
        ),
        values,
        set: (p, x) => {
          values[places[`x/${p}`]!] = x;
        },
      };
    };
    const born = (e: EmitterFigure): Float32Array =>
      (e.object.children[0] as Mesh).geometry.attributes.going!.array.slice(0, e.used * 4) as Float32Array;
    // Two screens, one that draws five times as often.
    const often = make(),
      seldom = make();
    for (const x of [often, seldom]) {
      x.set('life', 2);
      x.emitter.update(x.values, 0);
    }
    for (let k = 1; k <= 50; k++) {
      often.set('rate:sum', k * 2);
      often.emitter.update(often.values, k / 50);
    }
    for (let k = 1; k <= 10; k++) {
      seldom.set('rate:sum', k * 10);
      seldom.emitter.update(seldom.values, k / 10);
    }
    expect(often.emitter.used).toBe(100);
    expect(born(seldom.emitter)).toEqual(born(often.emitter));
    // A minute at 100 a second, each living two seconds on the mean: what is in use stays near what is alive.
    for (let k = 11; k <= 600; k++) {
      seldom.set('rate:sum', k * 10);
      seldom.emitter.update(seldom.values, k / 10);
    }
    expect(seldom.emitter.used).toBeLessThanOrEqual(512);
    seldom.set('burst:sum', 400);
    seldom.emitter.update(seldom.values, 60.1);
    expect(seldom.emitter.used).toBeGreaterThan(400);
    seldom.emitter.update(seldom.values, 70);
    expect(seldom.emitter.used).toBe(0);
    for (const x of [often, seldom]) x.emitter.dispose();
  });
  it('a sum that started over is still a way forward', () => {
    expect([gone(10, 25, 100), gone(95, 5, 100), gone(30, 30, 100)]).toEqual([15, 10, 0]);
    const seen = new Set(Array.from({ length: 1000 }, (_, n) => chance(n, 1)));
    expect(seen.size).toBeGreaterThan(990);
    for (const x of seen) expect(x >= 0 && x < 1).toBe(true);
    const mean = [...seen].reduce((a, x) => a + x, 0) / seen.size;
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.05);
  });
});

describe('edges of a solid', () => {
  it('a box has its twelve edges and no diagonals; a wire of it has the lines between its squares', () => {
    const drawn = (wire: boolean): number => {
      const e = withEdges(new BoxGeometry(2, 2, 2, 2, 2, 2), wire).attributes.edge!.array;
      let n = 0;
      for (let t = 0; t < e.length; t += 9)
        for (let k = 0; k < 3; k++) if (e[t + k]! + e[t + 3 + k]! + e[t + 6 + k]! < 2) n++;
      return n;
    };
    // 48 triangles. Outlined: 24 outer pieces, each on two triangles. Wire: every triangle but for its diagonal, two sides each.
    expect(drawn(false)).toBe(48);
    expect(drawn(true)).toBe(96);
  });
  it('its anchor stays where it is', () => {
    for (const [anchor, foot] of [
      ['foot', 0],
      ['middle', -1],
      ['top', -2],
    ] as const) {
      const g = new BoxGeometry(2, 2, 2),
        a = anchored(g, anchor);
      expect([a.foot, a.span]).toEqual([foot, 2]);
    }
  });
});

describe('lanterns and stars', () => {
  it('a lantern swings on its hook, and its rays come out with its glow', () => {
    const { values, places, set } = resting();
    const lanterns = new LanternsFigure(
      3,
      100,
      figure('lanterns'),
      new Places('lanterns', { parameters: places, vectors: {} }),
    );
    const [hooks, rays, core] = lanterns.object.children as InstancedMesh[];
    const at = (m: InstancedMesh, i: number): Vector3 =>
      new Vector3(m.instanceMatrix.array[i * 16 + 12], m.instanceMatrix.array[i * 16 + 13], 0);
    lanterns.update(values);
    const hook = at(hooks!, 0),
      rest = at(core!, 0),
      small = rays!.instanceMatrix.array[0]!;
    set('lanterns/sway', 30);
    set('lanterns/glow', 100);
    lanterns.update(values);
    expect(at(hooks!, 0)).toEqual(hook);
    expect(at(core!, 0).distanceTo(hook)).toBeCloseTo(rest.distanceTo(hook), 4);
    expect(at(core!, 0).x).not.toBeCloseTo(rest.x, 1);
    expect(rays!.instanceMatrix.array[0]!).toBeGreaterThan(small);
    lanterns.dispose();
  });
  it('stars keep their places and grow where they are', () => {
    const { values, places, set } = resting();
    const stars = new StarsFigure(
      5,
      figure('stars'),
      new Places('stars', { parameters: places, vectors: {} }),
      PICTURE_SIZE.width,
    );
    const mesh = stars.object.children[0] as InstancedMesh;
    stars.update(values);
    const before = [...mesh.instanceMatrix.array];
    set('stars/size', 2);
    stars.update(values);
    const after = mesh.instanceMatrix.array;
    for (let i = 0; i < 5; i++) {
      expect(after[i * 16 + 12]).toBe(before[i * 16 + 12]);
      expect(after[i * 16]!).toBeCloseTo(2 * before[i * 16]!, 5);
    }
    stars.dispose();
  });
});

describe('waves', () => {
  it('follow the way that the conductor summed, and every wave length divides the length at which that starts over', () => {
    const { values, places, set } = resting();
    const waves = new WavesFigure(
      6,
      figure('river'),
      new Places('river', { parameters: places, vectors: {} }),
      PICTURE_SIZE.width,
    );
    set('river/drift:sum', 321);
    set('river/swell', 40);
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
  function alone(
    form: FigureForm,
    make: (f: Figure, p: Places) => Drawn,
  ): { drawn: Drawn; values: Float32Array; set(parameter: string, x: number): void } {
    const places: Record<string, number> = {},
      numbers: number[] = [];
    for (const p of figureParameters(form.kind)) {
      const out = [0, 0, 0];
      places[`x/${p.id}`] = numbers.length;
      if (typeof p.rest === 'string') toLinear(p.rest, out);
      else out[0] = p.rest;
      numbers.push(...out.slice(0, parameterSize(p)));
    }
    const values = Float32Array.from(numbers);
    return {
      drawn: make(
        {
          id: 'x',
          name: 'x',
          form,
          at: { x: 300, y: 200 },
          hidden: false,
          locked: false,
          group: null,
          blend: 'over',
          twin: null,
          rest: {},
        },
        new Places('x', { parameters: places, vectors: {} }),
      ),
      values,
      set: (parameter, x) => {
        values[places[`x/${parameter}`]!] = x;
      },
    };
  }
  it('a needle points from the first mark over the top to the last, and turns about the middle alone', () => {
    const { drawn, values, set } = alone({ kind: 'dial', marks: 11 }, (f, p) => new DialFigure(11, f, p));
    const needle = drawn.object.children[5] as Mesh;
    for (const [reading, degrees] of [
      [0, 210],
      [50, 90],
      [100, -30],
    ] as const) {
      set('reading', reading);
      drawn.update(values, 0);
      expect(Math.cos(needle.rotation.z - (degrees * Math.PI) / 180)).toBeCloseTo(1, 9);
      needle.geometry.computeBoundingBox();
      // Its tip is far out on that side.
      const tip = new Vector3(needle.geometry.boundingBox!.max.x, 0, 0).applyMatrix4(
        needle.matrix.makeRotationZ(needle.rotation.z),
      );
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
    expect([-5, 0, 9.9, 10, 19.99, 55, 99.9, 100, 120].map((x) => litSegments(x, 10))).toEqual([
      0, 0, 0, 1, 1, 5, 9, 10, 10,
    ]);
    const { drawn, values, set } = alone(
      { kind: 'meter', segments: 10, upright: true },
      (f, p) => new MeterFigure(10, true, f, p),
    );
    const mesh = drawn.object.children[1] as InstancedMesh;
    const colours = (level: number): string[] => {
      set('level', level);
      drawn.update(values, 0);
      return Array.from({ length: 10 }, (_, i) =>
        [...mesh.instanceColor!.array.slice(i * 3, i * 3 + 3)].map((x) => x.toFixed(3)).join(),
      );
    };
    const dark = colours(0)[0]!,
      half = colours(50),
      full = colours(100);
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
      const { drawn, values } = alone(
        { kind: 'meter', segments: 6, upright },
        (f, p) => new MeterFigure(6, upright, f, p),
      );
      drawn.update(values, 0);
      const b = figureBox({ kind: 'meter', segments: 6, upright }),
        e = new Box3().setFromObject(drawn.object);
      expect(Math.abs(e.max.x - e.min.x - b.width)).toBeLessThan(12);
      expect(Math.abs(e.max.y - e.min.y - b.height)).toBeLessThan(12);
      expect(Math.abs(upright ? e.min.y - 200 : e.min.x - 300)).toBeLessThan(6);
      drawn.dispose();
    }
  });
});

describe('the scene', () => {
  it('keeps what did not change its form, drops what is gone, and orders by the list', () => {
    const { places } = resting();
    const entries = new Entries({
      around: makeSurroundings(),
      media: new PictureMedia(
        () => undefined,
        () => undefined,
      ),
    });
    const stage: Stage = { ...bareStage(), figures: FERRY_FIGURES },
      map = { parameters: places, vectors: {} };
    entries.set(stage, map);
    for (const l of entries.leaves) l.drawn!.object.traverse((o) => expect(o.frustumCulled).toBe(false));
    const before = new Map(entries.leaves.map((l) => [l.id, l.drawn]));
    expect(entries.leaves.map((l) => l.id)).toEqual(FERRY_FIGURES.map((f) => f.id));
    const order = (id: string): number => entries.leaves.find((l) => l.id === id)!.drawn!.object.renderOrder;
    expect(order('ferry')).toBeGreaterThan(order('hills'));
    entries.set(
      {
        ...stage,
        figures: [...FERRY_FIGURES]
          .reverse()
          .filter((f) => f.id !== 'moon')
          .map((f) => ({ ...f, hidden: f.id === 'stars' })),
      },
      map,
    );
    expect(entries.leaves.map((l) => l.id)).toEqual(['river', 'lanterns', 'ferry', 'hills', 'night']);
    expect(order('ferry')).toBeLessThan(order('hills'));
    for (const l of entries.leaves) expect(l.drawn).toBe(before.get(l.id));
    entries.dispose();
  });
  it('every kind of figure has its numbers in a frame', () => {
    const { places } = resting();
    for (const f of FERRY_FIGURES)
      for (const p of figureParameters(f.form.kind))
        expect(new Places(f.id, { parameters: places, vectors: {} }).of(p.id)).toBeGreaterThanOrEqual(0);
    expect(new Places('ferry', { parameters: places, vectors: {} }).of('nothing')).toBe(-1);
  });
});
