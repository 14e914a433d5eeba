import type { Blend, FinishForm } from '../../finishes/kinds';
import type { FigureForm } from '../../figures/kinds';
import type { Making } from '../../makers/making';
import type { ParameterValue } from '../../parameters/description';
import { newRoute } from '../../show/commands';
import { newOverlay } from '../../show/overlayStarts';
import { newFigure } from '../../show/pictureCommands';
import { signalOfMaker, signalsOfEar, type Signal } from '../../show/signals';
import { findParameter } from '../../show/things';
import {
  type Ear,
  type Figure,
  type FigureGroup,
  type Finish,
  type Maker,
  type Overlay,
  type Route,
  type Show,
} from '../../show/types';
import { ferryShow, HEARD, type FerryMedia } from '../show';

export interface ExampleMedia extends FerryMedia {
  readonly buoy: string;
  readonly film: string;
}

type Rest = Readonly<Record<string, ParameterValue>>;

/** Builds an example upon the crossing's inputs and ears. */
export class Sheet {
  readonly #base: Show;
  readonly #ears: Ear[];
  readonly #makers: Maker[] = [];
  readonly #figures: Figure[] = [];
  readonly #groups: FigureGroup[] = [];
  readonly #finishes: Finish[] = [];
  readonly #aims: {
    signal: string;
    thing: string;
    parameter: string;
    reach?: ParameterValue;
    change?: Partial<Route>;
  }[] = [];
  #camera: Rest = {};
  readonly #overlays: Overlay[] = [];

  constructor(id: string, name: string, media: ExampleMedia) {
    const ferry = ferryShow(media);
    this.#base = {
      ...ferry,
      id,
      name,
      routes: [],
      figures: [],
      figureGroups: [],
      finishes: [],
      makers: [],
      overlays: [],
    };
    this.#ears = ferry.ears.filter((e) => e.id !== 'spectrum');
    this.ear('spectrum', 'Deck · spectrum', { kind: 'vector', of: 'spectrum', scale: 'log', points: 64 });
    this.ear('wave', 'Deck · waveform', { kind: 'vector', of: 'waveform', scale: 'linear', points: 128 });
    this.ear('snare-hit', 'Snare · hit', {
      kind: 'hit',
      what: 'snare',
      low: 1200,
      high: 5000,
      sensitivity: 0.6,
      holdOffMs: 90,
    });
    this.ear('beat', 'Each beat', { kind: 'beat', reading: 'beat', multiple: 1 });
  }
  ear(id: string, name: string, listening: Ear['listening']): string {
    this.#ears.push({ id, name, input: 'deck', channel: 'sum', listening });
    return id;
  }
  maker(id: string, name: string, making: Making): string {
    this.#makers.push({ id, name, making });
    return id;
  }
  figure(
    id: string,
    name: string,
    form: FigureForm,
    x: number,
    y: number,
    rest: Rest = {},
    more: Partial<Pick<Figure, 'blend' | 'hidden' | 'group'>> = {},
  ): this {
    this.#figures.push({ ...newFigure(id, name, form, { x, y }, rest, this.#overlays.at(-1)?.id), ...more });
    return this;
  }
  group(id: string, name: string, rest: Rest = {}, blend: Blend = 'over'): this {
    this.#groups.push({ id, name, hidden: false, locked: false, blend, rest });
    return this;
  }
  finish(id: string, on: string, form: FinishForm, rest: Rest = {}): this {
    this.#finishes.push({
      id,
      name: form.kind[0]!.toUpperCase() + form.kind.slice(1),
      form,
      on,
      off: false,
      rest,
    });
    return this;
  }
  /** What is added from now on is drawn on an overlay. */
  overlay(id: string, name: string): this {
    this.#overlays.push(newOverlay(id, name));
    return this;
  }
  camera(rest: Rest): this {
    this.#camera = rest;
    return this;
  }
  route(
    signal: string,
    thing: string,
    parameter: string,
    reach?: ParameterValue,
    change?: Partial<Route>,
  ): this {
    this.#aims.push({
      signal,
      thing,
      parameter,
      ...(reach !== undefined && { reach }),
      ...(change && { change }),
    });
    return this;
  }

  show(): Show {
    const bare: Show = {
      ...this.#base,
      ears: this.#ears,
      makers: this.#makers,
      figures: this.#figures,
      figureGroups: this.#groups,
      finishes: this.#finishes,
      overlays: this.#overlays,
      camera: { ...this.#base.camera, rest: this.#camera },
    };
    const signals = new Map<string, Signal>(
      [...this.#ears.flatMap(signalsOfEar), ...this.#makers.map(signalOfMaker)].map((s) => [s.id, s]),
    );
    const routes = this.#aims.map(({ signal, thing, parameter, reach, change }, i): Route => {
      const found = signals.get(signal),
        target = { thing, parameter },
        end = findParameter(bare, target);
      if (!found || !end) throw new Error(`examples: nothing like ${signal} → ${thing}/${parameter}`);
      return {
        ...newRoute(`route-${i + 1}`, found, target, end.parameter, HEARD[signal] ?? null),
        ...(reach !== undefined && { reach }),
        ...change,
      };
    });
    return { ...bare, routes };
  }
}
