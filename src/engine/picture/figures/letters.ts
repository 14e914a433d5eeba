import {
  BufferAttribute,
  Group,
  InstancedBufferGeometry,
  InstancedInterleavedBuffer,
  InterleavedBufferAttribute,
  Mesh,
  type ShaderMaterial,
  type Texture,
} from 'three';
import { type LettersForm, rampInks } from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { LETTER_NUMBERS } from '../letterLayout';
import { emptyTexture } from '../media';
import type { Places } from '../places';
import { Inks, RAMP } from '../ramp';
import { END, flat, inkUniform, putInk, RowTexture, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';

const VERTEX = /* glsl */ `
attribute vec4 sheet;  /* on the sheet of letters: from, to, 0 to 1 */
attribute vec4 stands; /* its foot: x, y; and y when its line is alone; its number among all */
attribute vec4 counts; /* number in its line, how many that has, which line, how many there are in all */
attribute vec4 box;    /* about its foot: left, below, right, above */
uniform float line, typed; uniform bool told;
${RowTexture.shader(4)}
varying vec2 vAt; varying float vTint, vThere;
void main() {
  bool one = told || line > 0.5;
  if (one && abs(counts.z - line) > 0.25) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }
  float i = one ? counts.x : stands.w, n = one ? counts.y : counts.w, u = n > 1.0 ? i / (n - 1.0) : 0.5;
  vThere = clamp(typed * n - i, 0.0, 1.0);
  float rise = row(0, u), tall = row(1, u), lean = radians(row(2, u));
  vTint = row(3, u) / 100.0;
  vec2 p = mix(box.xy, box.zw, position.xy); p.y *= tall;
  float c = cos(lean), s = sin(lean);
  p = vec2(c * p.x - s * p.y, s * p.x + c * p.y) + vec2(stands.x, (one ? stands.z : stands.y) + rise);
  vAt = mix(sheet.xy, sheet.zw, position.xy);
  gl_Position = projectionMatrix * modelViewMatrix * vec4(p, 0.0, 1.0);
}`;
const FRAGMENT = /* glsl */ `
uniform sampler2D map; uniform float shown; uniform vec3 around;
${RAMP}
varying vec2 vAt; varying float vTint, vThere;
void main() {
  /* Red is the letter itself, green the letter with the line around it. */
  vec4 p = texture2D(map, vAt);
  float all = max(p.r, p.g), alpha = all * shown * vThere;
  if (alpha <= 0.003) discard;
  vec3 ink = mix(around, inkAt(vTint), p.r / all);
  ${END}
}`;

/** Letters that move one by one, each about its own foot. */
export class LettersFigure implements Drawn {
  readonly object = new Group();
  readonly #mesh: Mesh<InstancedBufferGeometry, ShaderMaterial>;
  readonly #rows = new RowTexture(['rise', 'tall', 'lean', 'tint']);
  readonly #inks = new Inks(rampInks('letters'));
  readonly #u;
  readonly #close: () => void;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { line: -1, typed: -1, around: -1 };

  constructor(form: LettersForm, figure: Figure, places: Places, { media }: Workshop) {
    this.#u = {
      map: uniform<Texture>(emptyTexture()),
      line: uniform(0),
      typed: uniform(1),
      // Lines that somebody is told show one by one, and none before the first.
      told: uniform(form.of !== null),
      shown: uniform(1),
      around: inkUniform(),
      ...this.#rows.uniforms,
      ...this.#inks.uniforms,
    };
    const g = new InstancedBufferGeometry();
    g.setAttribute(
      'position',
      new BufferAttribute(new Float32Array([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]), 3),
    );
    g.setIndex([0, 1, 2, 0, 2, 3]);
    g.instanceCount = 0;
    this.#mesh = new Mesh(g, flat(this.#u, VERTEX, FRAGMENT));
    this.#mesh.visible = false;
    this.object.add(this.#mesh);
    this.#close = media.letters(form, (texture, table) => {
      this.#u.map.value = texture;
      const all = new InstancedInterleavedBuffer(table, LETTER_NUMBERS),
        part = (size: number, at: number): InterleavedBufferAttribute =>
          new InterleavedBufferAttribute(all, size, at);
      g.setAttribute('sheet', part(4, 0));
      g.setAttribute('stands', part(4, 4));
      g.setAttribute('counts', part(4, 8));
      g.setAttribute('box', part(4, 12));
      g.instanceCount = table.length / LETTER_NUMBERS;
      this.#mesh.visible = true;
    });
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    this.#at = { line: places.of('line'), typed: places.of('typed'), around: places.of('around') };
    this.#rows.place(places);
    this.#inks.place(places, ramp);
  }
  update(v: Float32Array, _: number, vectors?: Float32Array): void {
    const u = this.#u;
    take(this.object, this.#base, v, this.#stance);
    u.shown.value = v[this.#stance.shown]! / 100;
    u.line.value = Math.round(v[this.#at.line]!);
    u.typed.value = v[this.#at.typed]! / 100;
    putInk(u.around, v, this.#at.around);
    this.#rows.update(v, vectors);
    this.#inks.update(v);
  }
  dispose(): void {
    this.#close();
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
    this.#rows.dispose();
  }
}
