import type { Fixture, Spot, Wire } from '../show/types';

/** Where the demo's lamps hang, what moves them, and how they are reached. The room is of the usual size. */
const RAIL = { y: 1.55, z: 4.8, turn: 0, hangs: true };
const HEADS = { y: 4.5, z: 2.6, turn: 0, hangs: true };
/** Lamps along the rail; the outermost two are older than the rest. */
export const RAIL_LAMPS = 12;
const railAt = (place: number): NonNullable<Fixture['at']> => ({
  ...RAIL,
  x: (place / (RAIL_LAMPS - 1) - 0.5) * 10.6,
});
/** Lamp of the rail, from 2 to 11, between the outermost. */
export const railId = (n: number): string => `rail-${n}`;

const between = Array.from({ length: RAIL_LAMPS - 2 }, (_, i): Fixture => {
  const fromMiddle = Math.abs(i - 4.5) / 4.5;
  return {
    id: railId(i + 2),
    name: `Rail lamp ${i + 2}`,
    mode: 'rgb',
    universe: 0,
    address: 8 + 3 * i,
    at: railAt(i + 1),
    group: 'Rail',
    rest: { colour: fromMiddle > 0.5 ? '#e8572a' : '#f0b53c', dimmer: 5 },
  };
});

/** The demo's lamps. @param head @param bar @param haze - ids of the kinds that were read for them */
export const ferryLamps = (head: string, bar: string, haze: string): readonly Fixture[] => [
  {
    id: 'rail-left',
    name: 'Rail lamp left',
    mode: 'rgb',
    universe: 0,
    address: 1,
    at: railAt(0),
    group: 'Rail',
    rest: {},
  },
  {
    id: 'rail-right',
    name: 'Rail lamp right',
    mode: 'drgb',
    universe: 0,
    address: 4,
    at: railAt(RAIL_LAMPS - 1),
    group: 'Rail',
    rest: { colour: '#e8572a' },
  },
  ...between,
  {
    id: 'mast-left',
    name: 'Mast head left',
    mode: head,
    universe: 1,
    address: 1,
    at: { ...HEADS, x: -4.4 },
    aim: { tilt: { from: -80, to: 80 } },
    group: 'Mast',
    rest: { pan: 62, tilt: 34, dimmer: 14, zoom: 12, colour: '#f0b53c' },
  },
  {
    id: 'mast-right',
    name: 'Mast head right',
    mode: head,
    universe: 1,
    address: 13,
    at: { ...HEADS, x: 4.4 },
    aim: { tilt: { from: -80, to: 80 } },
    group: 'Mast',
    rest: { pan: -62, tilt: 34, dimmer: 14, zoom: 12, colour: '#6db5a9' },
  },
  {
    id: 'rail-bar',
    name: 'Rail bar',
    mode: bar,
    universe: 2,
    address: 1,
    order: 'from the middle',
    at: { x: 0, y: 0.5, z: 4.9, turn: 0, hangs: false },
    rest: { dimmer: 100, colour: '#2f6f86', far: '#6db5a9', cells: 6 },
  },
  {
    id: 'haze-1',
    name: 'Deck haze',
    mode: haze,
    universe: 1,
    address: 40,
    at: { x: -5.3, y: 0.3, z: 1.4, turn: 0, hangs: false },
    rest: { haze: 22, fan: 35 },
  },
];

export const FERRY_SPOTS: readonly Spot[] = [
  { id: 'spot-1', name: 'Drums', x: 0, y: 0.6, z: 2.6 },
  { id: 'spot-2', name: 'Host', x: 3.2, y: 1.5, z: 4 },
  { id: 'spot-3', name: 'Sail', x: 0, y: 3.4, z: 0.2 },
];

/** Lamps of the rail on Art-Net; what hangs in the mast, the haze and the bar on sACN. */
export function ferryWires(simulated: Wire): Wire[] {
  return [
    { ...simulated, universes: { from: 0, to: 0 } },
    {
      ...simulated,
      id: 'wire-2',
      name: 'Mast and rail bar',
      protocol: 'sacn',
      universes: { from: 1, to: 2 },
      rate: 44,
    },
  ];
}
