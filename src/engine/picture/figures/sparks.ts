import {
  BufferAttribute,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  Mesh,
  type ShaderMaterial,
} from 'three';
import { type EdgeForm, placeOnOutline } from '../../../core/figures';
import { END, flat, uniform } from '../shade';

const SPARKS = 128;
export const SPARK_SECONDS = 0.7;
const SPARK_REACH = 40;
/** Sparks keep so far from the corners, in surface pixels. */
const SPARK_ROOM = 58;
const SPARK = /* glsl */ `
attribute vec4 spark; uniform float now;
void main() {
  float left = 1.0 - (now - spark.z) / ${SPARK_SECONDS};
  vec2 p = spark.xy + position.xy * spark.w * ${SPARK_REACH}.0 * sqrt(clamp(left, 0.0, 1.0));
  gl_Position = left > 0.0 ? projectionMatrix * modelViewMatrix * vec4(p, 0.0, 1.0) : vec4(2.0, 2.0, 2.0, 1.0);
}`;
const SPARK_INK = /* glsl */ `uniform vec3 ink; uniform float shown; void main() { float alpha = shown; ${END} }`;

/** Sparks along the border: each hit leaves one of its own, as large as the hit was strong, however seldom it is drawn. */
export class Sparks {
  readonly mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  /** How many there have been. */
  count = 0;
  readonly #form: EdgeForm;
  readonly #born = new InstancedBufferAttribute(new Float32Array(SPARKS * 4), 4);
  readonly #now = uniform(0);
  readonly #place = [0, 0];
  #time = 0;
  readonly #from = performance.now() / 1000;

  constructor(form: EdgeForm, uniforms: Parameters<typeof flat>[0]) {
    this.#form = form;
    const g = new InstancedBufferGeometry(),
      points = [0, 0, 0];
    for (let i = 0; i <= 8; i++) {
      const a = (i * Math.PI) / 4,
        r = i % 2 ? 0.34 : 1;
      points.push(r * Math.cos(a), r * Math.sin(a), 0);
    }
    g.setAttribute('position', new BufferAttribute(new Float32Array(points), 3));
    g.setIndex(Array.from({ length: 8 }, (_, i) => [0, i + 1, i + 2]).flat());
    g.setAttribute('spark', this.#born);
    g.instanceCount = SPARKS;
    this.mesh = new Mesh(g, flat({ ...uniforms, now: this.#now }, SPARK, SPARK_INK));
    this.clear();
  }
  light(percent: number): void {
    const k = this.count++;
    // The picture before may be long ago: a spark begins with the one that shows it first.
    this.update();
    // Each far from the one before, all the way round: turns of the golden ratio.
    placeOnOutline(this.#form, (k * 0.618034) % 1, this.#place);
    const room = (x: number, half: number): number =>
      Math.min(Math.max(0, half - SPARK_ROOM), Math.max(-Math.max(0, half - SPARK_ROOM), x));
    const { width, height } = this.#form;
    this.#born.setXYZW(
      k % SPARKS,
      room(this.#place[0]!, width / 2),
      room(this.#place[1]!, height / 2),
      this.#time,
      percent / 100,
    );
    this.#born.needsUpdate = true;
  }
  clear(): void {
    for (let i = 0; i < SPARKS; i++) this.#born.setZ(i, -1e6);
    this.#born.needsUpdate = true;
  }
  /** They fade by the machine's own clock: a page is sent nothing while no number moves. */
  update(): void {
    this.#time = performance.now() / 1000 - this.#from;
    this.#now.value = this.#time;
  }
  dispose(): void {
    this.mesh.geometry.dispose();
    this.mesh.material.dispose();
  }
}
