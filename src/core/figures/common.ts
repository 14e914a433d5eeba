import {
  colourParameter,
  numberParameter,
  type ColourParameter,
  type NumberParameter,
  type ParameterDescription,
} from '../parameters/description';

/** Parameters that many kinds of figure share, so that the same thing has the same name and range everywhere. */

export const moves = (rise: number, across: number): NumberParameter[] => [
  numberParameter({
    id: 'height',
    label: 'height',
    help: 'How far it is lifted.',
    unit: 'px',
    min: -360,
    max: 360,
    step: 1,
    rest: 0,
    reach: rise,
  }),
  numberParameter({
    id: 'across',
    label: 'across',
    help: 'How far it is moved sideways.',
    unit: 'px',
    min: -640,
    max: 640,
    step: 1,
    rest: 0,
    reach: across,
  }),
];
export const sized = (help: string, max: number, reach: number): NumberParameter =>
  numberParameter({ id: 'size', label: 'size', help, unit: '×', min: 0, max, step: 0.01, rest: 1, reach });
export const turned = (help = 'Turns it about its anchor.'): NumberParameter =>
  numberParameter({
    id: 'turn',
    label: 'turn',
    help,
    unit: '°',
    min: -360,
    max: 360,
    step: 0.5,
    rest: 0,
    reach: 12,
  });
/** Each axis by itself. */
export const stretched = (): NumberParameter[] => [
  numberParameter({
    id: 'wide',
    label: 'wide',
    help: 'Stretches it sideways from its anchor.',
    unit: '×',
    min: 0,
    max: 8,
    step: 0.01,
    rest: 1,
    reach: 1.5,
  }),
  numberParameter({
    id: 'tall',
    label: 'tall',
    help: 'Stretches it upward from its anchor.',
    unit: '×',
    min: 0,
    max: 8,
    step: 0.01,
    rest: 1,
    reach: 1.6,
  }),
];
export const shown = (): NumberParameter =>
  numberParameter({
    id: 'shown',
    label: 'shown',
    help: 'How much of it shows: nothing to all.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 100,
    reach: 0,
  });
/** Of a ramp of inks. */
export const stepped = (rest: number, reach: number): NumberParameter =>
  numberParameter({
    id: 'inks',
    label: 'steps',
    help: 'Into how many flat steps it is cut; at 0 it runs smoothly.',
    unit: '',
    min: 0,
    max: 16,
    step: 1,
    rest,
    reach,
  });
export const ink = (help: string, rest: string, reach: string, id = 'ink', label = id): ColourParameter =>
  colourParameter({ id, label, help, rest, reach });
/** Where it stands, how large, how turned, how much of it shows. */
export const stance = (size = 'Scales it about its anchor.'): ParameterDescription[] => [
  ...moves(24, 40),
  sized(size, 6, 1.12),
  turned(),
  shown(),
];

/** What every kind of figure says of itself. */
export interface KindDescription {
  readonly label: string;
  readonly parameters: readonly ParameterDescription[];
}
