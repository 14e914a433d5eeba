import type { Show } from '../../show/types';
import { depthSounder } from './depthSounder';
import { engineRoom } from './engineRoom';
import { lookout } from './lookout';
import { pier } from './pier';
import { spray } from './spray';
import { whirlpool } from './whirlpool';
import { lampRoom, pilotHouse } from './overlays';
import type { ExampleMedia } from './sheet';

export type { ExampleMedia };
/** Small shows from the ferry's own world; between them they use every kind of figure and finish. All play on the crossing's sound. */
export interface Example {
  readonly id: string;
  readonly name: string;
  readonly help: string;
  readonly make: (media: ExampleMedia) => Show;
}

export const EXAMPLES: readonly Example[] = [
  {
    id: 'example-engine',
    name: 'Engine room',
    help: 'Dials, segmented meters, pistons that grow from their foot.',
    make: engineRoom,
  },
  {
    id: 'example-sounder',
    name: 'Depth sounder',
    help: 'A trace without gaps, sparks at the hits, an echo of the spectrum.',
    make: depthSounder,
  },
  {
    id: 'example-spray',
    name: 'Spray at the bow',
    help: 'Emitters that burst with the low drum.',
    make: spray,
  },
  {
    id: 'example-whirlpool',
    name: 'Whirlpool astern',
    help: 'Trails that zoom and turn on the beat.',
    make: whirlpool,
  },
  {
    id: 'example-lookout',
    name: 'The lookout’s glass',
    help: 'A camera, shifted, masked and glowing.',
    make: lookout,
  },
  {
    id: 'example-pier',
    name: 'The pier’s lamps',
    help: 'Copies with the spectrum over them, lights, a model, and a switch.',
    make: pier,
  },
  {
    id: 'example-pilot',
    name: 'Pilot house',
    help: 'An overlay: the camera itself, cut by a ring that is the sound’s wave, and short instructions.',
    make: pilotHouse,
  },
  {
    id: 'example-lamproom',
    name: 'Lamp room',
    help: 'An overlay for somebody who talks: a badge, a name whose letters move one by one, a meter.',
    make: lampRoom,
  },
];
