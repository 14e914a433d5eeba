import { BufferGeometry, Float32BufferAttribute, Group, Mesh, ShaderMaterial, Vector3 } from 'three';
import { OVERHANG } from '../../../core/figures';
import { seeded } from '../../../core/random';
import type { Figure } from '../../../core/show';
import type { Drawn } from './drawn';
import type { Places } from '../places';

const SEGMENTS = 128;
const ROW_RISE = 34;
/** Lengths of the long and short waves, row by row; each divides the length at which the way starts over. */
const LONG = [320, 400, 256, 500, 320, 400];
const SHORT = [80, 64, 100, 80, 64, 100];

const VERTEX = `
attribute vec4 wave;  // long and short wave length, phase, how much of the drift this row takes
attribute vec3 cut;   // 1 at the crest and 0 at the foot; offset below the crest; shade
uniform float swell, chop, way, lift;
varying float shade;
const float TAU = 6.28318530718;
void main() {
  float x = position.x - way * wave.w;
  float y = swell * (0.62 * sin(TAU * x / wave.x + wave.z) + 0.38 * abs(sin(TAU * x / (2.0 * wave.x) + wave.z)))
          + chop * sin(TAU * x / wave.y + wave.z * 3.0);
  shade = cut.z;
  vec3 p = position;
  p.y += lift + y * cut.x - cut.y;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(p, 1.0);
}`;
const FRAGMENT = `
uniform vec3 ink;
varying float shade;
void main() {
  vec3 night = vec3(0.0060, 0.0152, 0.0252);
  vec3 paper = vec3(0.8880, 0.8148, 0.6584);
  vec3 c = shade > 1.0 ? mix(ink, paper, shade - 1.0) : mix(night, ink, shade);
  gl_FragColor = vec4(c, 1.0);
  #include <colorspace_fragment>
}`;

/** Rows of waves, each a block of ink with a cut below its crest; the water moves in the vertex shader. */
export class WavesFigure implements Drawn {
  readonly object = new Group();
  readonly #geometry = new BufferGeometry();
  readonly #material: ShaderMaterial;
  readonly #ink = new Vector3();
  #y = 0;
  #at = { swell: -1, chop: -1, drift: -1, height: -1, ink: -1 };

  /** @param width - of what it is drawn on */
  constructor(rows: number, figure: Figure, places: Places, width: number) {
    const left = (width * (1 - OVERHANG)) / 2,
      right = width - left;
    const position: number[] = [],
      wave: number[] = [],
      cut: number[] = [],
      index: number[] = [];
    const random = seeded(rows * 131);
    /** One ribbon along the wave: its top and bottom run at a distance below the crest. */
    const ribbon = (
      row: number,
      top: number,
      bottom: number,
      bottomFollows: boolean,
      shade: number,
      from = left,
      to = right,
    ): void => {
      const base = (rows - row) * ROW_RISE - 8;
      const steps = Math.max(2, Math.round((SEGMENTS * (to - from)) / width));
      const first = position.length / 3;
      for (let i = 0; i <= steps; i++) {
        const x = from + ((to - from) * i) / steps;
        // Cut strokes thin out towards their ends.
        const thin = from > left || to < right ? Math.sin((Math.PI * i) / steps) : 1;
        position.push(x, base, 0, x, bottomFollows ? base : -60, 0);
        const w = [LONG[row % LONG.length]!, SHORT[row % SHORT.length]!, row * 2.1, row % 2 ? 0.75 : 1];
        wave.push(...w, ...w);
        cut.push(
          1,
          top,
          shade,
          bottomFollows ? 1 : 0,
          bottomFollows ? top + (bottom - top) * thin : 0,
          shade,
        );
        if (i < steps) {
          const a = first + i * 2;
          index.push(a, a + 1, a + 2, a + 1, a + 3, a + 2);
        }
      }
    };
    for (let row = 0; row < rows; row++) {
      const shade = row % 2 ? 0.34 : 1;
      ribbon(row, 0, 0, false, shade);
      ribbon(row, 13, 20, true, row % 2 ? 1 : 0.12);
      for (let x = 20 + random() * 120; x < width - 80; x += 130 + random() * 220)
        ribbon(row, 4 + random() * 4, 10 + random() * 3, true, 1.85, x, x + 26 + random() * 36);
    }
    this.#geometry.setAttribute('position', new Float32BufferAttribute(position, 3));
    this.#geometry.setAttribute('wave', new Float32BufferAttribute(wave, 4));
    this.#geometry.setAttribute('cut', new Float32BufferAttribute(cut, 3));
    this.#geometry.setIndex(index);
    this.#material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        swell: { value: 0 },
        chop: { value: 0 },
        way: { value: 0 },
        lift: { value: 0 },
        ink: { value: this.#ink },
      },
    });
    const mesh = new Mesh(this.#geometry, this.#material);
    this.object.add(mesh);
    this.place(figure, places);
  }
  place({ at }: Figure, places: Places): void {
    this.object.position.x = at.x;
    this.#y = at.y;
    this.#at = {
      swell: places.of('swell'),
      chop: places.of('chop'),
      drift: places.of('drift:sum'),
      height: places.of('height'),
      ink: places.of('ink'),
    };
  }
  update(v: Float32Array): void {
    const u = this.#material.uniforms;
    u.swell!.value = v[this.#at.swell]!;
    u.chop!.value = v[this.#at.chop]!;
    u.way!.value = v[this.#at.drift]!;
    u.lift!.value = this.#y + v[this.#at.height]!;
    this.#ink.set(v[this.#at.ink]!, v[this.#at.ink + 1]!, v[this.#at.ink + 2]!);
  }
  dispose(): void {
    this.#geometry.dispose();
    this.#material.dispose();
  }
}
