import { blinkOf, DelayedBytes, type StreamDeclaration } from '../../core/outlets';
import {
  ByteGate,
  cellsOf,
  DeskMerge,
  dimmed,
  type DimmerCurve,
  FlashCount,
  FLASHES_A_SECOND,
  FUSED_A_SECOND,
  type Hung,
  type KeptColours,
  type Kind,
  kindOf,
  kindParameters,
  LampGate,
  Lit,
  makeKept,
  makeValues,
  type MergeWay,
  pointOver,
  type Room,
  type RowOrder,
  sheetAt,
  spotsOnSheet,
  writeFates,
  writeLamp,
  writeParked,
} from '../../core/lights';
import type { PlanMap } from '../../core/plan';
import { toLinear } from '../../core/parameters';
import { type Fixture, parameterKey, restOf, type Wire } from '../../core/show';
import type { FrameReader } from '../memory/frames';
import type { SheetReader } from '../memory/sheet';
import type { Stream } from './stream';

/** What the streams of lamps are told from outside the show: they begin with nothing allowed. */
export interface LampRules {
  /** Quick flashes are allowed on this machine. */
  quick: boolean;
  /** A lamp that is looked for: full and white. */
  identified: string | null;
  /** The picture, for lamps that take their colour from it; null: there is none. */
  readonly sheet: SheetReader | null;
  /** What a desk sends on a universe; null while none is heard there. */
  readonly desk: (universe: number) => Uint8Array | null;
}
/** What of the show all lamps of a universe have in common. */
export interface LampPlaces {
  readonly kinds: readonly Kind[];
  readonly room: Room;
  /** Where each lamp hangs, by its id. */
  readonly hung: ReadonlyMap<string, Hung>;
  /** What becomes of the universe when a desk sends on it too. */
  readonly merge: MergeWay;
  /** By which a frame says that the lamps of this wire blink. */
  readonly blinks: number;
}

/** One lamp at work. */
interface Lamp {
  readonly fixture: Fixture;
  readonly kind: Kind;
  readonly curve: DimmerCurve;
  readonly order: RowOrder;
  readonly gate: LampGate;
  readonly flashes: FlashCount;
  readonly values: Float64Array;
  /** By which its bytes were written; its first is NaN where they must be written anew. */
  readonly written: Float64Array;
  /** Which place of a frame moves which of its values, and by how much it is divided; three places for a colour. */
  readonly places: readonly (readonly [from: number, to: number, size: number, by: number])[];
  /** Where a row stands that is laid over its cells, and its points; null: none is. */
  readonly row: readonly [at: number, points: number] | null;
  readonly levels: Float32Array;
  /** Where its cells hang on the picture, and the colour of each; null where no picture can lie on it. */
  readonly onSheet: Float32Array | null;
  readonly colours: Float32Array;
  readonly kept: KeptColours | null;
  /** For bytes that others gave it; made when the first did. */
  bytes: ByteGate | null;
}

/** Which of its values a parameter is, and what its unit is divided by. */
const VALUES: Readonly<Record<string, readonly [Lit, number]>> = {
  dimmer: [Lit.Dimmer, 100],
  colour: [Lit.Red, 1],
  far: [Lit.FarRed, 1],
  cells: [Lit.Cells, 100],
  picture: [Lit.Picture, 100],
  uv: [Lit.Uv, 100],
  pan: [Lit.Pan, 1],
  tilt: [Lit.Tilt, 1],
  zoom: [Lit.Zoom, 1],
  focus: [Lit.Focus, 100],
  gobo: [Lit.Gobo, 1],
  strobe: [Lit.Strobe, 1],
  haze: [Lit.Haze, 100],
  fan: [Lit.Fan, 100],
};
const before = new Uint8Array(512);
/** A step is never taken for longer than this: whoever stood still does not leap. */
const STEP_MOST = 0.1;

const base64 = (bytes: Uint8Array): string => btoa(String.fromCharCode(...bytes));

/** One universe on one wire: the channels of its lamps, from the frame's parameters, past the gate of each. */
export class LampStream implements Stream {
  readonly declaration: StreamDeclaration;
  readonly value = new Uint8Array(512);
  #lamps: readonly Lamp[] = [];
  readonly #fixtures: readonly Fixture[];
  readonly #of: LampPlaces;
  readonly #universe: number;
  readonly #rules: LampRules;
  readonly #fates = new Uint8Array(512);
  readonly #desk = new DeskMerge();
  readonly #delayMs: number;
  /** What waits to go out, where the wire is held back. */
  #late: DelayedBytes | null;
  readonly #fresh = new Uint8Array(512);
  /** What its lamps do, before others have their say. */
  readonly #made = new Uint8Array(512);
  #rows = false;
  #time = NaN;

  /** @param fixtures - those of this universe */
  constructor(wire: Wire, universe: number, fixtures: readonly Fixture[], of: LampPlaces, rules: LampRules) {
    this.#fixtures = fixtures;
    this.#of = of;
    this.#universe = universe;
    this.#rules = rules;
    this.#delayMs = wire.delayMs ?? 0;
    this.#late = this.#delayMs > 0 ? new DelayedBytes(512) : null;
    const { kinds } = of,
      fates = this.#fates,
      calm = new Uint8Array(512);
    for (const f of fixtures) writeFates(fates, calm, f.address, kindOf(f, kinds));
    this.declaration = {
      id: `lamps ${wire.id} ${universe}`,
      to: { kind: 'wire', wire: wire.id, universe },
      size: 512,
      mostPerSecond: wire.rate,
      mode: 'latest',
      keepAlive: wire.keepAlive,
      safe: wire.safe,
      rest: wire.safe.then === 'rest' ? restBytes(fixtures, kinds) : null,
      fates: base64(fates),
      calm: base64(calm),
    };
  }

  /** Heads go on from where another stream of the same universe left them. */
  follow(other: LampStream): void {
    if (this.#late && other.#late) this.#late = other.#late;
    this.value.set(other.value);
    const old = new Map(other.#lamps.map((l) => [l.fixture.id, l]));
    for (const lamp of this.#lamps) {
      const was = old.get(lamp.fixture.id);
      if (was?.kind !== lamp.kind) continue;
      lamp.gate.follow(was.gate);
      if (was.bytes) this.#bytesOf(lamp).follow(was.bytes);
    }
  }

  /** A wire that is held back needs every frame, to give each as late as the others. */
  get everyFrame(): boolean {
    return this.#late !== null;
  }
  place(map: PlanMap): void {
    const old = new Map(this.#lamps.map((l) => [l.fixture.id, l]));
    this.#lamps = this.#fixtures.map((fixture): Lamp => {
      const kind = kindOf(fixture, this.#of.kinds),
        was = old.get(fixture.id),
        { id, curve = 'linear', order = 'along', aim } = fixture;
      return {
        fixture,
        kind,
        curve,
        order,
        gate: was?.gate ?? new LampGate(kind, aim),
        flashes: was?.flashes ?? new FlashCount(),
        values: was?.values ?? makeValues(),
        written: makeValues().fill(NaN),
        places: kindParameters(kind).flatMap((p) => {
          const from = map.parameters[parameterKey({ thing: id, parameter: p.id })] ?? -1,
            value = VALUES[p.id];
          return from >= 0 && value ? [[from, value[0], p.kind === 'colour' ? 3 : 1, value[1]] as const] : [];
        }),
        row:
          cellsOf(kind) > 1 ? (map.vectors[parameterKey({ thing: id, parameter: 'cells' })] ?? null) : null,
        levels: new Float32Array(cellsOf(kind)),
        onSheet: this.#onSheet(fixture, kind),
        colours: was?.colours ?? new Float32Array(3 * cellsOf(kind)),
        kept: makeKept(kind),
        bytes: was?.bytes ?? null,
      };
    });
    this.#rows = this.#lamps.some((l) => l.row !== null);
  }

  #onSheet(fixture: Fixture, kind: Kind): Float32Array | null {
    const { hung, room } = this.#of,
      at = hung.get(fixture.id);
    return at && kindParameters(kind).some((p) => p.id === 'picture') ? spotsOnSheet(kind, at, room) : null;
  }
  #bytesOf(lamp: Lamp): ByteGate {
    const { kind, fixture } = lamp;
    return (lamp.bytes ??= new ByteGate(kind, fixture.address, fixture.aim));
  }
  /** What does not come by way of the lamps' own gates: a desk's channels and parked ones, past a gate of their own. */
  #takeForeign(fresh: Uint8Array, dt: number, darkness: number): void {
    const desk = this.#rules.desk(this.#universe),
      light = Math.max(0, 1 - darkness);
    this.#desk.step(fresh, desk, this.#of.merge, this.#fates, light);
    const foreign = desk !== null && this.#of.merge !== 'ours';
    for (let k = 0; k < this.#lamps.length; k++) {
      const lamp = this.#lamps[k]!,
        { parked, address } = lamp.fixture;
      if (parked) writeParked(fresh, address - 1, parked, this.#fates, light);
      if (foreign || parked) this.#bytesOf(lamp);
      lamp.bytes?.step(fresh, dt, this.#rules.quick);
    }
  }
  /** How much of the picture the lamp that takes most of it takes, 0 to 1. */
  get picture(): number {
    let most = 0;
    for (let k = 0; k < this.#lamps.length; k++) most = Math.max(most, this.#lamps[k]!.values[Lit.Picture]!);
    return most;
  }

  fill(frame: FrameReader): boolean {
    const { value } = this,
      fresh = this.#fresh,
      rules = this.#rules,
      dt = Math.min(STEP_MOST, Math.max(0, frame.time - this.#time)) || 0;
    this.#time = frame.time;
    const rows = this.#rows && frame.readVectors(),
      { sheet } = rules,
      blink = blinkOf(frame.blink, this.#of.blinks);
    before.set(value);
    for (let k = 0; k < this.#lamps.length; k++) {
      const lamp = this.#lamps[k]!,
        { values, places, kind, fixture } = lamp;
      for (let i = 0; i < places.length; i++) {
        const [from, to, size, by] = places[i]!;
        for (let c = 0; c < size; c++) values[to + c] = frame.parameters[from + c]! / by;
      }
      values[Lit.Dimmer] = dimmed(lamp.curve, values[Lit.Dimmer]!);
      const levels = rows && lamp.row ? layRow(lamp, frame.vectors) : null;
      // Dark is dark for the one that is looked for, too.
      const found = (rules.identified === fixture.id || blink > 0) && frame.darkness === 0;
      if (found) identify(values, levels);
      else if (blink < 0) values[Lit.Dimmer] = 0;
      const share = values[Lit.Picture]!,
        coloured = sheet !== null && lamp.onSheet !== null && share > 0 && !found;
      if (coloured) takeColours(lamp, sheet.light, Math.min(1, share));
      lamp.gate.step(values, dt, rules.quick);
      lamp.flashes.step(
        values[Lit.Dimmer]! * Math.max(values[Lit.Red]!, values[Lit.Green]!, values[Lit.Blue]!),
        dt,
      );
      // Many cells take their time: what does the same as before has its bytes already.
      if (levels || coloured || lamp.written[0] !== lamp.written[0] || !same(values, lamp.written)) {
        writeLamp(
          this.#made,
          fixture.address,
          kind,
          values,
          levels,
          coloured ? lamp.colours : null,
          lamp.kept,
        );
        lamp.written.set(values);
        // After a row, or the picture, the same values mean something else.
        if (levels || coloured) lamp.written[0] = NaN;
      }
    }
    fresh.set(this.#made);
    this.#takeForeign(fresh, dt, frame.darkness);
    if (this.#late) {
      if (dt > 0) this.#late.put(frame.time * 1000, fresh);
      // Dark waits for nothing; what blinks is to be measured as it is.
      if (frame.darkness > 0 || blink !== 0) value.set(fresh);
      else this.#late.read(frame.time * 1000 - this.#delayMs, value);
    } else value.set(fresh);
    for (let i = 0; i < 512; i++) if (before[i] !== value[i]) return true;
    return false;
  }

  /** Lamps that flash as often as can bring on a seizure. */
  flashing(): string[] {
    return this.#lamps
      .filter(({ flashes, values }) => {
        const often = Math.max(flashes.lately(), values[Lit.Strobe]!);
        return often > FLASHES_A_SECOND && often <= FUSED_A_SECOND;
      })
      .map((l) => l.fixture.id);
  }
}

function same(a: Float64Array, b: Float64Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
function layRow({ row, levels, order }: Lamp, vectors: Float32Array): Float32Array {
  const [at, points] = row!;
  for (let i = 0; i < levels.length; i++)
    levels[i] = vectors[at + pointOver(order, i, levels.length, points)]! / 100;
  return levels;
}
/** The colour of each cell, from its own to the picture's; of a lamp that is one cell it is the lamp's colour. */
function takeColours({ onSheet, colours, values, kind }: Lamp, sheet: Float32Array, share: number): void {
  const spots = onSheet!,
    cells = colours.length / 3;
  for (let cell = 0; cell < cells; cell++) {
    sheetAt(sheet, spots[2 * cell]!, spots[2 * cell + 1]!, colours, 3 * cell);
    const way = kind.columns > 1 ? (cell % kind.columns) / (kind.columns - 1) : 0;
    for (let c = 0; c < 3; c++) {
      const near = values[Lit.Red + c]!,
        own = cells > 1 ? near + (values[Lit.FarRed + c]! - near) * way : near;
      colours[3 * cell + c] = own + (colours[3 * cell + c]! - own) * share;
    }
  }
  if (cells === 1) for (let c = 0; c < 3; c++) values[Lit.Red + c] = colours[c]!;
}
function identify(values: Float64Array, levels: Float32Array | null): void {
  values[Lit.Dimmer] = 1;
  values.fill(1, Lit.Red, Lit.Uv);
  values[Lit.Cells] = 1;
  values[Lit.Strobe] = 0;
  levels?.fill(1);
}

/** What a universe's lamps rest at, in base64. */
function restBytes(fixtures: readonly Fixture[], kinds: readonly Kind[]): string {
  const bytes = new Uint8Array(512);
  for (const fixture of fixtures) {
    const kind = kindOf(fixture, kinds),
      values = makeValues();
    for (const p of kindParameters(kind)) {
      const value = VALUES[p.id],
        rest = restOf(fixture, p);
      if (!value) continue;
      if (p.kind === 'colour') toLinear(String(rest), values, value[0]);
      else values[value[0]] = Number(rest) / value[1];
    }
    values[Lit.Dimmer] = dimmed(fixture.curve ?? 'linear', values[Lit.Dimmer]!);
    new LampGate(kind, fixture.aim).step(values, 0, false);
    writeLamp(bytes, fixture.address, kind, values);
  }
  return base64(bytes);
}
