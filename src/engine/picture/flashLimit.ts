import { FloatType, NearestFilter, WebGLRenderTarget, type Texture, type WebGLRenderer } from 'three';
import { passMaterial, type Passes } from './passes';

/**
 * Holds back flashes of the whole picture. The mean brightness is taken on the graphics processor, and so is what is allowed:
 * nothing waits for it. A flash is a rise by a tenth of white or more over the darkest since the last one; one that comes before
 * its time is held at that tenth. Source of the tenth: ITU-R BT.1702, guidance for the reduction of photosensitive seizures.
 */
const STATE = /* glsl */ `
uniform sampler2D source, before; uniform float limit, dt, fresh;
void main() {
  float sum = 0.0;
  for (int y = 0; y < 18; y++) for (int x = 0; x < 32; x++) sum += dot(min(texture(source, (vec2(x, y) + 0.5) / vec2(32.0, 18.0)).rgb, 1.0), vec3(0.2126, 0.7152, 0.0722));
  float L = sum / 576.0;
  vec4 s = texelFetch(before, ivec2(0, 0), 0);
  float low = s.x, since = s.y + dt, rising = s.z, last = s.w, out_ = L;
  if (fresh > 0.5) { low = L; since = 100.0; rising = 0.0; last = L; }
  else if (L > low + 0.1) {
    /* A rise that was let through goes on to its top. */
    if (rising > 0.5 && L >= last - 0.02) {}
    else if (since * limit >= 1.0) { since = 0.0; rising = 1.0; }
    else { out_ = low + 0.1; rising = 0.0; }
  }
  if (rising > 0.5 && L < last - 0.02) { rising = 0.0; low = L; }
  if (rising < 0.5) low = min(low, out_);
  /* A picture that stays bright is no flash: what it rests at is slowly taken for its low. */
  low += (out_ - low) * (1.0 - exp(-dt / 1.5));
  float gain = L > 1e-4 ? clamp(out_ / L, 0.0, 1.0) : 1.0;
  result = gl_FragCoord.x < 1.0 ? vec4(low, since, rising, out_) : vec4(gain, L, out_, 1.0);
}`;

export class FlashLimit {
  readonly #u = {
    source: { value: null as Texture | null },
    before: { value: null as Texture | null },
    limit: { value: 3 },
    dt: { value: 0 },
    fresh: { value: 1 },
  };
  readonly #material = passMaterial(this.#u, STATE);
  readonly #states = [0, 1].map(
    () =>
      new WebGLRenderTarget(2, 1, {
        type: FloatType,
        minFilter: NearestFilter,
        magFilter: NearestFilter,
        depthBuffer: false,
        generateMipmaps: false,
      }),
  );
  #turn = 0;
  /** @param dt - seconds on the clock since the frame before @returns a texture whose second point's red is what the picture is multiplied by */
  run(renderer: WebGLRenderer, passes: Passes, source: Texture, limit: number, dt: number): Texture {
    const from = this.#states[this.#turn]!,
      to = this.#states[(this.#turn = 1 - this.#turn)]!;
    this.#u.source.value = source;
    this.#u.before.value = from.texture;
    this.#u.limit.value = limit;
    this.#u.dt.value = Math.min(0.5, dt);
    passes.run(renderer, this.#material, to);
    this.#u.fresh.value = 0;
    return to.texture;
  }
  dispose(): void {
    this.#material.dispose();
    for (const s of this.#states) s.dispose();
  }
}
