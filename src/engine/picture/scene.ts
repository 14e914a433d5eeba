import {
  AddEquation,
  Color,
  CustomBlending,
  DataTexture,
  DstColorFactor,
  FloatType,
  MaxEquation,
  MinEquation,
  NearestFilter,
  OneFactor,
  OneMinusDstColorFactor,
  OneMinusSrcAlphaFactor,
  OrthographicCamera,
  Scene,
  ZeroFactor,
  type BlendingDstFactor,
  type BlendingEquation,
  type BlendingSrcFactor,
  type RawShaderMaterial,
  type Texture,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import { type Blend, BLENDS } from '../../core/finishes';
import { PICTURE_SURFACE, type Surface } from '../../core/show';
import { Entries, type Entry, type Stage } from './entries';
import { Places, type FrameMap } from './places';
import { chance } from './figures/emitter';
import type { Bench, FinishWork } from './finishes/finish';
import { FlashLimit } from './flashLimit';
import type { PictureMedia } from './media';
import { Blur, Passes, passMaterial, surfaceSize, Targets } from './passes';
import { makeSurroundings } from './shade';

/** How a screen shows the picture: the map from its own place (0 to 1) to the picture's, row by row; null where they are the same. */
export interface Shown {
  readonly map: readonly number[] | null;
  readonly card: boolean;
  /** 1: nothing but white, −1: nothing at all, to see how late it comes; 0 or absent: the picture. */
  readonly blink?: number;
  /** Nothing but what edges cut: white where the camera is to be seen, black elsewhere. */
  readonly matte?: boolean;
}

const WAYS: Readonly<Record<Blend, readonly [BlendingSrcFactor, BlendingDstFactor, BlendingEquation]>> = {
  over: [OneFactor, OneMinusSrcAlphaFactor, AddEquation],
  add: [OneFactor, OneFactor, AddEquation],
  screen: [OneMinusDstColorFactor, OneFactor, AddEquation],
  multiply: [DstColorFactor, ZeroFactor, AddEquation],
  lighten: [OneFactor, OneFactor, MaxEquation],
  darken: [OneFactor, OneFactor, MinEquation],
};
/** Laid onto what is there. What multiplies or darkens is white where it is not. */
const LAY = /* glsl */ `uniform sampler2D source; uniform float shown; uniform bool white;
void main() { vec4 c = texelFetch(source, ivec2(gl_FragCoord.xy), 0) * shown; result = white ? vec4(c.rgb + (1.0 - c.a), c.a) : c; }`;

const LAST = /* glsl */ `uniform sampler2D source, limit; uniform float darkness, limited; uniform mat3 place; uniform bool mapped, card; uniform float blink;
vec3 toScreen(vec3 c) { c = clamp(c, 0.0, 1.0); return mix(c * 12.92, 1.055 * pow(c, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)); }
vec3 testCard(vec2 p) {
  vec2 q = p * PICTURE; vec2 m = q - PICTURE * 0.5;
  vec2 lines = abs(fract(q / 80.0 + 0.5) - 0.5) * 80.0;
  vec3 c = vec3(0.07, 0.13, 0.17);
  c = mix(c, vec3(0.95, 0.91, 0.83), max(step(lines.x, 1.0), step(lines.y, 1.0)) * 0.5);
  float r = length(m);
  if (abs(r - 330.0) < 3.0 || abs(r - 120.0) < 2.0) c = vec3(0.94, 0.71, 0.24);
  if (abs(m.x) < 1.5 || abs(m.y) < 1.5) c = vec3(0.91, 0.34, 0.16);
  if (abs(m.x) < 320.0 && abs(m.y + 240.0) < 30.0) { float k = floor((m.x + 320.0) / 91.5); c = vec3(mod(k, 2.0), mod(floor(k / 2.0), 2.0), mod(floor(k / 4.0), 2.0)); }
  if (abs(m.x) < 320.0 && abs(m.y - 240.0) < 30.0) c = vec3(floor((m.x + 320.0) / 58.2) / 10.0);
  vec2 e = min(q, PICTURE - q);
  if (min(e.x, e.y) < 6.0) c = vec3(0.95, 0.91, 0.83);
  if (max(e.x, e.y) < 70.0) c = q.x < 640.0 ? (q.y < 360.0 ? vec3(0.91, 0.34, 0.16) : vec3(0.43, 0.71, 0.66)) : (q.y < 360.0 ? vec3(0.94, 0.71, 0.24) : vec3(0.95, 0.91, 0.83));
  return c;
}
void main() {
  vec2 p = at;
  if (mapped) { vec3 h = place * vec3(at, 1.0); p = h.xy / h.z; if (h.z <= 0.0 || p.x < 0.0 || p.y < 0.0 || p.x > 1.0 || p.y > 1.0) { result = vec4(0.0, 0.0, 0.0, 1.0); return; } }
  if (blink != 0.0) { result = vec4(vec3(max(blink, 0.0) * (1.0 - darkness)), 1.0); return; }
  if (card) { result = vec4(testCard(p), 1.0); return; }
  vec4 c = texture(source, p);
  float gain = mix(1.0, texelFetch(limit, ivec2(1, 0), 0).r, limited);
  result = vec4(toScreen(c.rgb * gain * (1.0 - darkness)), 1.0);
}`;

/** The same where nothing is turned, bent to corners, or covered by a card: by far the most pictures. */
const LAST_PLAIN = /* glsl */ `uniform sampler2D source, limit; uniform float darkness, limited;
void main() {
  vec3 c = clamp(texelFetch(source, ivec2(gl_FragCoord.xy), 0).rgb * (mix(1.0, texelFetch(limit, ivec2(1, 0), 0).r, limited) * (1.0 - darkness)), 0.0, 1.0);
  result = vec4(mix(c * 12.92, 1.055 * pow(c, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c)), 1.0);
}`;

/** The same as it is kept in a file: alpha and all. */
const FILE = /* glsl */ `uniform sampler2D source;
void main() { vec4 c = texelFetch(source, ivec2(gl_FragCoord.xy), 0); vec3 b = c.a > 1e-4 ? clamp(c.rgb / c.a, 0.0, 1.0) : vec3(0.0); result = vec4(mix(b * 12.92, 1.055 * pow(b, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, b)), clamp(c.a, 0.0, 1.0)); }`;

/**
 * What is open stays open: as a page lies upon what is behind it, its alpha multiplied in as a screen has it. Pixels are taken one for
 * one: between two of them a mirror image would be another in its last bit.
 */
const LAST_OPEN = /* glsl */ `uniform sampler2D source, limit; uniform float limited, shown, blink;
void main() {
  if (blink != 0.0) { result = vec4(max(blink, 0.0)); return; }
  vec4 c = texelFetch(source, ivec2(gl_FragCoord.xy), 0) * (mix(1.0, texelFetch(limit, ivec2(1, 0), 0).r, limited) * shown);
  vec3 b = c.a > 1e-4 ? clamp(c.rgb / c.a, 0.0, 1.0) : vec3(0.0); float a = clamp(c.a, 0.0, 1.0);
  result = vec4(mix(b * 12.92, 1.055 * pow(b, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, b)) * a, a);
}`;
const MATTE = /* glsl */ `uniform sampler2D source; void main() { result = vec4(vec3(texelFetch(source, ivec2(gl_FragCoord.xy), 0).a), 1.0); }`;

const BLACK = new Color(0);

/**
 * The picture, put together: figures back to front, what is finished or blended apart and then laid on, the whole finished, its
 * flashes held back, and the dark above all. Where nothing of this is needed the figures are drawn straight onto the screen.
 */
export class PictureScene {
  readonly around = makeSurroundings();
  readonly entries: Entries;
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera(
    -PICTURE_SURFACE.width / 2,
    PICTURE_SURFACE.width / 2,
    PICTURE_SURFACE.height / 2,
    -PICTURE_SURFACE.height / 2,
    -5000,
    5000,
  );
  readonly #passes = new Passes();
  readonly #targets = new Targets();
  readonly #limit = new FlashLimit();
  readonly #lay: Readonly<Record<Blend, RawShaderMaterial>>;
  readonly #layU = {
    source: { value: null as Texture | null },
    shown: { value: 1 },
    white: { value: false },
  };
  readonly #last;
  readonly #lastPlain: RawShaderMaterial;
  readonly #lastOpen: RawShaderMaterial;
  readonly #matte: RawShaderMaterial;
  readonly #lastU;
  readonly #file: RawShaderMaterial;
  readonly #bench: Bench;
  #surface: Surface = PICTURE_SURFACE;
  readonly #ground = new Color(0);
  /** Where the number stands that says how much of all of it shows; −1: it always does. */
  #shownAt = -1;
  #flashLimit: number | null = null;
  #cameraAt = { across: -1, height: -1, zoom: -1, turn: -1, shiver: -1, shiverUp: -1, pace: -1 };
  #alone: (Texture | null)[] = [];
  #renderer!: WebGLRenderer;
  #clock = NaN;
  #time = NaN;
  /** A part that is left out while its cost is measured. */
  #without: string | null = null;
  /** Whether edges are smoothed; the budget may take that away. */
  smooth = true;

  /** @param plates - a plate stands where a file is missing */
  constructor(media: PictureMedia, plates = true) {
    this.entries = new Entries({ around: this.around, media, plates });
    this.#scene.add(this.entries.root);
    this.#lay = Object.fromEntries(
      BLENDS.map((b) => {
        const m = passMaterial(this.#layU, LAY, CustomBlending),
          [src, dst, equation] = WAYS[b];
        m.blendSrc = src;
        m.blendDst = dst;
        m.blendEquation = equation;
        m.blendSrcAlpha = OneFactor;
        m.blendDstAlpha = OneMinusSrcAlphaFactor;
        m.blendEquationAlpha = AddEquation;
        return [b, m];
      }),
    ) as Record<Blend, RawShaderMaterial>;
    const open = new DataTexture(new Float32Array([0, 0, 0, 0, 1, 1, 1, 1]), 2, 1, undefined, FloatType);
    open.minFilter = open.magFilter = NearestFilter;
    open.needsUpdate = true;
    this.#lastU = {
      source: { value: null as Texture | null },
      limit: { value: open as Texture },
      darkness: { value: 0 },
      limited: { value: 0 },
      place: { value: [1, 0, 0, 0, 1, 0, 0, 0, 1] },
      mapped: { value: false },
      card: { value: false },
      blink: { value: 0 },
      shown: { value: 1 },
    };
    this.#last = passMaterial(this.#lastU, LAST);
    this.#lastPlain = passMaterial(this.#lastU, LAST_PLAIN);
    this.#file = passMaterial(this.#lastU, FILE);
    this.#lastOpen = passMaterial(this.#lastU, LAST_OPEN);
    this.#matte = passMaterial(this.#lastU, MATTE);
    const renderer = (): WebGLRenderer => this.#renderer;
    this.#bench = {
      get renderer() {
        return renderer();
      },
      passes: this.#passes,
      targets: this.#targets,
      blur: new Blur(),
      values: new Float32Array(0),
      time: 0,
      dt: 0,
      whole: false,
      pictureOf: (id) => this.#pictureOf(id),
    };
  }

  /** Takes the picture as it is now. What kept its form is placed anew; only new forms are made. */
  set(stage: Stage, map: FrameMap): void {
    this.entries.set(stage, map);
    this.#flashLimit = stage.flashLimit;
    const surface = (this.#surface = stage.surface ?? PICTURE_SURFACE),
      at = new Places(surface.camera, map);
    this.#ground.set(surface.ground ?? 0);
    this.#shownAt = at.of('shown');
    this.#camera.left = -surface.width / 2;
    this.#camera.right = surface.width / 2;
    this.#camera.top = surface.height / 2;
    this.#camera.bottom = -surface.height / 2;
    this.#camera.updateProjectionMatrix();
    this.#cameraAt = {
      across: at.of('across'),
      height: at.of('height'),
      zoom: at.of('zoom'),
      turn: at.of('turn'),
      shiver: at.of('shiver'),
      shiverUp: at.of('shiverUp'),
      pace: at.of('pace:sum'),
    };
    this.#alone = Array.from({ length: this.entries.aside.size + 1 }, () => null);
  }
  get wantsRows(): boolean {
    return this.entries.wantsRows;
  }

  /** An overlay lies upon something else: it is never black, and goes plain in the dark by its numbers. */
  get #overlaid(): boolean {
    return this.#surface.id !== PICTURE_SURFACE.id;
  }
  /** One event that came to a parameter, by the place of its number. */
  arrive(place: number, value: number): void {
    const to = this.entries.arrivals.get(place);
    to?.drawn.arrive!(to.parameter, value);
  }
  /** It is dark: what events left is over. */
  quiet(): void {
    for (const { drawn } of this.entries.arrivals.values()) drawn.quiet?.();
  }

  /** Brings every figure to what the frame says. Allocates nothing. */
  update(v: Float32Array, time: number, vectors?: Float32Array): void {
    this.around.lights.value = 0;
    const { drawn } = this.entries;
    for (let i = 0; i < drawn.length; i++) drawn[i]!.update(v, time, vectors);
    this.entries.update(v);
    this.#look(v);
  }
  #look(v: Float32Array): void {
    const at = this.#cameraAt,
      { width, height } = this.#surface,
      camera = this.#camera;
    if (at.zoom < 0) {
      camera.position.set(width / 2, height / 2, 0);
      return;
    }
    const pace = v[at.pace]!;
    camera.position.set(
      width / 2 + v[at.across]! + v[at.shiver]! * shiver(pace, 1),
      height / 2 + v[at.height]! + v[at.shiverUp]! * shiver(pace, 2),
      0,
    );
    camera.rotation.z = (v[at.turn]! * Math.PI) / 180;
    if (camera.zoom !== v[at.zoom]!) {
      camera.zoom = v[at.zoom]!;
      camera.updateProjectionMatrix();
    }
  }

  /**
   * Draws the picture onto the renderer's canvas.
   * @param clock - seconds on the clock, by which flashes are counted @param time - seconds that the picture has lived
   */
  render(
    renderer: WebGLRenderer,
    v: Float32Array,
    time: number,
    darkness: number,
    vectors?: Float32Array,
    shown: Shown = { map: null, card: false },
    clock = time,
  ): void {
    this.#renderer = renderer;
    const width = renderer.domElement.width,
      height = renderer.domElement.height;
    const overlaid = this.#overlaid;
    if (darkness < 1 || overlaid) this.update(v, time, vectors);
    this.#measure(width);
    const since = clock - this.#clock;
    this.#clock = clock;
    const u = this.#lastU;
    u.card.value = shown.card;
    u.mapped.value = shown.map !== null;
    if (shown.map) for (let i = 0; i < 9; i++) u.place.value[i] = shown.map[(i % 3) * 3 + Math.floor(i / 3)]!;
    u.blink.value = shown.blink ?? 0;
    if (overlaid) {
      this.#overlay(renderer, v, time, width, height, shown.matte ?? false, since);
      return;
    }
    if (shown.card || darkness >= 1 || u.blink.value !== 0) {
      u.source.value = u.limit.value;
      u.darkness.value = darkness;
      u.limited.value = 0;
      this.#passes.run(renderer, this.#last, null);
      return;
    }
    if (this.#straight(v) && darkness === 0 && shown.map === null) {
      for (let i = 0; i < this.entries.leaves.length; i++) this.entries.leaves[i]!.wrapper.visible = true;
      renderer.setRenderTarget(null);
      renderer.setClearColor(BLACK, 1);
      renderer.clear();
      renderer.render(this.#scene, this.#camera);
      this.#time = time;
      return;
    }
    const picture = this.#compose(v, time, width, height, 1);
    u.source.value = picture;
    u.darkness.value = darkness;
    this.#hold(picture, since);
    this.#passes.run(renderer, shown.map === null ? this.#lastPlain : this.#last, null);
    this.#targets.back();
  }

  /** What is drawn has this many pixels across. */
  #measure(width: number): void {
    this.around.perPixel.value = this.#surface.width / width / this.#camera.zoom;
    surfaceSize.value[0] = this.#surface.width;
    surfaceSize.value[1] = this.#surface.height;
  }
  #overlay(
    renderer: WebGLRenderer,
    v: Float32Array,
    time: number,
    width: number,
    height: number,
    matte: boolean,
    since: number,
  ): void {
    const u = this.#lastU,
      shown = this.#shownAt < 0 ? 1 : v[this.#shownAt]! / 100;
    if (u.blink.value !== 0) {
      u.source.value = u.limit.value;
      this.#passes.run(renderer, this.#lastOpen, null);
      return;
    }
    if (matte) {
      u.source.value = this.#cuts(width, height);
      this.#passes.run(renderer, this.#matte, null);
      this.#targets.back();
      return;
    }
    const picture = this.#compose(v, time, width, height, this.#surface.ground === null ? 0 : 1);
    u.source.value = picture;
    u.shown.value = shown;
    this.#hold(picture, since);
    this.#passes.run(renderer, this.#lastOpen, null);
    this.#targets.back();
  }
  /** Holds flashes of all of it back. @param since - seconds since the picture before */
  #hold(picture: Texture, since: number): void {
    const u = this.#lastU,
      most = this.#flashLimit;
    u.limited.value = most === null ? 0 : 1;
    if (most !== null)
      u.limit.value = this.#limit.run(this.#renderer, this.#passes, picture, most, Math.max(0, since || 0));
  }
  /** What edges leave of a whole sheet. */
  #cuts(width: number, height: number): Texture {
    this.#targets.size(width, height, this.smooth);
    const target = this.#targets.takeDrawn(),
      { leaves } = this.entries;
    this.#clear(target, 1);
    for (let i = 0; i < leaves.length; i++) {
      const { drawn, wrapper } = leaves[i]!;
      wrapper.visible = drawn!.cutting !== undefined;
      if (drawn!.cutting) drawn!.cutting.seen.visible = false;
    }
    this.#renderer.render(this.#scene, this.#camera);
    for (let i = 0; i < leaves.length; i++) {
      const { drawn, wrapper } = leaves[i]!;
      wrapper.visible = false;
      if (drawn!.cutting) drawn!.cutting.seen.visible = true;
    }
    return target.texture;
  }

  /** Nothing is finished, blended, or held back. */
  #straight(v: Float32Array): boolean {
    if (this.#flashLimit !== null) return false;
    for (let i = 0; i < this.entries.whole.length; i++) if (!this.entries.whole[i]!.idle(v)) return false;
    for (let i = 0; i < this.entries.list.length; i++)
      if (this.#apart(this.entries.list[i]!, v)) return false;
    return true;
  }
  #apart(entry: Entry, v: Float32Array): boolean {
    if (entry.blend !== 'over') return true;
    for (let i = 0; i < entry.finishes.length; i++) if (!entry.finishes[i]!.idle(v)) return true;
    if (entry.at !== null && v[entry.at.shown]! < 100) return true;
    for (let i = 0; i < entry.inner.length; i++) if (this.#apart(entry.inner[i]!, v)) return true;
    return false;
  }

  /** The whole picture as a texture, lent until the targets go back. @param ground - alpha of what is behind everything */
  #compose(v: Float32Array, time: number, width: number, height: number, ground: number): Texture {
    const bench = this.#bench;
    this.#targets.size(width, height, this.smooth);
    bench.values = v;
    // A picture that begins anew has nothing to catch up with; one that was not drawn for long has faded as far as it can.
    const dt = time - this.#time;
    bench.dt = dt > 0 ? Math.min(dt, 5) : 0;
    bench.time = time;
    this.#time = time;
    this.#alone.fill(null);
    for (let i = 0; i < this.entries.leaves.length; i++) this.entries.leaves[i]!.wrapper.visible = false;
    const target = this.#targets.takeDrawn();
    this.#clear(target, ground, this.#ground);
    this.#list(this.entries.list, target);
    bench.whole = ground > 0;
    return this.#finish(this.entries.whole, target.texture);
  }
  #clear(target: WebGLRenderTarget, alpha: number, ground = BLACK): void {
    this.#renderer.setRenderTarget(target);
    this.#renderer.setClearColor(ground, alpha);
    this.#renderer.clear();
  }

  /** Draws entries one upon the other. Those that need nothing special are drawn together. */
  #list(list: readonly Entry[], target: WebGLRenderTarget): void {
    let waiting = false;
    const v = this.#bench.values;
    for (let i = 0; i < list.length; i++) {
      const entry = list[i]!;
      if (entry.id === this.#without) continue;
      if (!this.#apart(entry, v)) {
        waiting = true;
        if (entry.drawn) entry.wrapper.visible = true;
        for (let k = 0; k < entry.inner.length; k++)
          entry.inner[k]!.wrapper.visible = entry.inner[k]!.id !== this.#without;
        continue;
      }
      if (waiting) {
        this.#draw(target, list, i);
        waiting = false;
      }
      this.#layer(entry, target);
    }
    if (waiting) this.#draw(target, list, list.length);
  }
  #draw(target: WebGLRenderTarget, list: readonly Entry[], to: number): void {
    this.#renderer.setRenderTarget(target);
    this.#renderer.render(this.#scene, this.#camera);
    for (let i = 0; i < to; i++) {
      const e = list[i]!;
      if (e.drawn) e.wrapper.visible = false;
      for (let k = 0; k < e.inner.length; k++) e.inner[k]!.wrapper.visible = false;
    }
  }
  #layer(entry: Entry, onto: WebGLRenderTarget): void {
    const v = this.#bench.values,
      // Another's finish uses it too: it is drawn and finished once.
      shared = entry.drawn ? this.#pictureOf(entry.id) : null,
      u = this.#layU,
      cutting = entry.drawn?.cutting;
    // What cuts does so where it lies, and is then finished as it is seen.
    if (cutting) {
      cutting.seen.visible = false;
      entry.wrapper.visible = true;
      this.#renderer.setRenderTarget(onto);
      this.#renderer.render(this.#scene, this.#camera);
      entry.wrapper.visible = false;
      cutting.seen.visible = true;
    }
    u.source.value = shared ?? this.#finished(entry);
    u.shown.value = entry.at ? v[entry.at.shown]! / 100 : 1;
    u.white.value = entry.blend === 'multiply' || entry.blend === 'darken';
    this.#passes.run(this.#renderer, this.#lay[entry.blend], onto);
  }
  #finished(entry: Entry): Texture {
    const own = this.#targets.takeDrawn();
    this.#clear(own, 0);
    if (entry.drawn) {
      if (entry.drawn.cutting) entry.drawn.cutting.cut.visible = false;
      entry.wrapper.visible = true;
      this.#renderer.render(this.#scene, this.#camera);
      entry.wrapper.visible = false;
      if (entry.drawn.cutting) entry.drawn.cutting.cut.visible = true;
    } else this.#list(entry.inner, own);
    this.#bench.whole = false;
    return this.#finish(entry.finishes, own.texture);
  }
  #finish(finishes: readonly FinishWork[], source: Texture): Texture {
    let picture = source;
    for (let i = 0; i < finishes.length; i++)
      if (finishes[i]!.id !== this.#without && !finishes[i]!.idle(this.#bench.values))
        picture = finishes[i]!.run(picture, this.#bench);
    return picture;
  }

  #pictureOf(id: string): Texture | null {
    const layer = this.entries.aside.get(id);
    if (layer === undefined) return null;
    const known = this.#alone[layer];
    if (known) return known;
    const { leaves } = this.entries,
      target = this.#targets.takeDrawn();
    this.#clear(target, 0);
    for (let i = 0; i < leaves.length; i++) leaves[i]!.wrapper.visible = leaves[i]!.id === id;
    this.#camera.layers.set(layer);
    this.#renderer.render(this.#scene, this.#camera);
    this.#camera.layers.set(0);
    for (let i = 0; i < leaves.length; i++) leaves[i]!.wrapper.visible = false;
    // What is seen of it counts, finishes and all. One that is finished by its own picture, in a ring, is taken as it was before.
    this.#alone[layer] = target.texture;
    for (let i = 0; i < leaves.length; i++)
      if (leaves[i]!.id === id) {
        const { whole } = this.#bench;
        this.#bench.whole = false;
        this.#alone[layer] = this.#finish(leaves[i]!.finishes, target.texture);
        this.#bench.whole = whole;
      }
    return this.#alone[layer]!;
  }

  /** The picture as bytes of a file, from its upper left, with what nothing covers left open. Allocates; not while the show needs it. */
  still(
    renderer: WebGLRenderer,
    v: Float32Array,
    time: number,
    width: number,
    height: number,
    vectors?: Float32Array,
  ): Uint8ClampedArray<ArrayBuffer> {
    this.#renderer = renderer;
    // A still is worth all that it costs.
    const { counts } = this.around,
      before = counts.value;
    counts.value = 1;
    this.update(v, time, vectors);
    counts.value = before;
    this.#measure(width);
    this.#lastU.source.value = this.#compose(
      v,
      time,
      width,
      height,
      this.#overlaid && this.#surface.ground !== null ? 1 : 0,
    );
    const target = this.#targets.take();
    this.#passes.run(renderer, this.#file, target);
    const raw = new Uint16Array(width * height * 4);
    renderer.readRenderTargetPixels(target, 0, 0, width, height, raw);
    this.#targets.back();
    const out = new Uint8ClampedArray(width * height * 4);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width * 4; x++)
        out[(height - 1 - y) * width * 4 + x] = fromHalf(raw[y * width * 4 + x]!) * 255;
    return out;
  }

  /** Everything that costs something, by id. */
  parts(): string[] {
    return [
      ...this.entries.leaves.map((l) => l.id),
      ...this.entries.list
        .flatMap((e) => [...e.finishes, ...e.inner.flatMap((i) => i.finishes)])
        .map((f) => f.id),
      ...this.entries.whole.map((f) => f.id),
    ];
  }
  /** Draws everything but one part into a target of the screen's size, for measuring. */
  probe(
    renderer: WebGLRenderer,
    v: Float32Array,
    time: number,
    vectors: Float32Array,
    without: string | null,
  ): void {
    this.#renderer = renderer;
    this.#without = without;
    this.around.lights.value = 0;
    for (let i = 0; i < this.entries.leaves.length; i++) {
      const l = this.entries.leaves[i]!;
      if (l.id !== without) l.drawn!.update(v, time, vectors);
    }
    this.entries.update(v);
    this.#lastU.source.value = this.#compose(
      v,
      time,
      renderer.domElement.width,
      renderer.domElement.height,
      1,
    );
    this.#passes.run(renderer, this.#last, null);
    this.#targets.back();
    this.#without = null;
  }

  dispose(): void {
    this.entries.dispose();
    this.#passes.dispose();
    this.#targets.dispose();
    this.#limit.dispose();
    this.#bench.blur.dispose();
    for (const m of [
      ...Object.values(this.#lay),
      this.#last,
      this.#lastPlain,
      this.#file,
      this.#lastOpen,
      this.#matte,
    ])
      m.dispose();
  }
}

/** A smooth wander between −1 and 1. */
function shiver(pace: number, which: number): number {
  const i = Math.floor(pace),
    f = pace - i,
    s = f * f * (3 - 2 * f),
    a = chance(i, which),
    b = chance(i + 1, which);
  return (a + (b - a) * s) * 2 - 1;
}
/** A number of half precision. Source: IEEE 754-2019, binary16. */
function fromHalf(h: number): number {
  const e = (h >> 10) & 31,
    m = h & 1023,
    s = h & 0x8000 ? -1 : 1;
  return e === 0 ? s * 2 ** -24 * m : e === 31 ? (m ? 0 : s * 65504) : s * 2 ** (e - 15) * (1 + m / 1024);
}
