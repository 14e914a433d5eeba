import {
  BufferAttribute,
  Group,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  Mesh,
  type ShaderMaterial,
} from 'three';
import { type FigureForm, rampInks } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { Inks, RAMP } from '../ramp';
import { END, flat, RowTexture, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';
import { type Places } from '../places';
import { COPY_RADIUS, copyShape } from './shapes';

const ROWS = ['each', 'stretch', 'rise', 'twist', 'tint'] as const;
/** So many copies are always drawn. */
const FEW = 150;
const WAY = { line: 0, ring: 1, grid: 2, points: 3 } as const;
const VERTEX = /* glsl */ `
attribute vec2 spot;
uniform float count, length_, part, spread; uniform int way; uniform bool fromMiddle;
${RowTexture.shader(ROWS.length)}
varying float vTint;
void main() {
  /* Where a short budget thins them, some of the same are drawn, and none between them. */
  float i = floor(float(gl_InstanceID) * spread + 0.5), u = count > 1.0 ? i / (count - 1.0) : 0.5;
  float share = way == 1 ? i / count : u;
  float at = fromMiddle ? abs(2.0 * share - 1.0) : share;
  vec2 base, away = vec2(0.0, 1.0);
  if (way == 0) base = vec2((u - 0.5) * length_, 0.0);
  else if (way == 1) { float a = 1.5707963 - 6.2831853 * share; away = vec2(cos(a), sin(a)); base = away * length_ * 0.5; }
  else if (way == 2) { float columns = ceil(sqrt(count * 16.0 / 9.0)), lines = ceil(count / columns), c = mod(i, columns), l = floor(i / columns); base = vec2((c + 0.5) / columns - 0.5, (0.5 - (l + 0.5) / lines) * lines / columns) * length_; }
  else base = spot * length_ / 760.0;
  float there = step(i + 0.5, part * count + 1e-3);
  vec2 p = vec2(position.x, (position.y + ${COPY_RADIUS}.0) * row(1, at) - ${COPY_RADIUS}.0) * row(0, at) * there;
  float t = radians(row(3, at)), c = cos(t), s = sin(t);
  p = vec2(c * p.x - s * p.y, s * p.x + c * p.y);
  p = base + away * row(2, at) + vec2(away.y * p.x + away.x * p.y, -away.x * p.x + away.y * p.y);
  vTint = clamp(row(4, at) / 100.0, 0.0, 1.0);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(p, 0.0, 1.0);
}`;
const FRAGMENT = /* glsl */ `
uniform float shown; varying float vTint;
${RAMP}
void main() { vec3 ink = inkAt(vTint); float alpha = shown; ${END} }`;

/** Up to 2,000 of one small shape along a line, a ring, a grid or another figure's points, with rows of numbers laid over them. */
export class CopiesFigure implements Drawn {
  readonly object = new Group();
  readonly #form: Extract<FigureForm, { kind: 'copies' }>;
  readonly #shop: Workshop;
  readonly #rows = new RowTexture(ROWS);
  readonly #inks = new Inks(rampInks('copies'));
  readonly #mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  readonly #u;
  readonly #all: Float32Array;
  readonly #spots: InstancedBufferAttribute;
  /** For how many the spots stand there. */
  #laid = -1;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { length: -1, part: -1 };

  constructor(form: Extract<FigureForm, { kind: 'copies' }>, figure: Figure, places: Places, shop: Workshop) {
    this.#form = form;
    this.#shop = shop;
    this.#u = {
      count: uniform(form.count),
      length_: uniform(760),
      part: uniform(1),
      way: uniform(WAY[form.along]),
      fromMiddle: uniform(form.fromMiddle),
      shown: uniform(1),
      spread: uniform(1),
      ...this.#rows.uniforms,
      ...this.#inks.uniforms,
    };
    const shape = copyShape(form.shape),
      g = new InstancedBufferGeometry();
    g.setIndex(shape.index);
    g.setAttribute('position', shape.attributes.position as BufferAttribute);
    this.#all = new Float32Array(form.count * 2);
    this.#spots = new InstancedBufferAttribute(new Float32Array(form.count * 2), 2);
    g.setAttribute('spot', this.#spots);
    g.instanceCount = form.count;
    this.#mesh = new Mesh(g, flat(this.#u, VERTEX, FRAGMENT));
    this.object.add(this.#mesh);
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    this.#at = {
      length: places.of('length'),
      part: places.of('part'),
    };
    this.#inks.place(places, ramp);
    this.#rows.place(places);
    this.#setSpots();
  }
  #setSpots(): void {
    const { along, of, count } = this.#form;
    // One spot for each copy, whether it is used or not: an attribute that is shorter would cut the copies off.
    const spots = this.#all,
      points = along === 'points' && of !== null ? this.#shop.pointsOf(of) : null,
      n = (points?.length ?? 0) / 2;
    for (let i = 0; points && n > 0 && i < count; i++) {
      const from = count > n ? i % n : Math.floor((i * n) / count);
      spots[i * 2] = points[from * 2]!;
      spots[i * 2 + 1] = points[from * 2 + 1]!;
    }
    this.#laid = -1;
  }
  /** The spots of those that are drawn. Allocates nothing. */
  #lay(drawn: number, spread: number): void {
    const { array } = this.#spots;
    for (let i = 0; i < drawn; i++) {
      const from = Math.floor(i * spread + 0.5);
      array[i * 2] = this.#all[from * 2]!;
      array[i * 2 + 1] = this.#all[from * 2 + 1]!;
    }
    this.#spots.needsUpdate = true;
    this.#laid = drawn;
  }
  update(v: Float32Array, _time: number, vectors?: Float32Array): void {
    const u = this.#u,
      at = this.#at;
    take(this.object, this.#base, v, this.#stance);
    u.length_.value = v[at.length]!;
    u.part.value = v[at.part]! / 100;
    // A short budget thins a crowd evenly; a few are never made fewer.
    const { count, along } = this.#form,
      drawn = Math.min(count, Math.max(FEW, Math.ceil(count * this.#shop.around.counts.value)));
    u.spread.value = drawn > 1 ? (count - 1) / (drawn - 1) : 1;
    if (along === 'points' && drawn !== this.#laid) this.#lay(drawn, u.spread.value);
    this.#mesh.geometry.instanceCount = drawn;
    u.shown.value = v[this.#stance.shown]! / 100;
    this.#inks.update(v);
    this.#rows.update(v, vectors);
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
    this.#rows.dispose();
  }
}
