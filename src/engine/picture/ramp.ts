import { type Color, type IUniform, Vector4 } from 'three';
import { RAMP_MOST, rampColour, type RampStop, toLinear, wholeRamp } from '../../core/parameters';
import type { Places } from './places';

/** `inkAt(x)` in a fragment shader: the ramp's colour at 0 to 1, in linear light. */
export const RAMP = /* glsl */ `
uniform vec4 inkStops[${RAMP_MOST}]; uniform int inkCount;
vec3 inkAt(float x) {
  vec4 before = inkStops[0]; vec3 ink = before.rgb;
  for (int i = 1; i < ${RAMP_MOST}; i++) {
    if (i >= inkCount) break;
    vec4 next = inkStops[i];
    ink = mix(ink, next.rgb, clamp((x - before.a) / max(1e-5, next.a - before.a), 0.0, 1.0));
    before = next;
  }
  return ink;
}`;

/** The inks of one figure or finish, at their places on its ramp. */
export class Inks {
  readonly uniforms: { readonly inkStops: IUniform<Vector4[]>; readonly inkCount: IUniform<number> } = {
    inkStops: { value: Array.from({ length: RAMP_MOST }, () => new Vector4()) },
    inkCount: { value: 1 },
  };
  /** Linear red, green, blue, and where, of each. */
  readonly #stops = new Float32Array(RAMP_MOST * 4);
  /** Where the number of each stands in a frame; −1 for one that stays. */
  readonly #from = new Int32Array(RAMP_MOST).fill(-1);
  readonly #own: readonly string[];
  readonly #colour = new Float32Array(3);

  /** @param own - its colour parameters that lie on the ramp, first to last */
  constructor(own: readonly string[]) {
    this.#own = own;
  }
  place(places: Places, ramp: readonly RampStop[] | null | undefined): void {
    const stops = wholeRamp(ramp, this.#own);
    this.#from.fill(-1);
    stops.forEach(({ at, ink }, i) => {
      if (ink.startsWith('#')) toLinear(ink, this.#stops, i * 4);
      else this.#from[i] = places.of(ink);
      this.#stops[i * 4 + 3] = at;
    });
    this.uniforms.inkCount.value = stops.length;
  }
  /** Takes the frame's colours. Allocates nothing. @returns whether anything is another than before */
  update(v: Float32Array): boolean {
    const { value: list } = this.uniforms.inkStops,
      n = this.uniforms.inkCount.value,
      s = this.#stops;
    let changed = false;
    for (let i = 0; i < n; i++) {
      const from = this.#from[i]!;
      if (from >= 0) for (let c = 0; c < 3; c++) s[i * 4 + c] = v[from + c]!;
      const to = list[i]!;
      if (to.x === s[i * 4] && to.y === s[i * 4 + 1] && to.z === s[i * 4 + 2] && to.w === s[i * 4 + 3])
        continue;
      to.set(s[i * 4]!, s[i * 4 + 1]!, s[i * 4 + 2]!, s[i * 4 + 3]!);
      changed = true;
    }
    return changed;
  }
  /** The colour at 0 to 1, as the shader has it. */
  at(x: number, out: Color): Color {
    rampColour(this.#stops, this.uniforms.inkCount.value, x, this.#colour);
    return out.setRGB(this.#colour[0]!, this.#colour[1]!, this.#colour[2]!);
  }
}
