import { bandOf } from '../ears/listening';
import { newMaking } from '../makers/making';
import { addMaker, fanOut, freeId, freeName } from './commands';
import { addFixture, freeAddress } from './lampCommands';
import { Builder } from './builder';
import { signalOfMaker, signalsOfEar } from './signals';
import type { Show } from './types';

/** A small piece of a show, whole: what listens, what is moved, and the routes between, added in one act. */
export interface StartingPoint {
  readonly name: string;
  readonly help: string;
  readonly make: (show: Show, input: string) => { readonly show: Show; readonly route: string };
}

export const STARTING_POINTS: readonly StartingPoint[] = [
  {
    name: 'A picture bumped by a voice',
    help: 'A moon that swells and lights up while somebody speaks.',
    make: (show, input) => {
      const b = new Builder(show),
        voice = signalsOfEar(b.ear('Voice · 120–1000 Hz', input, bandOf(120, 1000)))[0]!;
      const moon = b.figure('Voice moon', { kind: 'print', form: 'moon' }, 960, 430, { ink: '#f2e9d4' });
      const route = b.route(voice, moon, 'size', 1.35);
      b.route(voice, moon, 'glow');
      return { show: b.show, route };
    },
  },
  {
    name: 'A meter of eight bands',
    help: 'Eight meters whose segments light whole, low at the left, high at the right.',
    make: (show, input) => {
      const b = new Builder(show),
        ear = b.ear('Eight bands', input, {
          kind: 'bands',
          set: 'mel',
          crossovers: [],
          weighting: { kind: 'flat' },
          gainsDb: [],
        });
      const meters = Array.from({ length: 8 }, (_, i) =>
        b.figure(`Meter ${i + 1}`, { kind: 'meter', segments: 14, upright: true }, 290 + i * 100, 170),
      );
      const fan = fanOut(b.show, ear, meters, 'level', () => null);
      b.do(fan.command);
      return { show: b.show, route: fan.routes[0]!.id };
    },
  },
  {
    name: 'A lamp coloured by the beat',
    help: 'A lamp that flashes at every beat, in another colour each time.',
    make: (show, input) => {
      const b = new Builder(show),
        beat = signalsOfEar(b.ear('Each beat', input, { kind: 'beat', reading: 'beat', multiple: 1 }))[0]!;
      const lamp = freeId(b.show, 'lamp');
      // In the first universe that has room.
      let universe = 0;
      while (freeAddress(b.show, universe, 3) === null) universe++;
      b.do(
        addFixture({
          id: lamp,
          name: freeName(b.show.fixtures, 'Beat lamp'),
          mode: 'rgb',
          universe,
          address: freeAddress(b.show, universe, 3)!,
          rest: {},
        }),
      );
      const maker = {
        id: freeId(b.show, 'maker'),
        name: freeName(b.show.makers, 'Beat colours'),
        making: newMaking('colours', beat.id),
      };
      b.do(addMaker(maker));
      b.route(signalOfMaker(maker), lamp, 'colour');
      const route = b.route(beat, lamp, 'dimmer');
      return { show: b.show, route };
    },
  },
];
