import type { StreamDeclaration } from '../../core/outlets';
import { dimmed, type DimmerCurve, type FixtureMode, fixtureParameters, writeLamp } from '../../core/lights';
import type { PlanMap } from '../../core/plan';
import { toLinear } from '../../core/parameters';
import { type Fixture, restOf, type Wire } from '../../core/show';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

interface Lamp {
  readonly address: number;
  readonly mode: FixtureMode;
  readonly dimmer: number;
  readonly colour: number;
  readonly uv: number;
  readonly curve: DimmerCurve;
}

const before = new Uint8Array(512);

/** One universe on one wire: the channels of its lamps, from the frame's parameters. */
export class LampStream implements Stream {
  readonly declaration: StreamDeclaration;
  readonly value = new Uint8Array(512);
  #lamps: readonly Lamp[] = [];
  readonly #fixtures: readonly Fixture[];

  /** @param fixtures - those of this universe */
  constructor(wire: Wire, universe: number, fixtures: readonly Fixture[]) {
    this.#fixtures = fixtures;
    this.declaration = {
      id: `lamps ${wire.id} ${universe}`,
      to: { kind: 'wire', wire: wire.id, universe },
      size: 512,
      mostPerSecond: wire.rate,
      mode: 'latest',
      keepAlive: wire.keepAlive,
      safe: wire.safe,
      rest: wire.safe.then === 'rest' ? restBytes(fixtures) : null,
    };
  }

  place(map: PlanMap): void {
    const at = (thing: string, parameter: string): number => map.parameters[`${thing}/${parameter}`] ?? -1;
    this.#lamps = this.#fixtures
      .map(({ id, address, mode, curve = 'linear' }) => ({
        address,
        mode,
        curve,
        dimmer: at(id, 'dimmer'),
        colour: at(id, 'colour'),
        uv: at(id, 'uv'),
      }))
      .filter((l) => l.dimmer >= 0);
  }

  fill({ parameters }: FrameReader): boolean {
    const { value } = this;
    before.set(value);
    value.fill(0);
    for (let k = 0; k < this.#lamps.length; k++) {
      const lamp = this.#lamps[k]!,
        c = lamp.colour;
      writeLamp(
        value,
        lamp.address,
        lamp.mode,
        dimmed(lamp.curve, parameters[lamp.dimmer]! / 100),
        c < 0 ? 1 : parameters[c]!,
        c < 0 ? 1 : parameters[c + 1]!,
        c < 0 ? 1 : parameters[c + 2]!,
        lamp.uv < 0 ? 0 : parameters[lamp.uv]! / 100,
      );
    }
    for (let i = 0; i < 512; i++) if (before[i] !== value[i]) return true;
    return false;
  }
}

/** What a universe's lamps rest at, in base64. */
function restBytes(fixtures: readonly Fixture[]): string {
  const bytes = new Uint8Array(512),
    colour = [0, 0, 0];
  for (const fixture of fixtures) {
    const rest = (id: string, otherwise: string | number): string | number => {
      const p = fixtureParameters(fixture.mode).find((x) => x.id === id);
      return p ? restOf(fixture, p) : otherwise;
    };
    toLinear(String(rest('colour', '#ffffff')), colour);
    const [r, g, b] = colour as [number, number, number];
    const dimmer = dimmed(fixture.curve ?? 'linear', Number(rest('dimmer', 0)) / 100);
    writeLamp(bytes, fixture.address, fixture.mode, dimmer, r, g, b, Number(rest('uv', 0)) / 100);
  }
  return btoa(String.fromCharCode(...bytes));
}
