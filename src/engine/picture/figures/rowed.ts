import {
  BufferAttribute,
  DataTexture,
  Group,
  InstancedBufferGeometry,
  LinearFilter,
  Mesh,
  NearestFilter,
  PlaneGeometry,
  RedFormat,
  RepeatWrapping,
  UnsignedByteType,
  type BufferGeometry,
  type IUniform,
  type ShaderMaterial,
} from 'three';
import { type FigureForm, PLATE_HEIGHT, PLATE_WIDTH, rampInks } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { Inks, RAMP } from '../ramp';
import { END, flat, RowTexture, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';
import { type Places } from '../places';
import { ROUND, SEGMENT } from './trace';

/** Instruments that show a whole row of numbers: bars, a line, a picture of the last seconds. */
abstract class RowedFigure<G extends BufferGeometry> implements Drawn {
  readonly object = new Group();
  protected readonly rows = new RowTexture(['level']);
  protected readonly mesh: Mesh<G, ShaderMaterial>;
  protected at: Record<string, number> = {};
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  readonly #shown = uniform(1);
  readonly #names: readonly string[];
  readonly #inks: Inks;

  /** @param uniforms - of the shader @param names - parameters that `set` reads @param inks - parameters that are colours, from the first on its ramp to the last */
  protected constructor(
    geometry: G,
    uniforms: Record<string, IUniform>,
    vertex: string,
    fragment: string,
    names: readonly string[],
    inks: readonly string[],
  ) {
    this.#names = names;
    this.#inks = new Inks(inks);
    this.mesh = new Mesh(
      geometry,
      flat(
        {
          ...uniforms,
          ...this.rows.uniforms,
          shown: this.#shown,
          ...this.#inks.uniforms,
        },
        vertex,
        fragment,
      ),
    );
    this.object.add(this.mesh);
  }
  protected abstract set(v: Float32Array, time: number, vectors: Float32Array | undefined): void;
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    for (const p of this.#names) this.at[p] = places.of(p);
    this.#inks.place(places, ramp);
    this.rows.place(places);
  }
  update(v: Float32Array, time: number, vectors?: Float32Array): void {
    take(this.object, this.#base, v, this.#stance);
    this.#shown.value = v[this.#stance.shown]! / 100;
    this.#inks.update(v);
    this.rows.update(v, vectors);
    this.set(v, time, vectors);
  }
  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
    this.rows.dispose();
  }
}

function quads(count: number): InstancedBufferGeometry {
  const g = new InstancedBufferGeometry();
  g.setAttribute('position', new BufferAttribute(new Float32Array([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]), 3));
  g.setIndex([0, 1, 2, 0, 2, 3]);
  g.instanceCount = count;
  return g;
}

const BARS = /* glsl */ `
uniform float count, long_, tall, gap; uniform bool bothWays;
${RowTexture.shader(1)}
varying float vUp;
void main() {
  float i = float(gl_InstanceID), pitch = long_ / count, level = row(0, count > 1.0 ? i / (count - 1.0) : 0.5) / 100.0;
  float x = (i - count * 0.5 + gap * 0.5 + position.x * (1.0 - gap)) * pitch, y = bothWays ? (position.y * 2.0 - 1.0) * level : position.y * level;
  vUp = abs(y);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(x, y * tall * (bothWays ? 0.5 : 1.0), 0.0, 1.0);
}`;
const BARS_INK = /* glsl */ `uniform float shown; varying float vUp; ${RAMP} void main() { vec3 ink = inkAt(vUp); float alpha = shown; ${END} }`;

export class BarsFigure extends RowedFigure<InstancedBufferGeometry> {
  readonly #u;
  constructor(form: Extract<FigureForm, { kind: 'bars' }>, figure: Figure, places: Places) {
    const u = {
      count: uniform(form.count),
      long_: uniform(640),
      tall: uniform(240),
      gap: uniform(0.26),
      bothWays: uniform(form.bothWays),
    };
    super(quads(form.count), u, BARS, BARS_INK, ['length', 'tall', 'gap'], rampInks('bars'));
    this.#u = u;
    this.place(figure, places);
  }
  protected set(v: Float32Array): void {
    this.#u.long_.value = v[this.at.length!]!;
    this.#u.tall.value = v[this.at.tall!]!;
    this.#u.gap.value = v[this.at.gap!]! / 100;
  }
}

/** Stretches of a line; a round one is closed. */
const STRETCHES = 256;
const LINE = /* glsl */ `
uniform float long_, line, perPixel; uniform bool round_;
${RowTexture.shader(1)}
${SEGMENT}
varying vec2 vLocal; varying float vLong, vHalf;
vec2 at(float u) {
  if (!round_) return vec2((u - 0.5) * long_, row(0, u));
  /* Round, its ends are led into each other over its last eighth. */
  float a = 1.5707963 - 6.2831853 * u, y = mix(row(0, u), row(0, 0.0), smoothstep(0.875, 1.0, u));
  return vec2(cos(a), sin(a)) * (long_ * 0.5 + y);
}
void main() {
  float u = float(gl_InstanceID) / ${STRETCHES}.0;
  vHalf = max(line, perPixel) * 0.5;
  vec2 p = along(at(u), at(u + 1.0 / ${STRETCHES}.0), vHalf + perPixel, vec2(position.x, position.y * 2.0 - 1.0), vLocal, vLong);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(p, 0.0, 1.0);
}`;
const LINE_INK = /* glsl */ `uniform float shown, perPixel;
${RAMP} varying vec2 vLocal; varying float vLong, vHalf;
${ROUND}
void main() { vec3 ink = inkAt(0.0); float alpha = shown * inside(vLocal, vLong, vHalf, perPixel); if (alpha <= 0.003) discard; ${END} }`;

export class WaveformFigure extends RowedFigure<InstancedBufferGeometry> {
  readonly #u;
  constructor(
    form: Extract<FigureForm, { kind: 'waveform' }>,
    figure: Figure,
    places: Places,
    { around }: Workshop,
  ) {
    const u = {
      long_: uniform(760),
      line: uniform(5),
      round_: uniform(form.round),
      perPixel: around.perPixel,
    };
    super(quads(STRETCHES), u, LINE, LINE_INK, ['length', 'line'], ['ink']);
    this.#u = u;
    this.place(figure, places);
  }
  protected set(v: Float32Array): void {
    this.#u.long_.value = v[this.at.length!]!;
    this.#u.line.value = v[this.at.line!]!;
  }
}

/** Columns a second. */
const PACE = 50;
const FIELD = /* glsl */ `varying vec2 vUv; void main() { vUv = uv; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;
const FIELD_INK = /* glsl */ `
uniform sampler2D field; uniform float head, columns, inks, shown; varying vec2 vUv;
${RAMP}
void main() {
  float x = texture2D(field, vec2((head + 1.0 + vUv.x * (columns - 1.0)) / columns, vUv.y)).r;
  if (inks > 0.5) x = floor(x * inks + 0.5) / inks;
  vec3 ink = inkAt(x); float alpha = shown;
  ${END}
}`;

export class SpectrogramFigure extends RowedFigure<PlaneGeometry> {
  readonly #u;
  readonly #columns: number;
  #points = 1;
  #row: readonly [number, number] | null = null;
  #head = -1;

  constructor(form: Extract<FigureForm, { kind: 'spectrogram' }>, figure: Figure, places: Places) {
    const columns = Math.round(form.seconds * PACE);
    const u = {
      field: uniform(SpectrogramFigure.#field(columns, 1)),
      head: uniform(0),
      columns: uniform(columns),
      inks: uniform(6),
    };
    const plane = new PlaneGeometry(PLATE_WIDTH, PLATE_HEIGHT);
    plane.translate(PLATE_WIDTH / 2, PLATE_HEIGHT / 2, 0);
    super(plane, u, FIELD, FIELD_INK, ['level', 'inks'], rampInks('spectrogram'));
    this.#u = u;
    this.#columns = columns;
    this.place(figure, places);
  }
  static #field(columns: number, points: number): DataTexture {
    const t = new DataTexture(new Uint8Array(columns * points), columns, points, RedFormat, UnsignedByteType);
    t.wrapS = RepeatWrapping;
    t.magFilter = points > 1 ? LinearFilter : NearestFilter;
    t.minFilter = t.magFilter;
    t.unpackAlignment = 1;
    t.needsUpdate = true;
    return t;
  }
  override place(figure: Figure, places: Places): void {
    super.place(figure, places);
    if (!this.#u) return;
    this.#row = places.row('level');
    const points = this.#row?.[1] ?? 1;
    if (points === this.#points) return;
    this.#points = points;
    this.#u.field.value.dispose();
    this.#u.field.value = SpectrogramFigure.#field(this.#columns, points);
  }
  protected set(v: Float32Array, time: number, vectors: Float32Array | undefined): void {
    this.#u.inks.value = v[this.at.inks!]!;
    const column = Math.floor(time * PACE),
      { value: field } = this.#u.field,
      data = field.image.data as unknown as Uint8Array;
    if (column === this.#head) return;
    const from =
      this.#head < 0 || column - this.#head > this.#columns || column < this.#head ? column : this.#head + 1;
    for (let c = from; c <= column; c++) {
      const x = c % this.#columns;
      for (let i = 0; i < this.#points; i++)
        data[i * this.#columns + x] = Math.max(
          0,
          Math.min(255, (this.#row && vectors ? vectors[this.#row[0] + i]! : v[this.at.level!]!) * 2.55),
        );
    }
    this.#head = column;
    this.#u.head.value = column % this.#columns;
    field.needsUpdate = true;
  }
  override dispose(): void {
    super.dispose();
    this.#u.field.value.dispose();
  }
}
