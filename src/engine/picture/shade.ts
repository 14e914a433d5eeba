import {
  Color,
  DataTexture,
  FloatType,
  NearestFilter,
  RedFormat,
  ShaderMaterial,
  Vector4,
  type IUniform,
} from 'three';
import type { Places } from './places';

/** What all shaders of the picture share. Source of the hash: O'Neill 2014, PCG, in the form for graphics processors of Jarzynski & Olano 2020. */
export const NOISE = /* glsl */ `
uint scramble(uint v) { v = v * 747796405u + 2891336453u; v = ((v >> ((v >> 28u) + 4u)) ^ v) * 277803737u; return (v >> 22u) ^ v; }
float cell(ivec3 p) { return float(scramble(uint(p.x) + scramble(uint(p.y) + scramble(uint(p.z))))) / 4294967295.0; }
/* Value noise, -1 to 1, smooth to its second derivative. */
float noise(vec3 p) {
  vec3 f = fract(p); ivec3 i = ivec3(floor(p));
  f = f * f * f * (f * (f * 6.0 - 15.0) + 10.0);
  float a = mix(mix(cell(i), cell(i + ivec3(1,0,0)), f.x), mix(cell(i + ivec3(0,1,0)), cell(i + ivec3(1,1,0)), f.x), f.y);
  float b = mix(mix(cell(i + ivec3(0,0,1)), cell(i + ivec3(1,0,1)), f.x), mix(cell(i + ivec3(0,1,1)), cell(i + ivec3(1,1,1)), f.x), f.y);
  return 2.0 * mix(a, b, f.z) - 1.0;
}
float fractal(vec3 p) { return (noise(p) + 0.5 * noise(p * 2.03 + 7.0) + 0.25 * noise(p * 4.1 + 19.0)) / 1.4; }
`;

/** How bright a colour looks, 0 to 1, from linear light. */
export const LOOKS = /* glsl */ `float looks(vec3 c) { return pow(clamp(dot(c, vec3(0.2126, 0.7152, 0.0722)), 0.0, 1.0), 0.4545); }`;

/** Most lights that shine on solids; all light what lies beneath them. */
export const LIGHTS_MOST = 8;
/** What is the same for all that is drawn in one picture; uniforms are shared by reference. */
export interface Surroundings {
  /** Picture pixels to one pixel that is drawn. */
  readonly perPixel: IUniform<number>;
  /** Each light: where (x, y, reach), then its colour times its brightness. */
  readonly lightAt: IUniform<Vector4[]>;
  readonly lightInk: IUniform<Vector4[]>;
  readonly lights: IUniform<number>;
  /** Share of copies and particles that the budget lets through. */
  readonly counts: IUniform<number>;
}
export function makeSurroundings(): Surroundings {
  const four = (): Vector4[] => Array.from({ length: LIGHTS_MOST }, () => new Vector4());
  return {
    perPixel: { value: 1 },
    lightAt: { value: four() },
    lightInk: { value: four() },
    lights: { value: 0 },
    counts: { value: 1 },
  };
}

/** A flat material: painted in order, with what is behind it showing where it is not. */
export function flat(
  uniforms: Record<string, IUniform>,
  vertexShader: string,
  fragment: string,
  more: Partial<ConstructorParameters<typeof ShaderMaterial>[0]> = {},
): ShaderMaterial {
  return new ShaderMaterial({
    uniforms,
    vertexShader,
    fragmentShader: `${fragment}\n`,
    transparent: true,
    depthTest: false,
    depthWrite: false,
    ...more,
  });
}
/** How every fragment ends: `ink` in linear light, `alpha` not yet multiplied in. */
export const END = /* glsl */ `gl_FragColor = vec4(ink, alpha);\n#include <colorspace_fragment>`;

export const uniform = <T>(value: T): IUniform<T> => ({ value });
export const inkUniform = (): IUniform<Color> => ({ value: new Color() });
export function putInk(u: IUniform<Color>, v: Float32Array, at: number): void {
  u.value.setRGB(v[at]!, v[at + 1]!, v[at + 2]!);
}

const NONE = new Float32Array(0);
/**
 * Several row parameters of one figure as one small texture: a line each, as many points as each has. `row(line, u)` in a shader
 * reads one at a share of its length. A parameter over which no row is laid is a row of one point.
 */
export class RowTexture {
  readonly uniforms: { readonly rows: IUniform<DataTexture>; readonly points: IUniform<number[]> };
  static readonly shader = (lines: number): string => /* glsl */ `
uniform sampler2D rows; uniform float points[${lines}];
float row(int line, float u) { float x = clamp(u, 0.0, 1.0) * (points[line] - 1.0); int i = int(floor(x)); int last = int(points[line]) - 1;
  return mix(texelFetch(rows, ivec2(min(i, last), line), 0).r, texelFetch(rows, ivec2(min(i + 1, last), line), 0).r, x - float(i)); }
`;
  readonly #names: readonly string[];
  #width = 1;
  #at: number[] = [];
  #place: (readonly [number, number] | null)[] = [];

  constructor(names: readonly string[]) {
    this.#names = names;
    this.uniforms = { rows: uniform(this.#texture(1)), points: uniform(names.map(() => 1)) };
  }
  #texture(width: number): DataTexture {
    const t = new DataTexture(
      new Float32Array(width * this.#names.length),
      width,
      this.#names.length,
      RedFormat,
      FloatType,
    );
    t.minFilter = t.magFilter = NearestFilter;
    t.needsUpdate = true;
    return t;
  }
  place(places: Places): void {
    this.#at = this.#names.map((n) => places.of(n));
    this.#place = this.#names.map((n) => places.row(n));
    const width = Math.max(1, ...this.#place.map((p) => p?.[1] ?? 1));
    if (width !== this.#width) {
      this.uniforms.rows.value.dispose();
      this.uniforms.rows.value = this.#texture(width);
      this.#width = width;
    }
    this.#place.forEach((p, i) => {
      this.uniforms.points.value[i] = p?.[1] ?? 1;
    });
  }
  update(values: Float32Array, vectors: Float32Array = NONE): void {
    const { value: texture } = this.uniforms.rows,
      data = texture.image.data as unknown as Float32Array;
    for (let k = 0; k < this.#names.length; k++) {
      const place = this.#place[k] ?? null,
        to = k * this.#width;
      if (place === null || vectors.length === 0) {
        const x = values[this.#at[k]!]!,
          n = this.uniforms.points.value[k]!;
        for (let i = 0; i < n; i++) data[to + i] = x;
      } else for (let i = 0; i < place[1]; i++) data[to + i] = vectors[place[0] + i]!;
    }
    texture.needsUpdate = true;
  }
  dispose(): void {
    this.uniforms.rows.value.dispose();
  }
}
