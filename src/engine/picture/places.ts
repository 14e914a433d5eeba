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
