import {
  AdditiveBlending,
  CustomBlending,
  DstColorFactor,
  Group,
  Mesh,
  OneFactor,
  PlaneGeometry,
  ZeroFactor,
  type ShaderMaterial,
} from 'three';
import type { Figure } from '../../../core/show';
import { flat, inkUniform, LIGHTS_MOST, putInk, uniform } from '../shade';
import type { Drawn, Workshop } from './drawn';
import type { Places } from '../places';

const VERTEX = /* glsl */ `varying vec2 vAt; void main() { vAt = position.xy * 2.0; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;
const FALL = /* glsl */ `float r = length(vAt); if (r >= 1.0) discard; float fall = (1.0 - r) * (1.0 - r);`;
/** What is beneath is multiplied by one and the light: black stays black, as under a lamp. */
const LIT = /* glsl */ `uniform vec3 ink; uniform float bright; varying vec2 vAt; void main() { ${FALL} gl_FragColor = vec4(ink * 1.5 * (1.0 - exp(-1.6 * bright * fall)), 0.0);\n#include <colorspace_fragment>\n}`;
const HALO = /* glsl */ `uniform vec3 ink; uniform float bright, halo; varying vec2 vAt;
void main() { ${FALL} float rays = 0.75 + 0.25 * step(0.5, fract(atan(vAt.y, vAt.x) * 2.5465)); float core = smoothstep(0.034, 0.024, r);
  gl_FragColor = vec4(ink, min(1.0, halo * min(bright, 2.0) * fall * fall * rays + core * min(bright, 1.0)));\n#include <colorspace_fragment>\n}`;

/** A lamp in the picture: it lights what lies beneath it and the solids around it, and hangs a halo in the air. */
export class LightFigure implements Drawn {
  readonly object = new Group();
  readonly #around: Workshop['around'];
  readonly #own: Mesh<PlaneGeometry, ShaderMaterial>[];
  readonly #u = { ink: inkUniform(), bright: uniform(1), halo: uniform(0.2) };
  #base = { x: 0, y: 0 };
  #at = { across: -1, height: -1, bright: -1, reach: -1, halo: -1, ink: -1 };

  constructor(figure: Figure, places: Places, { around }: Workshop) {
    this.#around = around;
    const square = new PlaneGeometry(1, 1);
    const lit = flat(this.#u, VERTEX, LIT, {
      blending: CustomBlending,
      blendSrc: DstColorFactor,
      blendDst: OneFactor,
      blendSrcAlpha: ZeroFactor,
      blendDstAlpha: OneFactor,
    });
    this.#own = [
      new Mesh(square, lit),
      new Mesh(square, flat(this.#u, VERTEX, HALO, { blending: AdditiveBlending })),
    ];
    this.#own.forEach((m, i) => {
      m.renderOrder = i;
      this.object.add(m);
    });
    this.place(figure, places);
  }
  place({ at }: Figure, places: Places): void {
    this.#base = at;
    const of = (p: string): number => places.of(p);
    this.#at = {
      across: of('across'),
      height: of('height'),
      bright: of('bright'),
      reach: of('reach'),
      halo: of('halo'),
      ink: of('ink'),
    };
  }
  update(v: Float32Array): void {
    const at = this.#at,
      u = this.#u,
      reach = v[at.reach]!,
      bright = v[at.bright]! / 100,
      around = this.#around,
      n = around.lights.value;
    const x = this.#base.x + v[at.across]!,
      y = this.#base.y + v[at.height]!;
    this.object.position.set(x, y, 0);
    this.object.scale.set(reach * 2, reach * 2, 1);
    u.bright.value = bright;
    u.halo.value = v[at.halo]! / 100;
    putInk(u.ink, v, at.ink);
    if (n >= LIGHTS_MOST) return;
    around.lightAt.value[n]!.set(x, y, reach, 0);
    around.lightInk.value[n]!.set(u.ink.value.r * bright, u.ink.value.g * bright, u.ink.value.b * bright, 0);
    around.lights.value = n + 1;
  }
  dispose(): void {
    this.#own[0]!.geometry.dispose();
    for (const m of this.#own) m.material.dispose();
  }
}
