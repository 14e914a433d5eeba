import type { FinishKind } from '../../../core/finishes';
import { RAMP } from '../ramp';
import { LOOKS, NOISE } from '../shade';

/** Sources outside the picture are nothing; colours have their alpha multiplied in. */
const SAMPLE = /* glsl */ `
vec4 pick(sampler2D from, vec2 p) { if (p.x < 0.0 || p.y < 0.0 || p.x > 1.0 || p.y > 1.0) return vec4(0.0); return texture(from, p); }
vec4 held(sampler2D from, vec2 p) { return texture(from, clamp(p, 0.0, 1.0)); }
vec3 bare(vec4 c) { return c.a > 1e-4 ? c.rgb / c.a : c.rgb; }
vec3 toEye(vec3 c) { return pow(max(c, 0.0), vec3(0.4545)); }
`;
const MIDDLE = /* glsl */ `vec2 d = (at - vec2(p_middleX, p_middleY) / 100.0) * PICTURE; float r = length(d); vec2 out_ = r > 1e-4 ? d / r : vec2(0.0);`;

/** The numbers of a finish that are all 0 when it does nothing. */
export const HIDDEN_WHEN: Partial<Readonly<Record<FinishKind, readonly string[]>>> = {
  trails: ['mix'],
  bend: ['bend'],
  ripple: ['depth'],
  shove: ['across', 'height'],
  blur: ['radius'],
  glow: ['strength'],
  grain: ['amount'],
  ramp: ['mix'],
  mirror: ['mix'],
  flash: ['level'],
};

export const FRAGMENTS: Readonly<Record<FinishKind, { readonly main: string; readonly extra?: string }>> = {
  trails: {
    main: /* glsl */ `${SAMPLE}
    void main() {
      vec4 now_ = texture(source, at);
      if (has < 0.5) { result = now_; return; }
      /* Everything by time: so much a second, however often it is drawn. */
      float z = exp2(-p_zoom * dt), t = radians(-p_turn * dt), c = cos(t), s = sin(t);
      vec2 p = (at - 0.5) * PICTURE;
      p = vec2(c * p.x - s * p.y, s * p.x + c * p.y) * z - vec2(p_across, p_height) * dt;
      vec2 q = p / PICTURE + 0.5, far = min(q, 1.0 - q) * PICTURE;
      vec4 old = pick(before, q) * pow(0.1, dt / max(p_last, 0.01));
      /* What turns or shrinks brings the rim of the picture into it: there it fades beforehand, or it would show as a cut. */
      float moving = min(1.0, abs(p_turn) / 20.0 + max(0.0, -p_zoom) * 2.0 + length(vec2(p_across, p_height)) / 60.0);
      old *= pow(max(smoothstep(0.0, 130.0, min(far.x, far.y)), 1e-3), 5.0 * moving * dt);
      /* What is nearly gone goes, or it would stand for ever as a shadow. */
      old = max(old - 0.0004 * step(1e-6, dt), 0.0);
      result = whole > 0.5 ? vec4(max(now_.rgb, old.rgb), 1.0) : now_ + (1.0 - now_.a) * old;
    }`,
    extra: /* glsl */ `void main() { result = mix(texture(source, at), texture(other, at), p_mix / 100.0); }`,
  },
  bend: {
    main: /* glsl */ `${SAMPLE}
    void main() {
      ${MIDDLE}
      float R = p_reach / 100.0 * PICTURE.y, x = min(1.0, r / R), k = p_bend / 100.0;
      /* Within its p_reach a point is fetched from nearer to the middle (a bulge) or from farther out (a pinch); at the edge nothing moves. */
      float y = k >= 0.0 ? mix(x, x * x * (1.5 - 0.5 * x) , k) : mix(x, pow(x, 0.45), -k);
      vec2 p = r < R ? at + out_ * (y * R - r) / PICTURE : at;
      result = held(source, p);
    }`,
  },
  ripple: {
    main: /* glsl */ `${SAMPLE}
    void main() {
      ${MIDDLE}
      vec2 p = at + out_ * p_depth * sin(6.2831853 * (r - p_speedSum) / p_length) / PICTURE;
      result = held(source, p);
    }`,
  },
  shove: {
    main: /* glsl */ `${SAMPLE}${NOISE}${LOOKS}
    void main() {
      vec4 by = texture(other, at);
      float x = has > 0.5 ? looks(by.rgb) * 2.0 - 1.0 : fractal(vec3(at * PICTURE / p_scale, p_driftSum));
      float y = has > 0.5 ? x : fractal(vec3(at * PICTURE / p_scale + 31.0, p_driftSum));
      if (has > 0.5 && by.a < 0.01) { x = 0.0; y = 0.0; }
      vec2 p = at - vec2(p_across * x, p_height * y) / PICTURE;
      result = held(source, p);
    }`,
  },
  blur: {
    main: /* glsl */ `void main() { result = mix(texture(source, at), texture(other, at), p_mix / 100.0); }`,
  },
  glow: {
    main: /* glsl */ `void main() { vec4 c = texture(source, at), g = texture(other, at) * p_strength / 100.0; result = vec4(c.rgb + g.rgb, whole > 0.5 ? 1.0 : max(c.a, min(1.0, c.a + g.a * 0.6))); }`,
    extra: /* glsl */ `${LOOKS}void main() { vec4 c = texture(source, at); float f = p_from / 100.0; result = c * smoothstep(f, min(1.0, f + 0.25) + 0.001, looks(c.rgb)); }`,
  },
  grain: {
    main: /* glsl */ `
    void main() {
      vec4 c = texture(source, at);
      /* In the eye’s own measure, so that dark and light take it alike. */
      vec3 e = pow(max(c.rgb, 0.0), vec3(0.4545)) + texture(other, at).r * p_amount / 100.0 * 0.5 * c.a;
      result = vec4(pow(clamp(e, 0.0, 1.0), vec3(2.2)), c.a);
    }`,
    // The paper itself: drawn when it becomes another, not with every picture.
    extra: /* glsl */ `${NOISE}
    void main() {
      vec2 p = floor(at * PICTURE / p_size);
      float n = cell(ivec3(p, int(floor(p_paceSum)))) - 0.5;
      float fibre = noise(vec3(at * PICTURE * vec2(0.02, 0.3) / p_size, floor(p_paceSum))) * 0.25;
      result = vec4(n + fibre);
    }`,
  },
  ramp: {
    main: /* glsl */ `${SAMPLE}${LOOKS}${RAMP}
    void main() {
      vec4 c = texture(source, at);
      float x = clamp(looks(bare(c)) + p_shift / 100.0, 0.0, 1.0);
      if (p_inks > 1.5) x = floor(min(x, 0.9999) * p_inks) / (p_inks - 1.0); else if (p_inks > 0.5) x = 0.5;
      vec3 ink = inkAt(x);
      result = mix(c, vec4(ink * c.a, c.a), p_mix / 100.0);
    }`,
  },
  mirror: {
    main: /* glsl */ `
    void main() {
      ivec2 size = textureSize(source, 0), p = ivec2(gl_FragCoord.xy), q = size - 1 - p, h = size / 2, o = p;
      /* Texel for texel: the copy is exact. */
      if (mode == 0) o.x = q.x;
      else if (mode == 1) o.y = q.y;
      else if (mode == 2) { if (p.x >= h.x) o.x = q.x; }
      else if (mode == 3) { if (p.x < h.x) o.x = q.x; }
      else if (mode == 4) { if (p.y >= h.y) o.y = q.y; }
      else if (mode == 5) { if (p.y < h.y) o.y = q.y; }
      else { if (p.x >= h.x) o.x = q.x; if (p.y >= h.y) o.y = q.y; }
      vec4 c = texelFetch(source, o, 0);
      result = p_mix >= 100.0 ? c : mix(texelFetch(source, p, 0), c, p_mix / 100.0);
    }`,
  },
  key: {
    main: /* glsl */ `${SAMPLE}
    void main() {
      vec4 c = texture(source, at);
      float far = distance(toEye(bare(c)), toEye(p_colour)) / 1.7320508, k = smoothstep(p_reach / 100.0, (p_reach + p_soft) / 100.0 + 1e-4, far);
      result = c * k;
    }`,
  },
  flash: {
    main: /* glsl */ `void main() { vec4 c = texture(source, at); result = vec4(mix(c.rgb, p_ink * c.a, p_level / 100.0), c.a); }`,
  },
  appear: {
    main: /* glsl */ `${SAMPLE}
    void main() {
      float k = clamp(p_in / 100.0, 0.0, 1.0), away = 1.0 - k;
      vec2 m = vec2(p_middleX, p_middleY) / 100.0;
      if (mode == 0) result = texture(source, at) * k;
      else if (mode == 1) result = pick(source, at + vec2(0.0, away * p_far) / PICTURE) * k;
      else if (mode == 2) result = pick(source, at + vec2(away * p_far, 0.0) / PICTURE) * k;
      else if (mode == 3) result = k > 0.001 ? pick(source, m + (at - m) / k) * min(1.0, 4.0 * k) : vec4(0.0);
      else { float x = ((at.x - m.x) * PICTURE.x / max(p_far, 1.0) + 1.0) * 0.5; result = texture(source, at) * (1.0 - smoothstep(k * 1.1 - 0.1, k * 1.1 + 1e-4, x)); }
    }`,
  },
  mask: {
    main: /* glsl */ `
    void main() {
      vec4 c = texture(source, at);
      float m = texture(other, at).a;
      float in_ = p_inner > 0.2 ? (1.0 - texture(third, at).a) * 2.0 * m : 0.0, out_ = p_outer > 0.2 ? texture(before, at).a * 2.0 * (1.0 - m) : 0.0;
      if (mode == 1) { m = 1.0 - m; float t = in_; in_ = out_; out_ = t; }
      vec4 cut = c * m;
      float g = clamp(in_, 0.0, 1.0);
      cut.rgb = mix(cut.rgb, p_ink * cut.a, g);
      float o = clamp(out_, 0.0, 1.0) * (1.0 - cut.a);
      result = cut + vec4(p_ink * o, o);
    }`,
  },
};
