import {
  BufferAttribute,
  BufferGeometry,
  GLSL3,
  HalfFloatType,
  LinearFilter,
  Mesh,
  NoBlending,
  OrthographicCamera,
  RawShaderMaterial,
  Scene,
  SRGBColorSpace,
  UnsignedByteType,
  WebGLRenderTarget,
  type Blending,
  type IUniform,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';

/** Width and height of what is drawn on, in its own pixels: the same for every pass. Whoever draws sets it before. */
export const surfaceSize: IUniform<number[]> = { value: [PICTURE_WIDTH, PICTURE_HEIGHT] };

/** Colours in targets are linear light with their alpha multiplied in. */
export const HEAD = /* glsl */ `precision highp float; precision highp int; precision highp sampler2D;
in vec2 at; out vec4 result;
uniform vec2 PICTURE;
`;
const VERTEX = /* glsl */ `in vec3 position; out vec2 at; void main() { at = position.xy * 0.5 + 0.5; gl_Position = vec4(position.xy, 0.0, 1.0); }`;

/** A shader that is run once for every pixel of a target. */
export function passMaterial(
  uniforms: Record<string, IUniform>,
  fragment: string,
  blending: Blending = NoBlending,
): RawShaderMaterial {
  uniforms.PICTURE = surfaceSize;
  return new RawShaderMaterial({
    uniforms,
    vertexShader: VERTEX,
    fragmentShader: HEAD + fragment,
    glslVersion: GLSL3,
    depthTest: false,
    depthWrite: false,
    transparent: true,
    blending,
  });
}

/** Runs passes; one triangle, larger than the target, for all of them. */
export class Passes {
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera();
  readonly #mesh: Mesh<BufferGeometry, RawShaderMaterial>;
  constructor() {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3));
    this.#mesh = new Mesh(g, passMaterial({}, 'void main() { result = vec4(0.0); }'));
    this.#mesh.frustumCulled = false;
    this.#scene.add(this.#mesh);
  }
  run(renderer: WebGLRenderer, material: RawShaderMaterial, target: WebGLRenderTarget | null): void {
    this.#mesh.material = material;
    renderer.setRenderTarget(target);
    renderer.render(this.#scene, this.#camera);
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
  }
}

/** Targets that are lent for one frame and given back; no frame makes a new one once all that it needs are there. */
export class Targets {
  #width = 2;
  #height = 2;
  #smooth = true;
  readonly #free: WebGLRenderTarget[] = [];
  readonly #small: WebGLRenderTarget[] = [];
  readonly #drawn: WebGLRenderTarget[] = [];
  readonly #lent: WebGLRenderTarget[] = [];

  /** @param smooth - figures are drawn with smooth edges */
  size(width: number, height: number, smooth = true): void {
    if (width === this.#width && height === this.#height && smooth === this.#smooth) return;
    this.#smooth = smooth;
    this.#width = width;
    this.#height = height;
    for (const list of [this.#free, this.#small, this.#drawn]) {
      for (const t of list) t.dispose();
      list.length = 0;
    }
  }
  get width(): number {
    return this.#width;
  }
  get height(): number {
    return this.#height;
  }

  /** For a pass. */
  take(): WebGLRenderTarget {
    return this.#lend(this.#free.pop() ?? plain(this.#width, this.#height));
  }
  /** A quarter as wide and high, for what is soft anyway. */
  takeSmall(): WebGLRenderTarget {
    return this.#lend(
      this.#small.pop() ?? plain(Math.max(1, this.#width >> 2), Math.max(1, this.#height >> 2)),
    );
  }
  /** For figures: with depth and smooth edges. */
  takeDrawn(): WebGLRenderTarget {
    return this.#lend(this.#drawn.pop() ?? plain(this.#width, this.#height, true, this.#smooth));
  }
  #lend(t: WebGLRenderTarget): WebGLRenderTarget {
    this.#lent.push(t);
    return t;
  }
  /** Takes everything back, at the end of a frame. */
  back(): void {
    for (let i = 0; i < this.#lent.length; i++) {
      const t = this.#lent[i]!;
      (t.depthBuffer ? this.#drawn : t.width === this.#width ? this.#free : this.#small).push(t);
    }
    this.#lent.length = 0;
  }
  dispose(): void {
    this.back();
    for (const list of [this.#free, this.#small, this.#drawn]) for (const t of list) t.dispose();
  }
}

export function plain(width: number, height: number, drawn = false, smooth = drawn): WebGLRenderTarget {
  // What figures are drawn on is printed in eight bits, as a screen is; what finishes work on needs more.
  return new WebGLRenderTarget(width, height, {
    ...(drawn ? { type: UnsignedByteType, colorSpace: SRGBColorSpace } : { type: HalfFloatType }),
    minFilter: LinearFilter,
    magFilter: LinearFilter,
    depthBuffer: drawn,
    stencilBuffer: false,
    samples: smooth ? 4 : 0,
    generateMipmaps: false,
  });
}

const BLUR = /* glsl */ `uniform sampler2D source; uniform vec2 step_; uniform float radius;
void main() {
  /* Thirteen taps between pixels; two standard deviations are the radius. */
  vec4 sum = vec4(0.0); float total = 0.0;
  for (int i = -6; i <= 6; i++) { float x = float(i) / 6.0, w = exp(-2.0 * x * x); sum += texture(source, at + step_ * radius * x) * w; total += w; }
  result = sum / total;
}`;
/** Spreads a picture; on a quarter of its size once it is soft enough for nobody to see that. */
export class Blur {
  readonly #u = { source: { value: null as Texture | null }, step_: { value: [0, 0] }, radius: { value: 0 } };
  readonly #material = passMaterial(this.#u, BLUR);
  /** @param radius - in picture pixels @returns the target with the result */
  run(
    renderer: WebGLRenderer,
    passes: Passes,
    targets: Targets,
    source: Texture,
    radius: number,
  ): WebGLRenderTarget {
    const u = this.#u,
      small = radius > 10,
      take = (): WebGLRenderTarget => (small ? targets.takeSmall() : targets.take());
    let from = source,
      out = take();
    // Wide ones in several rounds, each wider than the one before: the squares of their radii add up.
    const rounds = radius > 40 ? 3 : radius > 10 ? 2 : 1,
      total = rounds === 1 ? 1 : rounds === 2 ? Math.sqrt(1 + 0.25) : Math.sqrt(1 + 0.25 + 0.0625);
    for (let i = 0, r = radius / total; i < rounds; i++, r /= 2) {
      const other = take();
      u.radius.value = r;
      u.source.value = from;
      u.step_.value[0] = 1 / surfaceSize.value[0]!;
      u.step_.value[1] = 0;
      passes.run(renderer, this.#material, other);
      u.source.value = other.texture;
      u.step_.value[0] = 0;
      u.step_.value[1] = 1 / surfaceSize.value[1]!;
      if (i > 0) out = take();
      passes.run(renderer, this.#material, out);
      from = out.texture;
    }
    return out;
  }
  dispose(): void {
    this.#material.dispose();
  }
}
