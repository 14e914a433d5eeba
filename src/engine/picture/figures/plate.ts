import { Group, Mesh, type Object3D, PlaneGeometry, type ShaderMaterial, type Texture } from 'three';
import {
  anchorPlace,
  cover,
  type Covering,
  type FigureForm,
  OVERHANG,
  PLATE_HEIGHT,
  PLATE_WIDTH,
  rampInks,
  type SurfaceSize,
  TEXT_HEIGHT,
} from '../../../core/figures';
import type { Figure } from '../../../core/show';
import { emptyTexture } from '../media';
import { Inks, RAMP } from '../ramp';
import { END, flat, inkUniform, LOOKS, NOISE, putInk, RowTexture, uniform } from '../shade';
import { stanceOf, take, type Drawn, type Stance, type Workshop } from './drawn';
import { type Places } from '../places';

const VERTEX = /* glsl */ `varying vec2 vUv; void main() { vUv = uv; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }`;
const BROUGHT = /* glsl */ `
uniform sampler2D map; uniform float bright, contrast, colour, shown, wide, covers; uniform vec2 flips;
${RowTexture.shader(1)}
${LOOKS}
varying vec2 vUv;
void main() {
  vec2 at = vec2(vUv.x - row(0, vUv.y) / wide, vUv.y);
  /* Where it covers the picture there is no bare edge: beyond its own it is mirrored. */
  if (covers > 0.5) at.x = 1.0 - abs(1.0 - mod(at.x, 2.0));
  else if (at.x < 0.0 || at.x > 1.0) discard;
  vec4 p = texture2D(map, mix(at, 1.0 - at, flips));
  /* Contrast and saturation as the eye takes them, on the print’s own scale. */
  vec3 s = pow(max(p.rgb, 0.0), vec3(0.4545));
  float grey = looks(p.rgb);
  s = mix(vec3(grey), s, colour);
  s = ((s - 0.5) * contrast + 0.5) * bright;
  vec3 ink = pow(clamp(s, 0.0, 1.0), vec3(2.2)); float alpha = p.a * shown;
  ${END}
}`;

type BroughtForm = Extract<FigureForm, { kind: 'image' | 'video' | 'camera' }>;

/** A picture that is brought along: an image, a film, a camera. It keeps its own shape, as wide as its plate. */
export class PlateFigure implements Drawn {
  readonly object = new Group();
  readonly #mesh: Mesh<PlaneGeometry, ShaderMaterial>;
  readonly #rows = new RowTexture(['shift']);
  readonly #u;
  readonly #close: () => void;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { wide: -1, tall: -1, bright: -1, contrast: -1, colour: -1, pace: -1, film: -1 };
  #anchor: readonly [number, number] = [0.5, 0.5];
  /** Room to be shifted in where it covers the picture, in shares; −1 where it does not. */
  #room = -1;
  readonly #lies: Covering = { scale: 1, x: 0, y: 0 };
  #pace: ((pace: number, time: number, film: number) => void) | null = null;

  readonly #size: SurfaceSize;

  constructor(form: BroughtForm, figure: Figure, places: Places, { media, size, plates = true }: Workshop) {
    this.#size = size;
    this.#u = {
      map: uniform<Texture>(emptyTexture()),
      bright: uniform(1),
      contrast: uniform(1),
      colour: uniform(1),
      shown: uniform(1),
      wide: uniform(PLATE_WIDTH),
      covers: uniform(0),
      flips: uniform([form.flipX ? 1 : 0, form.flipY ? 1 : 0]),
      ...this.#rows.uniforms,
    };
    this.#mesh = new Mesh(new PlaneGeometry(PLATE_WIDTH, PLATE_HEIGHT), flat(this.#u, VERTEX, BROUGHT));
    this.object.add(this.#mesh);
    this.#mesh.visible = plates;
    const got = (texture: Texture, width: number, height: number): void => {
      this.#mesh.visible = true;
      this.#u.map.value = texture;
      this.#mesh.scale.y = (PLATE_WIDTH * height) / (width * PLATE_HEIGHT);
    };
    if (form.kind === 'image') {
      this.#close = form.media ? media.image(form.media, got) : () => undefined;
    } else {
      const flow =
        form.kind === 'video'
          ? form.media
            ? media.film(form.media, got)
            : null
          : media.camera(form.deviceId, got);
      this.#close = flow?.close ?? (() => undefined);
      this.#pace = flow?.pace ?? null;
    }
    this.place(figure, places);
  }
  place({ at, anchor, cover: room }: Figure, places: Places): void {
    this.#base = at;
    this.#anchor = anchorPlace(anchor ?? 'middle');
    this.#room = room === undefined || room === null ? -1 : room / 100;
    this.#u.covers.value = this.#room < 0 ? 0 : 1;
    this.#stance = stanceOf(places);
    this.#at = {
      wide: places.of('wide'),
      tall: places.of('tall'),
      bright: places.of('bright'),
      contrast: places.of('contrast'),
      colour: places.of('colour'),
      pace: places.of('pace'),
      film: places.of('pace:film'),
    };
    this.#rows.place(places);
  }
  update(v: Float32Array, time: number, vectors?: Float32Array): void {
    const u = this.#u,
      at = this.#at;
    take(this.object, this.#base, v, this.#stance);
    const wide = v[at.wide]!,
      tall = v[at.tall]!,
      mesh = this.#mesh,
      { object } = this;
    if (this.#room < 0) {
      object.scale.x *= wide;
      object.scale.y *= tall;
      mesh.position.set(
        (0.5 - this.#anchor[0]) * PLATE_WIDTH,
        (0.5 - this.#anchor[1]) * PLATE_HEIGHT * mesh.scale.y,
        0,
      );
    } else this.#cover(v[this.#stance.size]!, wide, tall);
    u.shown.value = v[this.#stance.shown]! / 100;
    u.bright.value = v[at.bright]! / 100;
    u.contrast.value = v[at.contrast]! / 100;
    u.colour.value = v[at.colour]! / 100;
    // Shifts are pixels of the picture, however large it is drawn.
    let scale = 1;
    for (let o: Object3D | null = this.object; o; o = o.parent) scale *= o.scale.x;
    u.wide.value = PLATE_WIDTH * Math.max(1e-3, Math.abs(scale));
    this.#rows.update(v, vectors);
    this.#pace?.(at.pace < 0 ? 1 : v[at.pace]!, time, at.film < 0 ? -1 : v[at.film]!);
  }
  /** Over the whole picture, its middle as near to where it would stand as its room lets it. */
  #cover(size: number, wide: number, tall: number): void {
    const { position, scale, rotation } = this.object,
      { width, height } = this.#size,
      lies = this.#lies;
    cover(
      PLATE_WIDTH * wide,
      PLATE_HEIGHT * this.#mesh.scale.y * tall,
      width,
      height,
      this.#room,
      size,
      rotation.z,
      position.x - width / 2,
      position.y - height / 2,
      lies,
    );
    position.set(width / 2 + lies.x, height / 2 + lies.y, 0);
    scale.set(lies.scale * wide, lies.scale * tall, 1);
    this.#mesh.position.set(0, 0, 0);
  }
  dispose(): void {
    this.#close();
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
    this.#rows.dispose();
  }
}

const PATTERN = { noise: 0, ramp: 1, 'round ramp': 2 } as const;
const TEXTURE = /* glsl */ `
uniform float scale, drift, middle, contrast, inks, shown; uniform int pattern; uniform vec2 size;
${NOISE}
${RAMP}
varying vec2 vUv;
void main() {
  vec2 p = (vUv - 0.5) * size;
  float x = pattern == 0 ? 0.5 + 0.62 * fractal(vec3(p / scale, drift)) : pattern == 1 ? fract(0.5 + p.y / scale * 0.5 + drift * 0.25) : fract(length(p) / scale * 0.5 - drift * 0.25);
  if (pattern > 0) x = 1.0 - abs(2.0 * x - 1.0);
  float soft = mix(0.5, 0.004, contrast);
  x = smoothstep(middle - soft, middle + soft, x);
  if (inks > 0.5) x = floor(x * inks + 0.5) / inks;
  vec3 ink = inkAt(x); float alpha = shown;
  ${END}
}`;

/** Noise or a ramp between two inks, as a plate or over the whole picture. */
export class TextureFigure implements Drawn {
  readonly object = new Group();
  readonly #mesh: Mesh<PlaneGeometry, ShaderMaterial>;
  readonly #u;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { scale: -1, drift: -1, middle: -1, contrast: -1, inks: -1 };
  readonly #inks = new Inks(rampInks('texture'));

  constructor(
    form: Extract<FigureForm, { kind: 'texture' }>,
    figure: Figure,
    places: Places,
    { size }: Workshop,
  ) {
    const [w, h] = form.whole ? [size.width * OVERHANG, size.height * OVERHANG] : [PLATE_WIDTH, PLATE_HEIGHT];
    this.#u = {
      scale: uniform(180),
      drift: uniform(0),
      middle: uniform(0.5),
      contrast: uniform(0.7),
      inks: uniform(0),
      shown: uniform(1),
      pattern: uniform(PATTERN[form.pattern]),
      size: uniform([w, h]),
      ...this.#inks.uniforms,
    };
    this.#mesh = new Mesh(new PlaneGeometry(w, h), flat(this.#u, VERTEX, TEXTURE));
    this.object.add(this.#mesh);
    this.place(figure, places);
  }
  place({ at, ramp }: Figure, places: Places): void {
    this.#base = at;
    this.#stance = stanceOf(places);
    const of = (p: string): number => places.of(p);
    this.#at = {
      scale: of('scale'),
      drift: of('drift:sum'),
      middle: of('middle'),
      contrast: of('contrast'),
      inks: of('inks'),
    };
    this.#inks.place(places, ramp);
  }
  update(v: Float32Array): void {
    const u = this.#u,
      at = this.#at;
    take(this.object, this.#base, v, this.#stance);
    u.shown.value = v[this.#stance.shown]! / 100;
    u.scale.value = v[at.scale]!;
    u.drift.value = v[at.drift]!;
    u.middle.value = v[at.middle]! / 100;
    u.contrast.value = v[at.contrast]! / 100;
    u.inks.value = v[at.inks]!;
    this.#inks.update(v);
  }
  dispose(): void {
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
  }
}

const LETTERS = /* glsl */ `
uniform sampler2D map; uniform float lines, line, typed, shown; uniform vec3 first; varying vec2 vUv;
void main() {
  float down = (1.0 - vUv.y) * lines, n = floor(down);
  /* One line alone stands in the middle, where all of them would. */
  vec2 at = vUv; float along = (n + vUv.x) / lines;
  if (line > 0.5) { float k = line - 1.0, y = down - (lines - 1.0) * 0.5; if (k > lines - 0.5 || y < 0.0 || y >= 1.0) discard; at.y = 1.0 - (k + y) / lines; along = vUv.x; }
  float alpha = texture2D(map, at).a * shown * step(along, typed);
  if (alpha <= 0.003) discard;
  vec3 ink = first;
  ${END}
}`;

/** Words in the application's own letters, drawn once and laid on as a sheet. */
export class TextFigure implements Drawn {
  readonly object = new Group();
  readonly #mesh: Mesh<PlaneGeometry, ShaderMaterial>;
  readonly #u = {
    map: uniform<Texture>(emptyTexture()),
    lines: uniform(1),
    line: uniform(0),
    typed: uniform(1),
    shown: uniform(1),
    first: inkUniform(),
  };
  readonly #close: () => void;
  #base = { x: 0, y: 0 };
  #stance!: Stance;
  #at = { wide: -1, tall: -1, line: -1, typed: -1, ink: -1 };
  #anchor: readonly [number, number] = [0.5, 0.5];

  constructor(
    form: Extract<FigureForm, { kind: 'text' }>,
    figure: Figure,
    places: Places,
    { media }: Workshop,
  ) {
    const lines = Math.max(1, form.text.split('\n').length);
    this.#u.lines.value = lines;
    this.#mesh = new Mesh(new PlaneGeometry(1, 1), flat(this.#u, VERTEX, LETTERS));
    this.object.add(this.#mesh);
    this.#mesh.scale.set(1, 1, 1);
    this.#close = media.text(form.text, form.face, (texture, width, height) => {
      this.#u.map.value = texture;
      this.#mesh.scale.set((TEXT_HEIGHT * lines * width) / height, TEXT_HEIGHT * lines, 1);
    });
    this.place(figure, places);
  }
  place({ at, anchor }: Figure, places: Places): void {
    this.#base = at;
    this.#anchor = anchorPlace(anchor ?? 'middle');
    this.#stance = stanceOf(places);
    this.#at = {
      wide: places.of('wide'),
      tall: places.of('tall'),
      line: places.of('line'),
      typed: places.of('typed'),
      ink: places.of('ink'),
    };
  }
  update(v: Float32Array): void {
    const u = this.#u,
      mesh = this.#mesh,
      { object } = this;
    take(object, this.#base, v, this.#stance);
    object.scale.x *= v[this.#at.wide]!;
    object.scale.y *= v[this.#at.tall]!;
    mesh.position.set((0.5 - this.#anchor[0]) * mesh.scale.x, (0.5 - this.#anchor[1]) * mesh.scale.y, 0);
    u.shown.value = v[this.#stance.shown]! / 100;
    u.line.value = Math.round(v[this.#at.line]!);
    u.typed.value = v[this.#at.typed]! / 100;
    putInk(u.first, v, this.#at.ink);
  }
  dispose(): void {
    this.#close();
    this.#mesh.geometry.dispose();
    this.#mesh.material.dispose();
  }
}
