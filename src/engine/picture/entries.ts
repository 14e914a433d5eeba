import { Group } from 'three';
import { type FigureForm, figureParameters, PICTURE_SIZE, type SurfaceSize } from '../../core/figures';
import type { Blend, FinishForm } from '../../core/finishes';
import {
  type Figure,
  type OnSurface,
  PICTURE_SURFACE,
  type Show,
  type Surface,
  together,
} from '../../core/show';
import { DialFigure } from './figures/dial';
import { BarsFigure, SpectrogramFigure, WaveformFigure } from './figures/rowed';
import { CopiesFigure } from './figures/copies';
import { type Drawn, type Workshop } from './figures/drawn';
import { Places, type FrameMap } from './places';
import { EdgeFigure } from './figures/edge';
import { EmitterFigure } from './figures/emitter';
import { GroundFigure } from './figures/ground';
import { LanternsFigure } from './figures/lanterns';
import { LettersFigure } from './figures/letters';
import { LightFigure } from './figures/light';
import { MeterFigure } from './figures/meter';
import { PlateFigure, TextFigure, TextureFigure } from './figures/plate';
import { PrintFigure } from './figures/print';
import { SolidFigure } from './figures/solid';
import { StarsFigure } from './figures/stars';
import { TraceFigure } from './figures/trace';
import { WavesFigure } from './figures/waves';
import { FinishWork } from './finishes/finish';

/** What a picture is made from. */
export type Stage = OnSurface &
  Pick<Show, 'flashLimit'> & { /** What is drawn on; absent: the picture. */ readonly surface?: Surface };
/** A switch draws nothing by itself: it chooses among others. */
class NothingDrawn implements Drawn {
  readonly object = new Group();
  update(): void {
    /* There is nothing. */
  }
  place(): void {
    /* Nowhere. */
  }
  dispose(): void {
    /* Nothing was made. */
  }
}

function draw(figure: Figure, places: Places, shop: Workshop): Drawn {
  const { form } = figure;
  switch (form.kind) {
    case 'ground':
      return new GroundFigure(figure, places, shop.size);
    case 'print':
      return new PrintFigure(form.form, figure, places);
    case 'waves':
      return new WavesFigure(form.rows, figure, places, shop.size.width);
    case 'lanterns':
      return new LanternsFigure(form.count, form.width, figure, places);
    case 'stars':
      return new StarsFigure(form.count, figure, places, shop.size.width);
    case 'dial':
      return new DialFigure(form.marks, figure, places);
    case 'meter':
      return new MeterFigure(form.segments, form.upright, figure, places);
    case 'solid':
      return new SolidFigure(form.shape, form.look, form.anchor, figure, places, shop);
    case 'model': {
      const solid = new SolidFigure(null, form.look, form.anchor, figure, places, shop);
      if (form.media) shop.media.model(form.media, (g) => solid.shape(g));
      return solid;
    }
    case 'copies':
      return new CopiesFigure(form, figure, places, shop);
    case 'light':
      return new LightFigure(figure, places, shop);
    case 'emitter':
      return new EmitterFigure(form, figure, places, shop);
    case 'trace':
      return new TraceFigure(figure, places, shop);
    case 'bars':
      return new BarsFigure(form, figure, places);
    case 'waveform':
      return new WaveformFigure(form, figure, places, shop);
    case 'spectrogram':
      return new SpectrogramFigure(form, figure, places);
    case 'image':
    case 'video':
    case 'camera':
      return new PlateFigure(form, figure, places, shop);
    case 'texture':
      return new TextureFigure(form, figure, places, shop);
    case 'text':
      return new TextFigure(form, figure, places, shop);
    case 'edge':
      return new EdgeFigure(form, figure, places, shop);
    case 'letters':
      return new LettersFigure(form, figure, places, shop);
    case 'switch':
      return new NothingDrawn();
  }
}

/** A figure, or a group of them, as it is put together with the others. */
export interface Entry {
  readonly id: string;
  /** What is shown or not while one part of the picture is drawn. */
  readonly wrapper: Group;
  readonly blend: Blend;
  readonly finishes: readonly FinishWork[];
  readonly figure: Figure | null;
  readonly drawn: Drawn | null;
  /** Of a group: its own entries, and where its numbers stand. */
  readonly inner: readonly Entry[];
  readonly at: Record<'across' | 'height' | 'size' | 'wide' | 'tall' | 'turn' | 'shown', number> | null;
  /** Of a group: what stays where it is, in pixels of the surface; without one of its own the surface’s middle. */
  readonly pivot: { readonly x: number; readonly y: number };
}
export interface Switch {
  readonly which: number;
  readonly next: number;
  readonly of: readonly Group[];
}

/** Whether a form says the same as before. Through an edit what did not change is the same object; a show that came whole is not. */
const sameForm = (a: FigureForm | FinishForm, b: FigureForm | FinishForm): boolean =>
  a === b || JSON.stringify(a) === JSON.stringify(b);

/** All that is drawn, made from the show and kept as far as it did not change. */
export class Entries {
  readonly root = new Group();
  list: readonly Entry[] = [];
  leaves: readonly Entry[] = [];
  /** Every figure at work, drawn or not: those that only serve another are brought up to date too. */
  drawn: readonly Drawn[] = [];
  switches: readonly Switch[] = [];
  /** Finishes on the whole picture. */
  whole: readonly FinishWork[] = [];
  /** Figures whose own picture is used by a finish, and the layer on which each can be seen alone. */
  readonly aside = new Map<string, number>();
  wantsRows = false;
  #made = new Map<string, { form: FigureForm; readonly drawn: Drawn }>();
  #works = new Map<string, { form: FinishForm; readonly work: FinishWork }>();
  /** Parameters that take events one by one: by the place of each, whose it is. */
  readonly arrivals = new Map<number, { readonly drawn: Drawn; readonly parameter: string }>();
  #size: SurfaceSize = PICTURE_SIZE;
  readonly #shop: Omit<Workshop, 'pointsOf' | 'size'>;

  constructor(shop: Omit<Workshop, 'pointsOf' | 'size'>) {
    this.#shop = shop;
  }

  set(stage: Stage, map: FrameMap): void {
    const { width, height } = stage.surface ?? PICTURE_SURFACE;
    if (width !== this.#size.width || height !== this.#size.height) {
      // On another size everything is made anew: some of it covers the whole.
      for (const { drawn } of this.#made.values()) drawn.dispose();
      this.#made = new Map();
      this.#size = { width, height };
    }
    const before = this.#made,
      made = (this.#made = new Map<string, { form: FigureForm; readonly drawn: Drawn }>());
    const works = this.#finishes(stage, map);
    const places = new Map(stage.figures.map((f) => [f.id, new Places(f.id, map)]));
    const shop: Workshop = {
      ...this.#shop,
      size: this.#size,
      pointsOf: (id) => made.get(id)?.drawn.points?.() ?? before.get(id)?.drawn.points?.() ?? null,
    };
    // Those that stand on another's points come after it.
    const ordered = [...stage.figures].sort(
      (a, b) =>
        Number(a.form.kind === 'copies' && a.form.of !== null) -
        Number(b.form.kind === 'copies' && b.form.of !== null),
    );
    for (const figure of ordered) {
      const { form } = figure,
        old = before.get(figure.id),
        at = places.get(figure.id)!;
      if (old && sameForm(old.form, form)) {
        old.form = form;
        old.drawn.place(figure, at);
        before.delete(figure.id);
        made.set(figure.id, old);
      } else made.set(figure.id, { form, drawn: painted(draw(figure, at, shop)) });
    }
    for (const { drawn } of before.values()) drawn.dispose();
    this.arrivals.clear();
    for (const [id, { drawn }] of made)
      if (drawn.arrive)
        for (const p of figureParameters(stage.figures.find((f) => f.id === id)!.form.kind))
          if (p.kind === 'number' && p.takesEvents)
            this.arrivals.set(places.get(id)!.of(p.id), { drawn, parameter: p.id });
    this.wantsRows = [...places.values()].some((p) => p.hasRows);
    this.#arrange(stage, map, works);
  }

  #finishes(stage: Stage, map: FrameMap): Map<string, FinishWork> {
    const before = this.#works;
    this.#works = new Map();
    for (const finish of stage.finishes) {
      const { form } = finish,
        old = before.get(finish.id),
        places = new Places(finish.id, map);
      if (old && sameForm(old.form, form)) {
        old.form = form;
        old.work.place(places, finish.ramp);
        before.delete(finish.id);
        this.#works.set(finish.id, old);
      } else this.#works.set(finish.id, { form, work: new FinishWork(finish, places) });
    }
    for (const { work } of before.values()) work.dispose();
    return new Map([...this.#works].map(([id, { work }]) => [id, work]));
  }

  #arrange(stage: Stage, map: FrameMap, works: ReadonlyMap<string, FinishWork>): void {
    const finishesOn = (on: string): FinishWork[] =>
      stage.finishes.filter((f) => f.on === on && !f.off).map((f) => works.get(f.id)!);
    const used = new Set(
      stage.finishes.flatMap((f) =>
        (f.form.kind === 'mask' || f.form.kind === 'shove') && f.form.by !== null && !f.off
          ? [f.form.by]
          : [],
      ),
    );
    const { id: surface, width, height } = stage.surface ?? PICTURE_SURFACE,
      middle = { x: width / 2, y: height / 2 };
    this.aside.clear();
    for (const id of used)
      if (this.#made.has(id) && this.aside.size < 30) this.aside.set(id, this.aside.size + 1);
    this.root.clear();
    const groups = new Map(
      stage.figureGroups.map((g) => [g.id, { group: g, wrapper: new Group(), inner: [] as Entry[] }]),
    );
    const list: Entry[] = [],
      leaves: Entry[] = [];
    let order = 0;
    for (const figure of together(stage.figures)) {
      const { drawn } = this.#made.get(figure.id)!,
        group = figure.group === null ? undefined : groups.get(figure.group),
        layer = this.aside.get(figure.id);
      const out = figure.hidden || (group?.group.hidden ?? false);
      drawn.object.visible = true;
      drawn.object.traverse((o) => {
        o.layers.mask = (out ? 0 : 1) | (layer ? 1 << layer : 0);
      });
      if (out && !layer) continue;
      // Figures lie one upon the other like sheets of paper: order, not depth. It is the groups that are ordered.
      drawn.object.renderOrder = ++order;
      const wrapper = new Group();
      if (figure.twin?.mirrored) {
        wrapper.scale.x = -1;
        wrapper.position.x = 2 * figure.at.x;
      }
      wrapper.add(drawn.object);
      const entry: Entry = {
        id: figure.id,
        wrapper,
        blend: figure.blend,
        finishes: finishesOn(figure.id),
        figure,
        drawn,
        inner: [],
        at: null,
        pivot: middle,
      };
      leaves.push(entry);
      if (!group) {
        list.push(entry);
        this.root.add(wrapper);
        continue;
      }
      if (group.inner.length === 0) {
        const at = new Places(group.group.id, map);
        list.push({
          id: group.group.id,
          wrapper: group.wrapper,
          blend: group.group.blend,
          finishes: finishesOn(group.group.id),
          figure: null,
          drawn: null,
          inner: group.inner,
          at: {
            across: at.of('across'),
            height: at.of('height'),
            size: at.of('size'),
            wide: at.of('wide'),
            tall: at.of('tall'),
            turn: at.of('turn'),
            shown: at.of('shown'),
          },
          pivot: group.group.pivot ?? middle,
        });
        this.root.add(group.wrapper);
      }
      group.inner.push(entry);
      group.wrapper.add(wrapper);
    }
    this.list = list;
    this.leaves = leaves;
    this.drawn = leaves.map((l) => l.drawn!);
    this.whole = finishesOn(surface);
    this.switches = stage.figures.flatMap((f): Switch[] => {
      if (f.form.kind !== 'switch') return [];
      const places = new Places(f.id, map);
      return [
        {
          which: places.of('which'),
          next: places.of('next:sum'),
          of: f.form.of.flatMap((id) => {
            const d = this.#made.get(id)?.drawn;
            return d ? [d.object as Group] : [];
          }),
        },
      ];
    });
  }

  /** Puts groups where their numbers have them, and shows of each switch's figures the one that is chosen. */
  update(v: Float32Array): void {
    for (let i = 0; i < this.list.length; i++) {
      const { at, wrapper, pivot } = this.list[i]!;
      if (!at) continue;
      const wide = v[at.size]! * v[at.wide]!,
        tall = v[at.size]! * v[at.tall]!,
        turn = (v[at.turn]! * Math.PI) / 180,
        c = Math.cos(turn),
        s = Math.sin(turn),
        { x, y } = pivot;
      wrapper.scale.set(wide, tall, 1);
      wrapper.rotation.z = turn;
      wrapper.position.set(
        x + v[at.across]! - (c * wide * x - s * tall * y),
        y + v[at.height]! - (s * wide * x + c * tall * y),
        0,
      );
    }
    for (let i = 0; i < this.switches.length; i++) {
      const { which, next, of } = this.switches[i]!;
      if (of.length === 0) continue;
      const chosen = (Math.round(v[which]!) - 1 + Math.floor(v[next]! + 1e-6)) % of.length;
      for (let k = 0; k < of.length; k++) of[k]!.visible = k === chosen;
    }
  }

  dispose(): void {
    for (const { drawn } of this.#made.values()) drawn.dispose();
    for (const { work } of this.#works.values()) work.dispose();
    this.#made.clear();
    this.#works.clear();
  }
}

/**
 * Everything is painted in its order: nothing is opaque to the machine, and only solids have a depth of their own. Nothing is left
 * out for lying outside: shaders and instances take things to where their boxes know nothing of.
 */
function painted(drawn: Drawn): Drawn {
  drawn.object.traverse((o) => {
    o.frustumCulled = false;
    const { material } = o as {
      material?: { transparent: boolean; depthTest: boolean; depthWrite: boolean };
    };
    if (!material) return;
    material.transparent = true;
    if (!o.userData.solid) {
      material.depthTest = false;
      material.depthWrite = false;
    }
  });
  return drawn;
}
