import type { Object3D } from 'three';
import type { Figure } from '../../../core/show/types';
import type { PictureMedia } from '../media';
import type { Surroundings } from '../shade';

/** What is written of one thing in a map of places. */
interface Written {
  readonly at: Map<string, number>;
  readonly rows: Map<string, readonly [at: number, points: number]>;
}
const NOTHING: Written = { at: new Map(), rows: new Map() };
const read = new WeakMap<FrameMap, ReadonlyMap<string, Written>>();
/** A map of places by its things, gone through once however many things ask for theirs. */
function byThing(map: FrameMap): ReadonlyMap<string, Written> {
  const known = read.get(map);
  if (known) return known;
  const things = new Map<string, Written>();
  const entry = (key: string): [Written, string] => {
    const end = key.indexOf('/'),
      thing = key.slice(0, end);
    let written = things.get(thing);
    if (!written) things.set(thing, (written = { at: new Map(), rows: new Map() }));
    return [written, key.slice(end + 1)];
  };
  for (const key in map.parameters) {
    const [written, parameter] = entry(key);
    written.at.set(parameter, map.parameters[key]!);
  }
  for (const key in map.vectors) {
    if (!key.includes('/')) continue;
    const [written, parameter] = entry(key);
    written.rows.set(parameter, map.vectors[key]!);
  }
  read.set(map, things);
  return things;
}

/** Where its numbers stand in a frame. */
export interface FrameMap {
  readonly parameters: Readonly<Record<string, number>>;
  readonly vectors: Readonly<Record<string, readonly [number, number]>>;
}

/** Where a figure's numbers stand in a frame. */
export class Places {
  readonly #at: Written['at'];
  readonly #rows: Written['rows'];
  constructor(thing: string, map: FrameMap) {
    ({ at: this.#at, rows: this.#rows } = byThing(map).get(thing) ?? NOTHING);
  }
  of(parameter: string): number {
    return this.#at.get(parameter) ?? -1;
  }
  /** Where the row that is laid over a parameter stands among the vectors, or null. */
  row(parameter: string): readonly [at: number, points: number] | null {
    return this.#rows.get(parameter) ?? null;
  }
  get hasRows(): boolean {
    return this.#rows.size > 0;
  }
}

/** What a figure may need of the picture that it is in. */
export interface Workshop {
  readonly around: Surroundings;
  readonly media: PictureMedia;
  /** Points of another figure, about its anchor, in pairs; null when it has none. */
  pointsOf(figure: string): Float32Array | null;
}

/** One figure at work. `update` allocates nothing; it is called before every drawing. */
export interface Drawn {
  readonly object: Object3D;
  /** @param values - the frame's parameters @param time - seconds that the picture has lived @param vectors - the frame's rows */
  update(values: Float32Array, time: number, vectors?: Float32Array): void;
  /** The frame's layout or the figure's place changed; its form did not. */
  place(figure: Figure, places: Places): void;
  /** Points on which copies may stand, about its anchor. */
  points?(): Float32Array;
  dispose(): void;
}

/** Puts a figure where its place and its *across*, *height* and *size* have it. */
export function stand(
  object: Object3D,
  base: Figure['at'],
  v: Float32Array,
  at: { readonly across: number; readonly height: number; readonly size: number },
): void {
  const size = v[at.size]!;
  object.position.set(base.x + v[at.across]!, base.y + v[at.height]!, 0);
  object.scale.set(size, size, 1);
}

/** Where the numbers stand that every newer kind of figure has. */
export interface Stance {
  readonly across: number;
  readonly height: number;
  readonly size: number;
  readonly turn: number;
  readonly shown: number;
}
export function stanceOf(places: Places): Stance {
  return {
    across: places.of('across'),
    height: places.of('height'),
    size: places.of('size'),
    turn: places.of('turn'),
    shown: places.of('shown'),
  };
}
/** Like {@link stand}, turned as well. */
export function take(object: Object3D, base: Figure['at'], v: Float32Array, at: Stance): void {
  stand(object, base, v, at);
  object.rotation.z = (v[at.turn]! * Math.PI) / 180;
}

/** Paper and inks of the press that are nobody's parameter. */
export const INK = {
  paper: 0xf2e9d4,
  night: 0x12212c,
  black: 0x0b0a0a,
  maize: 0xf0b53c,
  urucum: 0xe8572a,
  shade: 0x1d3340,
  wood: 0xefd6a4,
  bark: 0xb98d4e,
} as const;
