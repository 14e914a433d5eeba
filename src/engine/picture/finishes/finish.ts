import {
  Vector3,
  type IUniform,
  type RawShaderMaterial,
  type Texture,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import {
  APPEAR_WAYS,
  FINISH_WRAP,
  type FinishForm,
  finishInks,
  finishParameters,
  MIRROR_WAYS,
} from '../../../core/finishes';
import type { Finish } from '../../../core/show';
import type { Places } from '../places';
import { Inks } from '../ramp';
import { Blur, passMaterial, plain, type Passes, type Targets } from '../passes';
import { FRAGMENTS, HIDDEN_WHEN } from './shaders';

/** What a finish works with in one frame. */
export interface Bench {
  readonly renderer: WebGLRenderer;
  readonly passes: Passes;
  readonly targets: Targets;
  readonly blur: Blur;
  values: Float32Array;
  /** Seconds that the picture has lived, and since the frame before; 0 while it stands still. */
  time: number;
  dt: number;
  /** The picture of another figure, by itself; null when it is not there. */
  readonly pictureOf: (figure: string) => Texture | null;
  /** Whether it treats something that covers everything: trails then lie upon it, and not behind it. */
  whole: boolean;
}

interface Part {
  readonly name: string;
  readonly sumName: string;
  readonly at: number;
  readonly sum: number;
  readonly size: number;
}

/** One finish at work: its parameters as uniforms of the same name, and a pass or several. Ticks allocate nothing. */
export class FinishWork {
  readonly id: string;
  readonly form: FinishForm;
  readonly #inks: Inks | null;
  readonly #material: RawShaderMaterial;
  readonly #extra: RawShaderMaterial | null;
  readonly #u: Record<string, IUniform> = {
    source: { value: null },
    before: { value: null },
    other: { value: null },
    third: { value: null },
    now: { value: 0 },
    dt: { value: 0 },
    has: { value: 0 },
    whole: { value: 0 },
    mode: { value: 0 },
    pixels: { value: [1, 1] },
  };
  #parts: Part[] = [];
  #byId = new Map<string, Part>();
  #history: [WebGLRenderTarget, WebGLRenderTarget] | null = null;
  #outgrown: WebGLRenderTarget | null = null;
  #paperTarget: WebGLRenderTarget | null = null;
  #paperTurn = NaN;
  #paperSize = NaN;
  #cleared = NaN;
  /** How many seconds the last step of the trail was; −1 when it cannot be taken again. */
  #step = -1;
  /** Whether there was a trail to go on from, in that step. */
  #had = 0;
  #fresh = true;

  constructor({ id, form, ramp }: Finish, places: Places) {
    this.id = id;
    this.form = form;
    const own = finishInks(form.kind);
    this.#inks = own.length ? new Inks(own) : null;
    if (this.#inks) Object.assign(this.#u, this.#inks.uniforms);
    for (const p of finishParameters(form.kind)) {
      this.#u[`p_${p.id}`] = { value: p.kind === 'colour' ? new Vector3() : 0 };
      if (p.kind === 'number' && p.wrap) this.#u[`p_${p.id}Sum`] = { value: 0 };
    }
    const declared = finishParameters(form.kind)
      .map((p) =>
        p.kind === 'colour'
          ? `uniform vec3 p_${p.id};`
          : `uniform float p_${p.id};${p.wrap ? ` uniform float p_${p.id}Sum;` : ''}`,
      )
      .join('\n');
    const head = `uniform sampler2D source, before, other, third; uniform float now, dt, has, whole; uniform int mode; uniform vec2 pixels;\n${declared}\n`;
    const { main, extra } = FRAGMENTS[form.kind];
    this.#material = passMaterial(this.#u, head + main);
    this.#extra = extra ? passMaterial(this.#u, head + extra) : null;
    if (form.kind === 'mirror') this.#u.mode!.value = MIRROR_WAYS.indexOf(form.way);
    if (form.kind === 'appear') this.#u.mode!.value = APPEAR_WAYS.indexOf(form.way);
    if (form.kind === 'mask') this.#u.mode!.value = form.inverted ? 1 : 0;
    this.place(places, ramp);
  }
  place(places: Places, ramp: Finish['ramp']): void {
    this.#inks?.place(places, ramp);
    this.#parts = finishParameters(this.form.kind).map((p) => ({
      name: `p_${p.id}`,
      sumName: `p_${p.id}Sum`,
      at: places.of(p.id),
      sum: p.kind === 'number' && p.wrap ? places.of(`${p.id}:sum`) : -1,
      size: p.kind === 'colour' ? 3 : 1,
    }));
    this.#byId = new Map(finishParameters(this.form.kind).map((p, i) => [p.id, this.#parts[i]!]));
  }
  /** A parameter's present number. */
  #of(v: Float32Array, id: string): number {
    return v[this.#byId.get(id)!.at]!;
  }

  /** Whether it would change nothing now, and can be left out. */
  idle(v: Float32Array): boolean {
    if (this.form.kind === 'appear') return this.#of(v, 'in') >= 100;
    const rule = HIDDEN_WHEN[this.form.kind];
    if (!rule) return false;
    for (let i = 0; i < rule.length; i++) if (this.#of(v, rule[i]!) !== 0) return false;
    this.#fresh = true;
    return true;
  }

  /** @returns what the source became */
  run(source: Texture, bench: Bench): Texture {
    const { renderer, passes, targets, blur, values: v } = bench,
      u = this.#u;
    for (let i = 0; i < this.#parts.length; i++) {
      const p = this.#parts[i]!;
      if (p.size === 3) (u[p.name]!.value as Vector3).set(v[p.at]!, v[p.at + 1]!, v[p.at + 2]!);
      else u[p.name]!.value = v[p.at]!;
      if (p.sum >= 0) u[p.sumName]!.value = v[p.sum]! % FINISH_WRAP;
    }
    this.#inks?.update(v);
    u.source!.value = source;
    u.now!.value = bench.time;
    u.dt!.value = bench.dt;
    u.whole!.value = bench.whole ? 1 : 0;
    const pixels = u.pixels!.value as number[];
    pixels[0] = targets.width;
    pixels[1] = targets.height;
    switch (this.form.kind) {
      case 'trails':
        return this.#trail(bench);
      case 'blur': {
        const r = this.#of(v, 'radius'),
          out = r > 0.2 ? blur.run(renderer, passes, targets, source, r).texture : source;
        u.other!.value = out;
        break;
      }
      case 'glow': {
        const bright = targets.takeSmall();
        passes.run(renderer, this.#extra!, bright);
        u.other!.value = blur.run(
          renderer,
          passes,
          targets,
          bright.texture,
          Math.max(11, this.#of(v, 'radius')),
        ).texture;
        break;
      }
      case 'grain':
        u.other!.value = this.#paper(bench);
        break;
      case 'shove': {
        const by = this.form.by === null ? null : bench.pictureOf(this.form.by);
        u.other!.value = by;
        u.has!.value = by ? 1 : 0;
        break;
      }
      case 'mask': {
        const by = this.form.by === null ? null : bench.pictureOf(this.form.by);
        if (!by) return source;
        const soft = this.#of(v, 'soft'),
          inner = this.#of(v, 'inner'),
          outer = this.#of(v, 'outer');
        u.other!.value = soft > 0.2 ? blur.run(renderer, passes, targets, by, soft).texture : by;
        u.third!.value = inner > 0.2 ? blur.run(renderer, passes, targets, by, inner).texture : by;
        u.before!.value = outer > 0.2 ? blur.run(renderer, passes, targets, by, outer).texture : by;
        break;
      }
      default:
    }
    const out = targets.take();
    passes.run(renderer, this.#material, out);
    return out.texture;
  }

  /** The paper that grain is of, drawn anew only when its pace has brought another, or its size changed. */
  #paper({ renderer, passes, targets }: Bench): Texture {
    const u = this.#u,
      turn = Math.floor(u.p_paceSum!.value as number),
      size = u.p_size!.value as number;
    let paper = this.#paperTarget;
    const other = paper === null || paper.width !== targets.width || paper.height !== targets.height;
    if (other) {
      paper?.dispose();
      this.#paperTarget = paper = plain(targets.width, targets.height);
    }
    if (other || turn !== this.#paperTurn || size !== this.#paperSize) {
      this.#paperTurn = turn;
      this.#paperSize = size;
      passes.run(renderer, this.#extra!, paper!);
    }
    return paper!.texture;
  }

  #trail(bench: Bench): Texture {
    const { renderer, passes, targets, values: v } = bench,
      u = this.#u;
    if (
      !this.#history ||
      this.#history[1].width !== targets.width ||
      this.#history[1].height !== targets.height
    ) {
      // A picture of another size goes on with the trails that it had.
      const old = this.#history;
      this.#history = [
        old?.[0] ?? plain(targets.width, targets.height),
        plain(targets.width, targets.height),
      ];
      if (old) old[1].dispose();
      else this.#fresh = true;
      this.#outgrown = old?.[0] ?? null;
    }
    const cleared = u.p_clearSum!.value as number;
    if (cleared !== this.#cleared) {
      this.#cleared = cleared;
      this.#fresh = true;
    }
    // While the picture stands still the last step is drawn again: laid on once more, soft edges would fill up.
    const again = bench.dt === 0 && this.#step >= 0 && !this.#fresh;
    if (!again) this.#had = this.#fresh || this.#of(v, 'last') <= 0 ? 0 : 1;
    u.has!.value = this.#had;
    u.dt!.value = again ? this.#step : bench.dt;
    this.#fresh = false;
    const from = this.#history[again ? 1 : 0],
      to = this.#history[again ? 0 : 1];
    u.before!.value = from.texture;
    passes.run(renderer, this.#material, to);
    this.#history[0] = to;
    this.#history[1] = from;
    this.#step = this.#outgrown ? -1 : again ? this.#step : bench.dt;
    if (this.#outgrown) {
      this.#outgrown.dispose();
      this.#outgrown = null;
      this.#history[1] = plain(targets.width, targets.height);
    }
    // What is kept is the whole trail; what shows is mixed with the picture as it is.
    u.other!.value = to.texture;
    const out = targets.take();
    passes.run(renderer, this.#extra!, out);
    return out.texture;
  }
  dispose(): void {
    this.#material.dispose();
    this.#extra?.dispose();
    this.#paperTarget?.dispose();
    this.#history?.forEach((t) => t.dispose());
  }
}
