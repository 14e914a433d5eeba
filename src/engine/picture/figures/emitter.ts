import {
  BufferAttribute,
  DynamicDrawUsage,
  Group,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  Mesh,
  PlaneGeometry,
  Texture,
  type BufferGeometry,
  type ShaderMaterial,
} from 'three';
import { type FigureForm, rampInks, SUM_WRAP } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { Inks, RAMP } from '../ramp';
import { END, flat, NOISE, uniform } from '../shade';
import type { Drawn, Workshop } from './drawn';
import type { Places } from '../places';
import { COPY_RADIUS, copyShape } from './shapes';

/** Times are kept within this many seconds, so that they stay exact in the numbers of a graphics processor. */
const TIME_WRAP = 4096;
const LEAST_PLACES = 256;

const VERTEX = /* glsl */ `
attribute vec4 born, going, drawn; attribute vec2 turning;
uniform float now, end;
varying float vAge; varying vec2 vUv;
${NOISE}
void main() {
  float age = mod(now - born.x + ${TIME_WRAP}.0, ${TIME_WRAP}.0), life = going.w;
  float share = life > 0.0 ? age / life : 2.0;
  vAge = share; vUv = uv;
  if (share >= 1.0) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
  float t = radians(turning.x + turning.y * age), c = cos(t), s = sin(t), size = going.z * mix(1.0, end, share);
  vec2 at = born.yz + going.xy * age + 0.5 * drawn.xy * age * age;
  at += drawn.z * share * vec2(noise(vec3(at / 90.0, born.w + age)), noise(vec3(at / 90.0 + 40.0, born.w + age)));
  vec2 p = size * vec2(c * position.x - s * position.y, s * position.x + c * position.y);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(at + p, 0.0, 1.0);
}`;
const FRAGMENT = /* glsl */ `
uniform float shown; uniform bool pictured; uniform sampler2D map;
${RAMP}
varying float vAge; varying vec2 vUv;
void main() {
  vec3 ink = inkAt(vAge); float alpha = shown * smoothstep(1.0, 0.85, vAge);
  if (pictured) { vec4 p = texture2D(map, vUv); ink = p.rgb; alpha *= p.a; }
  ${END}
}`;

/** A number from a whole one, 0 ≤ x < 1: the same on every screen. */
export function chance(n: number, which: number): number {
  let v = (Math.imul(n | 0, 747796405) + Math.imul(which + 1, 2891336453 | 0)) | 0;
  v = Math.imul((v >>> ((v >>> 28) + 4)) ^ v, 277803737);
  return (((v >>> 22) ^ v) >>> 0) / 4294967296;
}

/** How far a sum that starts over has gone on. */
export function gone(before: number, now: number, wrap: number): number {
  const d = now - before;
  return d < -wrap / 2 ? d + wrap : d;
}

/**
 * Particles that are told once how they go, and then are moved by the graphics processor alone. How many were born by now is the
 * conductor's sum, so that every screen agrees; the rest of each one's fate follows from its number.
 */
export class EmitterFigure implements Drawn {
  readonly object = new Group();
  readonly #most: number;
  readonly #mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  readonly #born: InstancedBufferAttribute;
  readonly #going: InstancedBufferAttribute;
  readonly #drawn: InstancedBufferAttribute;
  readonly #turning: InstancedBufferAttribute;
  /** When each place becomes free, in seconds that the picture has lived. */
  readonly #until: Float64Array;
  readonly #around: Workshop['around'];
  readonly #inks = new Inks(rampInks('emitter'));
  readonly #u = {
    now: uniform(0),
    end: uniform(0.2),
    shown: uniform(1),
    pictured: uniform(false),
    map: uniform(new Texture()),
    ...this.#inks.uniforms,
  };
  #base = { x: 0, y: 0 };
  #at: Record<string, number> = {};
  #next = 0;
  #round = LEAST_PLACES;
  #used = 0;
  #sum = NaN;
  #bursts = NaN;
  #count = 0;
  #time = NaN;

  constructor(
    form: Extract<FigureForm, { kind: 'emitter' }>,
    figure: Figure,
    places: Places,
    { around, media }: Workshop,
  ) {
    this.#most = form.most;
    this.#around = around;
    const shape: BufferGeometry =
        form.shape === 'picture'
          ? new PlaneGeometry(COPY_RADIUS * 2, COPY_RADIUS * 2)
          : copyShape(form.shape),
      g = new InstancedBufferGeometry();
    g.setIndex(shape.index);
    g.setAttribute('position', shape.attributes.position as BufferAttribute);
    g.setAttribute('uv', shape.attributes.uv as BufferAttribute);
    const made = (name: string, size: number): InstancedBufferAttribute => {
      const a = new InstancedBufferAttribute(new Float32Array(form.most * size), size);
      a.setUsage(DynamicDrawUsage);
      g.setAttribute(name, a);
      return a;
    };
    this.#born = made('born', 4);
    this.#going = made('going', 4);
    this.#drawn = made('drawn', 4);
    this.#turning = made('turning', 2);
    this.#until = new Float64Array(form.most);
    g.instanceCount = 0;
    this.#mesh = new Mesh(g, flat(this.#u, VERTEX, FRAGMENT));
    this.object.add(this.#mesh);
    if (form.shape === 'picture' && form.media)
      media.image(form.media, (bitmap) => {
        this.#u.map.value.dispose();
        this.#u.map.value = bitmap;
        this.#u.pictured.value = true;
      });
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    for (const p of [
      'height',
      'across',
      'rate:sum',
      'burst:sum',
      'speed',
      'way',
      'spread',
      'mouth',
      'fall',
      'wind',
      'stir',
      'life',
      'each',
      'end',
      'tumble',
      'shown',
    ])
      this.#at[p] = places.of(p);
    this.#inks.place(places, ramp);
  }
  /** How many are alive or may be; for reports. */
  get used(): number {
    return this.#used;
  }

  update(v: Float32Array, time: number): void {
    const at = this.#at,
      u = this.#u;
    u.now.value = ((time % TIME_WRAP) + TIME_WRAP) % TIME_WRAP;
    u.end.value = v[at.end!]!;
    u.shown.value = v[at.shown!]! / 100;
    this.#inks.update(v);
    const sum = v[at['rate:sum']!]!,
      bursts = v[at['burst:sum']!]!;
    // The first look only says where the sums stand.
    if (this.#sum === this.#sum && time >= this.#time) this.#bear(v, time, sum, bursts);
    this.#sum = sum;
    this.#bursts = bursts;
    this.#time = time;
    while (this.#used > 0 && this.#until[this.#used - 1]! <= time) this.#used--;
    this.#mesh.geometry.instanceCount = this.#used;
  }

  #bear(v: Float32Array, time: number, sum: number, bursts: number): void {
    const flow = gone(this.#sum, sum, SUM_WRAP),
      from = Math.ceil(this.#sum),
      to = Math.ceil(this.#sum + flow),
      dt = time - this.#time;
    const first = this.#next;
    this.#count = 0;
    // While the budget is short, some numbers are passed over: the same on every screen that is as short.
    const share = this.#around.counts.value;
    for (let n = Math.max(from, to - this.#most); n < to; n++)
      if (share >= 1 || chance(n, 9) < share)
        this.#one(v, n, this.#time + (flow > 0 ? ((n - this.#sum) / flow) * dt : 0));
    const more = Math.min(this.#most, Math.round(gone(this.#bursts, bursts, SUM_WRAP)));
    for (let i = 0; i < more; i++)
      if (share >= 1 || chance(i, 9) < share) this.#one(v, Math.round(this.#bursts) * 31 + i + 7919, time);
    if (this.#count > 0) this.#send(first);
  }
  #one(v: Float32Array, n: number, time: number): void {
    const at = this.#at,
      i = this.#place(time);
    const way = ((v[at.way!]! + (chance(n, 0) - 0.5) * v[at.spread!]!) * Math.PI) / 180,
      speed = v[at.speed!]! * (0.7 + 0.6 * chance(n, 1)),
      mouth = (chance(n, 2) - 0.5) * v[at.mouth!]!;
    const life = v[at.life!]! * (0.75 + 0.5 * chance(n, 3)),
      size = v[at.each!]! * (0.6 + 0.8 * chance(n, 4));
    const b = this.#born.array,
      g = this.#going.array,
      d = this.#drawn.array,
      t = this.#turning.array;
    b[i * 4] = ((time % TIME_WRAP) + TIME_WRAP) % TIME_WRAP;
    b[i * 4 + 1] = this.#base.x + v[at.across!]! + mouth;
    b[i * 4 + 2] = this.#base.y + v[at.height!]!;
    b[i * 4 + 3] = chance(n, 5) * 100;
    g[i * 4] = Math.cos(way) * speed;
    g[i * 4 + 1] = Math.sin(way) * speed;
    g[i * 4 + 2] = size;
    g[i * 4 + 3] = life;
    d[i * 4] = v[at.wind!]!;
    d[i * 4 + 1] = v[at.fall!]!;
    d[i * 4 + 2] = v[at.stir!]! * (0.5 + chance(n, 6));
    d[i * 4 + 3] = 0;
    t[i * 2] = chance(n, 7) * 360;
    t[i * 2 + 1] = v[at.tumble!]! * (chance(n, 8) * 2 - 1);
    this.#until[i] = time + life;
    if (i >= this.#used) this.#used = i + 1;
    this.#count++;
  }
  /** Places are taken in a round that grows when its next place is still alive, and shrinks when most are free. */
  #place(time: number): number {
    if (this.#next >= this.#round) {
      this.#next = 0;
      if (this.#until[0]! > time && this.#round < this.#most) {
        this.#next = this.#round;
        this.#round = Math.min(this.#most, this.#round * 2);
      }
    }
    if (this.#next >= this.#most) this.#next = 0;
    return this.#next++;
  }
  /** Only what was written goes to the graphics processor. */
  #send(first: number): void {
    const past = this.#next <= first || this.#count >= this.#round;
    for (const a of [this.#born, this.#going, this.#drawn, this.#turning]) {
      a.clearUpdateRanges();
      if (!past) a.addUpdateRange(first * a.itemSize, (this.#next - first) * a.itemSize);
      a.needsUpdate = true;
    }
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
  }
}
