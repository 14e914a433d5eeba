import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  CircleGeometry,
  ConeGeometry,
  CylinderGeometry,
  DoubleSide,
  Group,
  IcosahedronGeometry,
  Mesh,
  PlaneGeometry,
  TorusGeometry,
  Vector3,
  type ShaderMaterial,
} from 'three';
import { type Anchor, anchorPlace, SOLID_EDGE, type SolidLook, type SolidShape } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { END, flat, inkUniform, LIGHTS_MOST, NOISE, putInk, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';
import { type Places } from '../places';

const DEG = Math.PI / 180;
const VERTEX = /* glsl */ `
attribute vec3 edge; attribute vec3 tone;
uniform vec3 grow; uniform vec3 middle; uniform float rough, roughSize, drift, areaAt, area, foot, span; uniform mat3 turning;
varying vec3 vEdge, vPlace, vBody, vTone; varying vec2 vWorld;
${NOISE}
void main() {
  vec3 p = position * grow;
  if (rough > 0.0) {
    float off = abs((position.y - foot) / span - areaAt);
    float within = area >= 2.0 ? 1.0 : smoothstep(max(area, 1e-4), 0.0, off);
    p += normalize(position - middle + 1e-5) * rough * within * fractal(vec3(p / roughSize) + vec3(0.0, 0.0, drift));
  }
  p = turning * p;
  /* A little nearness, as if seen from 1,400 px away. */
  vec2 seen = p.xy * (1400.0 / max(200.0, 1400.0 - p.z));
  vPlace = vec3(seen, p.z); vBody = p; vEdge = edge; vTone = tone;
  vec4 world = modelMatrix * vec4(seen, p.z, 1.0);
  vWorld = world.xy;
  gl_Position = projectionMatrix * viewMatrix * world;
}`;
const FRAGMENT = /* glsl */ `
uniform vec3 faceInk, lineInk; uniform float line, bright, shown, perPixel, lights; uniform int look;
uniform vec4 lightAt[${LIGHTS_MOST}]; uniform vec4 lightInk[${LIGHTS_MOST}];
varying vec3 vEdge, vPlace, vBody, vTone; varying vec2 vWorld;
float near(float e) { float w = length(vec2(dFdx(e), dFdy(e))); return e / max(w, 1e-6) * perPixel; }
void main() {
  vec3 n = normalize(cross(dFdx(vBody), dFdy(vBody)) + 1e-9);
  if (n.z < 0.0) n = -n;
  float away = min(near(vEdge.x), min(near(vEdge.y), near(vEdge.z)));
  float drawn = look == 0 ? 0.0 : smoothstep(line * 0.5 + perPixel * 0.7, line * 0.5 - perPixel * 0.7, away);
  if (look == 1) drawn = max(drawn, smoothstep(0.26, 0.2, n.z) * step(0.01, line));
  float alpha = shown;
  if (look == 2) alpha *= drawn;
  if (alpha <= 0.003) discard;
  float lit = dot(n, normalize(vec3(-0.45, 0.6, 0.66)));
  /* Three tones, the middle one hatched as with a gouge. */
  float hatch = step(0.5, fract((vPlace.x * 0.8 + vPlace.y * 0.6) / 7.0));
  float shade = lit > 0.62 ? 1.0 : lit > 0.22 ? mix(0.62, 1.0, hatch) : lit > -0.2 ? 0.5 : mix(0.28, 0.5, hatch);
  vec3 ink = faceInk * vTone * shade * bright;
  for (int i = 0; i < ${LIGHTS_MOST}; i++) {
    if (float(i) >= lights) break;
    vec3 to = vec3(lightAt[i].xy - vWorld, 110.0);
    float far = length(to) / lightAt[i].z;
    ink += faceInk * vTone * lightInk[i].rgb * max(0.0, dot(n, normalize(to))) * max(0.0, 1.0 - far) * max(0.0, 1.0 - far);
  }
  ink = mix(ink, lineInk * bright, look == 2 ? 1.0 : drawn);
  ${END}
}`;

const LOOK: Readonly<Record<SolidLook, number>> = { filled: 0, outlined: 1, wire: 2 };

function base(shape: SolidShape): BufferGeometry {
  const e = SOLID_EDGE,
    h = e / 2;
  switch (shape) {
    case 'box':
      return new BoxGeometry(e, e, e, 10, 10, 10);
    case 'ball':
      return new IcosahedronGeometry(h, 9);
    case 'cone':
      return new ConeGeometry(h, e, 40, 14);
    case 'tube':
      return new CylinderGeometry(h * 0.72, h * 0.72, e, 40, 14);
    case 'ring':
      return new TorusGeometry(h * 0.74, h * 0.26, 20, 56);
    case 'disc':
      return new CircleGeometry(h, 56);
    case 'plate':
      return new PlaneGeometry(e, e, 16, 16);
  }
}

/**
 * Triangles without shared corners, each knowing which of its edges are drawn. @param meshed - every edge of the mesh that is not a
 * diagonal of a flat quadrangle; otherwise only those at which the surface bends by more than 30°.
 */
export function withEdges(source: BufferGeometry, meshed: boolean): BufferGeometry {
  const g = source.index ? source.toNonIndexed() : source.clone();
  const p = g.attributes.position!,
    count = p.count / 3;
  const key = (i: number): string =>
    `${Math.round(p.getX(i) * 16)},${Math.round(p.getY(i) * 16)},${Math.round(p.getZ(i) * 16)}`;
  const normals: Vector3[] = [],
    a = new Vector3(),
    b = new Vector3(),
    c = new Vector3();
  const sides = new Map<string, number[]>();
  for (let t = 0; t < count; t++) {
    a.fromBufferAttribute(p, t * 3);
    b.fromBufferAttribute(p, t * 3 + 1);
    c.fromBufferAttribute(p, t * 3 + 2);
    normals.push(b.clone().sub(a).cross(c.clone().sub(a)).normalize());
    for (let k = 0; k < 3; k++) {
      const s = [key(t * 3 + k), key(t * 3 + ((k + 1) % 3))].sort().join('|'),
        list = sides.get(s);
      if (list) list.push(t);
      else sides.set(s, [t]);
    }
  }
  const edge = new Float32Array(p.count * 3);
  const longest = (t: number, k: number): boolean => {
    const length = (i: number, j: number): number => {
      a.fromBufferAttribute(p, t * 3 + i);
      b.fromBufferAttribute(p, t * 3 + j);
      return a.distanceTo(b);
    };
    const own = length(k, (k + 1) % 3);
    return own > 1.05 * length((k + 1) % 3, (k + 2) % 3) && own > 1.05 * length((k + 2) % 3, k);
  };
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 3; k++) {
      const near = sides.get([key(t * 3 + k), key(t * 3 + ((k + 1) % 3))].sort().join('|'))!,
        other = near.find((x) => x !== t);
      const bent =
        other === undefined
          ? 90
          : Math.acos(Math.min(1, Math.max(-1, normals[t]!.dot(normals[other]!)))) / DEG;
      // A diagonal is the longest side of both its triangles, which lie nearly in one plane.
      const drawn = meshed ? !(other !== undefined && bent < 25 && longest(t, k)) : bent > 30;
      // The edge lies across from the third corner; where it is not drawn every corner is far from it.
      const opposite = (k + 2) % 3;
      for (let i = 0; i < 3; i++) edge[(t * 3 + i) * 3 + opposite] = drawn ? (i === opposite ? 1 : 0) : 1;
    }
  g.setAttribute('edge', new BufferAttribute(edge, 3));
  if (!g.attributes.color)
    g.setAttribute('tone', new BufferAttribute(new Float32Array(p.count * 3).fill(1), 3));
  else {
    g.setAttribute('tone', g.attributes.color as BufferAttribute);
    g.deleteAttribute('color');
  }
  for (const name of ['normal', 'uv']) g.deleteAttribute(name);
  return g;
}

/** Moves a geometry so that its anchor is at the origin. @returns its foot and its height by then */
export function anchored(
  g: BufferGeometry,
  anchor: Anchor,
): { readonly foot: number; readonly span: number; readonly middle: Vector3 } {
  g.computeBoundingBox();
  const { min, max } = g.boundingBox!;
  const middle = min.clone().add(max).multiplyScalar(0.5);
  const [ax, ay] = anchorPlace(anchor),
    x = min.x + ax * (max.x - min.x),
    y = min.y + ay * (max.y - min.y);
  // Read first: moving the geometry moves its box as well.
  const foot = min.y - y,
    span = Math.max(1e-3, max.y - min.y);
  g.translate(-x, -y, -middle.z);
  return { foot, span, middle: middle.sub(new Vector3(x, y, middle.z)) };
}

/** A body that grows from its anchor, turns, and is pushed about by noise. Drawn as a print is: three tones, hatching, hard edges. */
export class SolidFigure implements Drawn {
  readonly object = new Group();
  readonly #look: SolidLook;
  readonly #anchor: Anchor;
  readonly #mesh: Mesh<BufferGeometry, ShaderMaterial>;
  readonly #u;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at!: Record<
    | 'wide'
    | 'tall'
    | 'deep'
    | 'lean'
    | 'swing'
    | 'spin'
    | 'rough'
    | 'roughSize'
    | 'drift'
    | 'areaAt'
    | 'area'
    | 'line'
    | 'bright'
    | 'ink'
    | 'lineInk',
    number
  >;

  constructor(
    shape: SolidShape | null,
    look: SolidLook,
    anchor: Anchor,
    figure: Figure,
    places: Places,
    { around }: Workshop,
  ) {
    this.#look = look;
    this.#anchor = anchor;
    this.#u = {
      grow: uniform(new Vector3(1, 1, 1)),
      middle: uniform(new Vector3()),
      turning: uniform([1, 0, 0, 0, 1, 0, 0, 0, 1]),
      rough: uniform(0),
      roughSize: uniform(90),
      drift: uniform(0),
      areaAt: uniform(0.5),
      area: uniform(2),
      foot: uniform(0),
      span: uniform(1),
      faceInk: inkUniform(),
      lineInk: inkUniform(),
      line: uniform(2),
      bright: uniform(1),
      shown: uniform(1),
      look: uniform(LOOK[look]),
      perPixel: around.perPixel,
      lights: around.lights,
      lightAt: around.lightAt,
      lightInk: around.lightInk,
    };
    const see = look !== 'wire';
    this.#mesh = new Mesh(
      new BufferGeometry(),
      flat(this.#u, VERTEX, FRAGMENT, { depthTest: see, depthWrite: see, side: DoubleSide }),
    );
    this.#mesh.userData.solid = true;
    // Each body has its own depth: figures lie on each other like sheets.
    if (see) this.#mesh.onBeforeRender = (renderer) => renderer.clearDepth();
    this.object.add(this.#mesh);
    if (shape) this.shape(base(shape));
    else this.#mesh.visible = false;
    this.place(figure, places);
  }
  /** Takes another body. */
  shape(source: BufferGeometry): void {
    const g = withEdges(source, this.#look === 'wire');
    source.dispose();
    const { foot, span, middle } = anchored(g, this.#anchor);
    this.#u.foot.value = foot;
    this.#u.span.value = span;
    this.#u.middle.value.copy(middle);
    this.#mesh.geometry.dispose();
    this.#mesh.geometry = g;
    this.#mesh.visible = true;
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    const of = (p: string): number => places.of(p);
    this.#at = {
      wide: of('wide'),
      tall: of('tall'),
      deep: of('deep'),
      lean: of('lean'),
      swing: of('swing'),
      spin: of('spin:sum'),
      rough: of('rough'),
      roughSize: of('roughSize'),
      drift: of('roughDrift:sum'),
      areaAt: of('areaAt'),
      area: of('area'),
      line: of('line'),
      bright: of('bright'),
      ink: of('ink'),
      lineInk: of('lineInk'),
    };
  }
  update(v: Float32Array): void {
    const at = this.#at,
      u = this.#u;
    take(this.object, this.#base, v, this.#stance);
    u.grow.value.set(v[at.wide]!, v[at.tall]!, v[at.deep]!);
    const a = v[at.lean]! * DEG,
      b = (v[at.swing]! + v[at.spin]!) * DEG,
      ca = Math.cos(a),
      sa = Math.sin(a),
      cb = Math.cos(b),
      sb = Math.sin(b),
      m = u.turning.value;
    // First about its upright axis, then tipped; column by column.
    m[0] = cb;
    m[1] = sa * sb;
    m[2] = -ca * sb;
    m[3] = 0;
    m[4] = ca;
    m[5] = sa;
    m[6] = sb;
    m[7] = -sa * cb;
    m[8] = ca * cb;
    u.rough.value = v[at.rough]!;
    u.roughSize.value = v[at.roughSize]!;
    u.drift.value = v[at.drift]!;
    u.areaAt.value = v[at.areaAt]! / 100;
    u.area.value = v[at.area]! / 100;
    u.line.value = v[at.line]!;
    u.bright.value = v[at.bright]! / 100;
    u.shown.value = v[this.#stance.shown]! / 100;
    putInk(u.faceInk, v, at.ink);
    putInk(u.lineInk, v, at.lineInk);
  }
  points(): Float32Array {
    const p = this.#mesh.geometry.attributes.position,
      seen = new Set<string>(),
      out: number[] = [];
    for (let i = 0; p && i < p.count; i++) {
      const key = `${Math.round(p.getX(i))},${Math.round(p.getY(i))}`;
      if (seen.has(key)) continue;
      seen.add(key);
      out.push(p.getX(i), p.getY(i));
    }
    return Float32Array.from(out);
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
  }
}
