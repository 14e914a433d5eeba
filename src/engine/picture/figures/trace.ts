import {
  BufferAttribute,
  DynamicDrawUsage,
  Group,
  InstancedBufferGeometry,
  InstancedInterleavedBuffer,
  InterleavedBufferAttribute,
  Mesh,
  type ShaderMaterial,
} from 'three';
import { rampInks, SUM_WRAP } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { Inks, RAMP } from '../ramp';
import { END, flat, uniform } from '../shade';
import type { Drawn, Workshop } from './drawn';
import type { Places } from '../places';

const POINTS = 2048;
const WIDE = 8;

/** One stretch between two points, drawn as a bar with round ends: however far apart the points are, nothing is left out between them. */
export const SEGMENT = /* glsl */ `
/* x along (0 to 1), y across (-1 to 1) of a stretch from a to b, with room for its round ends. */
vec2 along(vec2 a, vec2 b, float half_, vec2 corner, out vec2 local, out float long_) {
  vec2 d = b - a; long_ = length(d); d = long_ > 1e-4 ? d / long_ : vec2(1.0, 0.0);
  float x = mix(-half_, long_ + half_, corner.x), y = corner.y * half_;
  local = vec2(x, y);
  return a + d * x + vec2(-d.y, d.x) * y;
}`;
export const ROUND = /* glsl */ `
float inside(vec2 local, float long_, float half_, float perPixel) { float x = local.x < 0.0 ? -local.x : max(0.0, local.x - long_); return smoothstep(half_, half_ - perPixel * 1.2, length(vec2(x, local.y))); }`;

const VERTEX = /* glsl */ `
attribute vec4 a, b; attribute vec4 aMore, bMore;
uniform float now, last, run, perPixel, taper;
varying vec2 vLocal; varying float vLong, vHalf, vAge;
${SEGMENT}
float ageOf(float t) { return (now - t) / last; }
void main() {
  float ageA = ageOf(a.z), ageB = ageOf(b.z);
  /* A stretch that is not there, begins anew, or is over. */
  if (bMore.y < 0.5 || ageB >= 1.0 || ageA < 0.0) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
  float backA = run - a.w, backB = run - b.w; backA -= ${SUM_WRAP}.0 * floor(backA / ${SUM_WRAP}.0 + 0.5); backB -= ${SUM_WRAP}.0 * floor(backB / ${SUM_WRAP}.0 + 0.5);
  vAge = mix(ageA, ageB, position.x);
  vHalf = 0.5 * max(mix(bMore.x, bMore.x * (1.0 - clamp(vAge, 0.0, 1.0)), taper), perPixel);
  vec2 p = along(a.xy - vec2(backA, 0.0), b.xy - vec2(backB, 0.0), vHalf + perPixel, vec2(position.x, position.y), vLocal, vLong);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(p, 0.0, 1.0);
}`;
const FRAGMENT = /* glsl */ `
uniform float shown, perPixel; varying vec2 vLocal; varying float vLong, vHalf, vAge;
${RAMP}
${ROUND}
void main() {
  vec3 ink = inkAt(clamp(vAge, 0.0, 1.0)); float alpha = shown * inside(vLocal, vLong, vHalf, perPixel) * smoothstep(1.0, 0.9, vAge);
  if (alpha <= 0.003) discard;
  ${END}
}`;

/** A pen over moving paper. Points are kept as the pen passes them; between each two a whole stretch is drawn. */
export class TraceFigure implements Drawn {
  readonly object = new Group();
  readonly #data = new Float32Array((POINTS + 1) * WIDE);
  readonly #buffer: InstancedInterleavedBuffer;
  readonly #mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  readonly #inks = new Inks(rampInks('trace'));
  readonly #u;
  #base = { x: 0, y: 0 };
  #at: Record<string, number> = {};
  #next = 0;
  #count = 0;
  #time = NaN;
  #zero = 0;

  constructor(figure: Figure, places: Places, { around }: Workshop) {
    this.#u = {
      now: uniform(0),
      last: uniform(5),
      run: uniform(0),
      taper: uniform(0),
      shown: uniform(1),
      perPixel: around.perPixel,
      ...this.#inks.uniforms,
    };
    const g = new InstancedBufferGeometry();
    g.setAttribute(
      'position',
      new BufferAttribute(new Float32Array([0, -1, 0, 1, -1, 0, 1, 1, 0, 0, 1, 0]), 3),
    );
    g.setIndex([0, 1, 2, 0, 2, 3]);
    // Each stretch reads its own point and the next: two views of one buffer.
    this.#buffer = new InstancedInterleavedBuffer(this.#data, WIDE, 1);
    this.#buffer.setUsage(DynamicDrawUsage);
    g.setAttribute('a', new InterleavedBufferAttribute(this.#buffer, 4, 0));
    g.setAttribute('aMore', new InterleavedBufferAttribute(this.#buffer, 4, 4));
    g.setAttribute('b', new InterleavedBufferAttribute(this.#buffer, 4, WIDE));
    g.setAttribute('bMore', new InterleavedBufferAttribute(this.#buffer, 4, WIDE + 4));
    g.instanceCount = 0;
    this.#mesh = new Mesh(g, flat(this.#u, VERTEX, FRAGMENT));
    this.object.add(this.#mesh);
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    for (const p of ['height', 'across', 'penX', 'penY', 'run:sum', 'thick', 'last', 'taper', 'shown'])
      this.#at[p] = places.of(p);
    this.#inks.place(places, ramp);
  }
  /** How many points it has kept; for tests. */
  get kept(): number {
    return this.#count;
  }

  update(v: Float32Array, time: number): void {
    const at = this.#at,
      u = this.#u;
    this.object.position.set(this.#base.x + v[at.across!]!, this.#base.y + v[at.height!]!, 0);
    if (!(this.#time <= time)) {
      this.#count = this.#next = 0;
      this.#zero = time;
      this.#data.fill(0);
    }
    u.now.value = time - this.#zero;
    u.last.value = v[at.last!]!;
    u.run.value = v[at['run:sum']!]!;
    u.taper.value = v[at.taper!]! / 100;
    u.shown.value = v[at.shown!]! / 100;
    this.#inks.update(v);
    if (this.#time === time) return;
    this.#keep(v[at.penX!]!, v[at.penY!]!, time - this.#zero, v[at['run:sum']!]!, v[at.thick!]!);
    this.#time = time;
    this.#mesh.geometry.instanceCount = Math.min(this.#count, POINTS) - (this.#count > POINTS ? 0 : 1);
    if (this.#mesh.geometry.instanceCount < 0) this.#mesh.geometry.instanceCount = 0;
  }
  #keep(x: number, y: number, time: number, run: number, thick: number): void {
    const d = this.#data;
    let i = this.#next;
    if (i > POINTS) {
      // The row starts over with a copy of its last point, so that no stretch is missing there.
      for (let k = 0; k < WIDE; k++) d[k] = d[POINTS * WIDE + k]!;
      d[5] = 0;
      i = 1;
    }
    const at = i * WIDE;
    d[at] = x;
    d[at + 1] = y;
    d[at + 2] = time;
    d[at + 3] = run;
    d[at + 4] = thick;
    // The stretch to this point is there; the one beyond it, to the oldest, is not.
    d[at + 5] = this.#count > 0 ? 1 : 0;
    if (i < POINTS) d[at + WIDE + 5] = 0;
    this.#next = i + 1;
    this.#count++;
    this.#buffer.needsUpdate = true;
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
  }
}
