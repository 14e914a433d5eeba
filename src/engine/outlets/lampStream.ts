import { DelayedBytes, type StreamDeclaration } from '../../core/outlets';
import {
  cellsOf,
  dimmed,
  type DimmerCurve,
  FlashCount,
  FLASHES_A_SECOND,
  FUSED_A_SECOND,
  type Kind,
  kindOf,
  kindParameters,
  LampGate,
  Lit,
  makeValues,
  pointOver,
  type RowOrder,
  writeFates,
  writeLamp,
} from '../../core/lights';
import type { PlanMap } from '../../core/plan';
import { toLinear } from '../../core/parameters';
import { type Fixture, parameterKey, restOf, type Wire } from '../../core/show';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

/** What the streams of lamps are told from outside the show: they begin with nothing allowed. */
export interface LampRules {
  /** Quick flashes are allowed on this machine. */
  quick: boolean;
  /** A lamp that is looked for: full and white. */
  identified: string | null;
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
  /** Which place of a frame moves which of its values, and by how much it is divided; three places for a colour. */
  readonly places: readonly (readonly [from: number, to: number, size: number, by: number])[];
  /** Where a row stands that is laid over its cells, and its points; null: none is. */
  readonly row: readonly [at: number, points: number] | null;
  readonly levels: Float32Array;
}

/** Which of its values a parameter is, and what its unit is divided by. */
const VALUES: Readonly<Record<string, readonly [Lit, number]>> = {
  dimmer: [Lit.Dimmer, 100],
  colour: [Lit.Red, 1],
  far: [Lit.FarRed, 1],
  cells: [Lit.Cells, 100],
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
  readonly #kinds: readonly Kind[];
  readonly #rules: LampRules;
  readonly #delayMs: number;
  /** What waits to go out, where the wire is held back. */
  #late: DelayedBytes | null;
  readonly #fresh = new Uint8Array(512);
  #rows = false;
  #time = NaN;

  /** @param fixtures - those of this universe @param kinds - that were read from files */
  constructor(
    wire: Wire,
    universe: number,
    fixtures: readonly Fixture[],
    kinds: readonly Kind[],
    rules: LampRules,
  ) {
    this.#fixtures = fixtures;
    this.#kinds = kinds;
    this.#rules = rules;
    this.#delayMs = wire.delayMs ?? 0;
    this.#late = this.#delayMs > 0 ? new DelayedBytes(512) : null;
    const fates = new Uint8Array(512),
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
      if (was?.kind === lamp.kind) lamp.gate.follow(was.gate);
    }
  }

  place(map: PlanMap): void {
    const old = new Map(this.#lamps.map((l) => [l.fixture.id, l]));
    this.#lamps = this.#fixtures.map((fixture): Lamp => {
      const kind = kindOf(fixture, this.#kinds),
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
        places: kindParameters(kind).flatMap((p) => {
          const from = map.parameters[parameterKey({ thing: id, parameter: p.id })] ?? -1,
            value = VALUES[p.id];
          return from >= 0 && value ? [[from, value[0], p.kind === 'colour' ? 3 : 1, value[1]] as const] : [];
        }),
        row:
          cellsOf(kind) > 1 ? (map.vectors[parameterKey({ thing: id, parameter: 'cells' })] ?? null) : null,
        levels: new Float32Array(cellsOf(kind)),
      };
    });
    this.#rows = this.#lamps.some((l) => l.row !== null);
  }

  fill(frame: FrameReader): boolean {
    const { value } = this,
      fresh = this.#fresh,
      rules = this.#rules,
      dt = Math.min(STEP_MOST, Math.max(0, frame.time - this.#time)) || 0;
    this.#time = frame.time;
    const rows = this.#rows && frame.readVectors();
    before.set(value);
    fresh.fill(0);
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
      if (rules.identified === fixture.id && frame.darkness === 0) identify(values, levels);
      lamp.gate.step(values, dt, rules.quick);
      lamp.flashes.step(
        values[Lit.Dimmer]! * Math.max(values[Lit.Red]!, values[Lit.Green]!, values[Lit.Blue]!),
        dt,
      );
      writeLamp(fresh, fixture.address, kind, values, levels);
    }
    if (this.#late) {
      if (dt > 0) this.#late.put(frame.time * 1000, fresh);
      // Dark waits for nothing.
      if (frame.darkness > 0) value.set(fresh);
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

function layRow({ row, levels, order }: Lamp, vectors: Float32Array): Float32Array {
  const [at, points] = row!;
  for (let i = 0; i < levels.length; i++)
    levels[i] = vectors[at + pointOver(order, i, levels.length, points)]! / 100;
  return levels;
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
