import {
  AddEquation,
  type Camera,
  CustomBlending,
  DataTexture,
  FloatType,
  Group,
  HalfFloatType,
  DataUtils,
  Matrix4,
  Mesh,
  NearestFilter,
  Object3D,
  PlaneGeometry,
  RedFormat,
  type ShaderMaterial,
  SrcAlphaFactor,
  Vector2,
  Vector4,
  type WebGLRenderer,
  ZeroFactor,
} from 'three';
import {
  drawnOutline,
  EDGE_SIDES,
  EDGE_STEPS,
  EDGE_UNDER,
  type EdgeForm,
  OUTLINE_REACH,
  outlineDistances,
  sideSwell,
} from '../../../core/figures';
import type { Figure } from '../../../core/show';
import type { Places } from '../places';
import { END, flat, inkUniform, putInk, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';
import { Sparks } from './sparks';

/** Points each way at which distances from a drawn outline are known. */
const FIELD = 320;
const OUTLINES = { rectangle: 0, round: 1, drawing: 2 } as const;

const VERTEX = /* glsl */ `uniform vec2 room; void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position.xy * room, 0.0, 1.0); }`;
const WHOLE = /* glsl */ `void main() { gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }`;
/**
 * Distances by where a pixel is from the outline's middle, with both signs taken off: its mirror image has the very same. Less than 0
 * is within. A distance that slants with the swell is brought back to the normal by its slope.
 */
const GEOMETRY = /* glsl */ `
uniform vec2 centre; uniform mat2 perPixel; uniform float pixel;
uniform vec2 half_; uniform float corner, thick, inward, outward, deep, high; uniform int outline;
uniform sampler2D swells, field;
/* Its slope runs on without a step, or a hair's breadth would make another glow of it. */
float swell(int side, float u, out float slope) {
  float x = clamp(u, 0.0, 1.0) * ${EDGE_STEPS - 1}.0; int i = min(int(x), ${EDGE_STEPS - 2});
  float f = x - float(i), a = texelFetch(swells, ivec2(i, side), 0).r, b = texelFetch(swells, ivec2(i + 1, side), 0).r;
  float before = texelFetch(swells, ivec2(abs(i - 1), side), 0).r, after = texelFetch(swells, ivec2(min(i + 2, ${EDGE_STEPS - 1}), side), 0).r;
  slope = mix(b - before, after - a, f) * ${(EDGE_STEPS - 1) / 2};
  return mix(a, b, f);
}
/* What a slanting distance comes to at right angles; of walls so steep that this says nothing any more, half. */
float upright_(float slope) { return max(0.5, inversesqrt(1.0 + slope * slope)); }
float box(vec2 p, vec2 b, float r) { vec2 q = p - b + r; return min(max(q.x, q.y), 0.0) + length(max(q, 0.0)) - r; }
/* Of the plain outline. */
float plain(vec2 p) {
  if (outline == 0) return box(p, half_, corner);
  if (outline == 1) { vec2 n = p / half_; float k = length(n); return k < 1e-4 ? -min(half_.x, half_.y) : (k - 1.0) * k / length(n / half_); }
  /* Between four points by our own hand: a device's is too coarse for a slope. */
  vec2 x = clamp((p / half_ / ${OUTLINE_REACH}.0 + 1.0) * ${FIELD / 2}.0 - 0.5, vec2(0.0), vec2(${FIELD - 1}.0));
  ivec2 i = min(ivec2(x), ivec2(${FIELD - 2})); vec2 f = x - vec2(i);
  return mix(mix(texelFetch(field, i, 0).r, texelFetch(field, i + ivec2(1, 0), 0).r, f.x), mix(texelFetch(field, i + ivec2(0, 1), 0).r, texelFetch(field, i + ivec2(1, 1), 0).r, f.x), f.y);
}
/* Of both edges of the border: x the outer, y the inner. */
vec2 edges(vec2 at, vec2 p, float d) {
  int across = at.x >= 0.0 ? 1 : 3, up = at.y >= 0.0 ? 0 : 2;
  if (outline == 0) {
    float ss, st; vec2 inner = max(half_ - thick, vec2(1.0));
    float s = inward * swell(across, p.y / inner.y, ss), t = inward * swell(up, p.x / inner.x, st);
    vec2 b = half_ - thick - vec2(s, t), q = p - b;
    float slope = inward * (q.x > q.y ? ss / inner.y : st / inner.x);
    float in_ = box(p, b, max(0.0, corner - thick)) * upright_(slope);
    if (outward == 0.0) return vec2(d, in_);
    s = swell(across, p.y / half_.y, ss); t = swell(up, p.x / half_.x, st);
    b = half_ + vec2(s, t); q = p - b;
    slope = q.x > q.y ? ss / half_.y : st / half_.x;
    return vec2(box(p, b, corner) * upright_(slope), in_);
  }
  vec2 n = p / half_; float slope, u, per;
  bool upright = n.y >= n.x;
  if (upright) { u = n.x / max(n.y, 1e-4); per = 1.0 / max(half_.x * n.y, 1.0); } else { u = n.y / max(n.x, 1e-4); per = 1.0 / max(half_.y * n.x, 1.0); }
  float s = swell(upright ? up : across, u, slope);
  float k = upright_(slope * per);
  return vec2((d - outward * s) * (outward > 0.0 ? k : 1.0), (d + thick + inward * s) * (inward > 0.0 ? k : 1.0));
}`;
const BORDER = /* glsl */ `
${GEOMETRY}
uniform vec3 ink, lineInk; uniform float glow, glowOut, reach, shown; uniform bool line;
float left(float d) { float x = max(0.0, 1.0 - max(d, 0.0) / reach); return x * x; }
void main() {
  vec2 at = perPixel * (gl_FragCoord.xy - centre), p = abs(at);
  float d = plain(p);
  if (d < -deep || d > high) discard;
  vec2 e = edges(at, p, d);
  float within = clamp(0.5 - e.x / pixel, 0.0, 1.0), hole = clamp(0.5 - e.y / pixel, 0.0, 1.0);
  float border = within * (1.0 - hole) * shown;
  float light = max(glow * left(-e.y) * hole, glowOut * left(e.x) * (1.0 - within)) * shown * (1.0 - border);
  float alpha = border + light;
  if (alpha <= 0.001) discard;
  vec3 own = line ? mix(ink, lineInk, clamp(0.5 - (abs(e.x + thick * 0.385) - thick * 0.0577) / pixel, 0.0, 1.0)) : ink;
  vec3 mixed = (own * border + ink * light) / alpha;
  ${END.replace('ink, alpha', 'mixed, alpha')}
}`;
const CUT = /* glsl */ `
${GEOMETRY}
void main() {
  vec2 at = perPixel * (gl_FragCoord.xy - centre), p = abs(at);
  float d = plain(p);
  /* Deep within all stays. */
  if (d < -deep) discard;
  gl_FragColor = vec4(0.0, 0.0, 0.0, clamp(0.5 - (edges(at, p, d).y - ${EDGE_UNDER}.0) / pixel, 0.0, 1.0));
}`;

const whole = new Matrix4(),
  point = new Vector4(),
  size = new Vector2();

/** A closed outline whose border swells, and that may cut what lies under it. */
export class EdgeFigure implements Drawn {
  readonly object = new Group();
  readonly cutting: Drawn['cutting'];
  readonly #swells = new DataTexture(
    new Float32Array(EDGE_STEPS * EDGE_SIDES.length),
    EDGE_STEPS,
    EDGE_SIDES.length,
    RedFormat,
    FloatType,
  );
  readonly #field: DataTexture | null = null;
  readonly #form: EdgeForm;
  readonly #u;
  readonly #meshes: Mesh<PlaneGeometry, ShaderMaterial>[] = [];
  readonly #sparks: Sparks;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { swell: -1, thick: -1, glow: -1, glowOut: -1, reach: -1, ink: -1, lineInk: -1 };
  #sides: readonly number[] = [];
  #rows: readonly (readonly [number, number] | null)[] = [];

  constructor(form: EdgeForm, figure: Figure, places: Places, _: Workshop) {
    this.#form = form;
    this.#swells.minFilter = this.#swells.magFilter = NearestFilter;
    if (form.outline === 'drawing') {
      const far = outlineDistances(drawnOutline(form), form.width, form.height, FIELD);
      this.#field = new DataTexture(
        Uint16Array.from(far, (x) => DataUtils.toHalfFloat(x)),
        FIELD,
        FIELD,
        RedFormat,
        HalfFloatType,
      );
      this.#field.minFilter = this.#field.magFilter = NearestFilter;
      this.#field.needsUpdate = true;
    }
    this.#u = {
      centre: uniform([0, 0]),
      perPixel: uniform([1, 0, 0, 1]),
      pixel: uniform(1),
      half_: uniform([form.width / 2, form.height / 2]),
      room: uniform([form.width, form.height]),
      corner: uniform(Math.min(form.corner, form.width / 2, form.height / 2)),
      thick: uniform(0),
      inward: uniform(form.way === 'outward' ? 0 : 1),
      outward: uniform(form.way === 'inward' ? 0 : 1),
      deep: uniform(0),
      high: uniform(0),
      outline: uniform(OUTLINES[form.outline]),
      swells: uniform(this.#swells),
      field: uniform(this.#field),
      ink: inkUniform(),
      lineInk: inkUniform(),
      glow: uniform(0),
      glowOut: uniform(0),
      reach: uniform(1),
      shown: uniform(1),
      line: uniform(form.line),
    };
    // No group: a group within one would be ordered by itself, beneath all other figures.
    const seen = new Object3D(),
      border = this.#mesh(flat(this.#u, VERTEX, BORDER));
    this.#sparks = new Sparks(form, this.#u);
    border.renderOrder = 1;
    this.#sparks.mesh.renderOrder = 2;
    seen.add(border, this.#sparks.mesh);
    if (form.cuts) {
      const cut = this.#mesh(
        flat(this.#u, WHOLE, CUT, {
          blending: CustomBlending,
          blendEquation: AddEquation,
          blendSrc: ZeroFactor,
          blendDst: SrcAlphaFactor,
          blendSrcAlpha: ZeroFactor,
          blendDstAlpha: SrcAlphaFactor,
        }),
      );
      this.object.add(cut);
      this.cutting = { cut, seen };
    }
    this.object.add(seen);
    this.place(figure, places);
  }
  #mesh(material: ShaderMaterial): Mesh<PlaneGeometry, ShaderMaterial> {
    const mesh = new Mesh(new PlaneGeometry(1, 1), material);
    mesh.onBeforeRender = (renderer, _, camera) => this.#lie(renderer, camera, mesh);
    this.#meshes.push(mesh);
    return mesh;
  }
  /** Where the outline's middle and axes lie among the pixels that are drawn now. */
  #lie(renderer: WebGLRenderer, camera: Camera, mesh: Mesh<PlaneGeometry, ShaderMaterial>): void {
    const target = renderer.getRenderTarget(),
      u = this.#u;
    if (target) size.set(target.width, target.height);
    else renderer.getDrawingBufferSize(size);
    whole
      .multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse)
      .multiply(this.object.matrixWorld);
    point.set(0, 0, 0, 1).applyMatrix4(whole);
    u.centre.value[0] = (point.x * 0.5 + 0.5) * size.x;
    u.centre.value[1] = (point.y * 0.5 + 0.5) * size.y;
    const e = whole.elements,
      ax = e[0]! * 0.5 * size.x,
      ay = e[1]! * 0.5 * size.y,
      bx = e[4]! * 0.5 * size.x,
      by = e[5]! * 0.5 * size.y,
      d = ax * by - bx * ay;
    // Columns of the way back, from pixels to the outline's own measure.
    const m = u.perPixel.value;
    m[0] = by / d;
    m[1] = -ay / d;
    m[2] = -bx / d;
    m[3] = ax / d;
    u.pixel.value = Math.sqrt(Math.abs(1 / d));
    mesh.material.uniformsNeedUpdate = true;
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    const of = (p: string): number => places.of(p);
    this.#at = {
      swell: of('swell'),
      thick: of('thick'),
      glow: of('glow'),
      glowOut: of('glowOut'),
      reach: of('reach'),
      ink: of('ink'),
      lineInk: of('lineInk'),
    };
    this.#sides = EDGE_SIDES.map(of);
    this.#rows = ['swell', ...EDGE_SIDES].map((p) => places.row(p));
  }
  arrive(_: string, value: number): void {
    this.#sparks.light(value);
  }
  quiet(): void {
    this.#sparks.clear();
  }
  update(v: Float32Array, _: number, vectors?: Float32Array): void {
    const u = this.#u,
      at = this.#at,
      form = this.#form;
    take(this.object, this.#base, v, this.#stance);
    u.shown.value = v[this.#stance.shown]! / 100;
    u.thick.value = v[at.thick]!;
    u.glow.value = v[at.glow]! / 100;
    u.glowOut.value = v[at.glowOut]! / 100;
    u.reach.value = Math.max(1, v[at.reach]!);
    putInk(u.ink, v, at.ink);
    putInk(u.lineInk, v, at.lineInk);
    const data = this.#swells.image.data as unknown as Float32Array,
      all = vectors ? (this.#rows[0] ?? null) : null;
    let most = 0;
    for (let side = 0; side < EDGE_SIDES.length; side++) {
      const own = vectors ? (this.#rows[side + 1] ?? null) : null;
      most = Math.max(
        most,
        sideSwell(
          data,
          side * EDGE_STEPS,
          form.bulge,
          all ? vectors! : v,
          all ? all[0] : at.swell,
          all ? all[1] : 1,
          own ? vectors! : v,
          own ? own[0] : this.#sides[side]!,
          own ? own[1] : 1,
        ),
      );
    }
    this.#swells.needsUpdate = true;
    const light = u.glow.value > 0 || u.glowOut.value > 0 ? u.reach.value : 0;
    // Where the edge slants its light reaches further, up to twice as far.
    u.deep.value = u.thick.value + most + 2 * light + 4;
    u.high.value = most + 2 * light + 4;
    u.room.value[0] = form.width + 2 * u.high.value;
    u.room.value[1] = form.height + 2 * u.high.value;
    this.#sparks.update();
  }
  dispose(): void {
    for (const m of this.#meshes) {
      m.geometry.dispose();
      m.material.dispose();
    }
    this.#sparks.dispose();
    this.#swells.dispose();
    this.#field?.dispose();
  }
}
