import type { StreamDeclaration } from '../../core/outlets';
import { type FixtureMode, fixtureParameters, writeLamp } from '../../core/lights';
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
      .map(({ id, address, mode }) => ({ address, mode, dimmer: at(id, 'dimmer'), colour: at(id, 'colour') }))
      .filter((l) => l.dimmer >= 0 && l.colour >= 0);
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
        parameters[lamp.dimmer]! / 100,
        parameters[c]!,
        parameters[c + 1]!,
        parameters[c + 2]!,
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
    const rest = (id: string): string | number =>
      restOf(
        fixture,
        fixtureParameters().find((p) => p.id === id)!,
      );
    toLinear(String(rest('colour')), colour);
    const [r, g, b] = colour as [number, number, number];
    writeLamp(bytes, fixture.address, fixture.mode, Number(rest('dimmer')) / 100, r, g, b);
  }
  return btoa(String.fromCharCode(...bytes));
}
