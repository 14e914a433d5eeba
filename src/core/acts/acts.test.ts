import { describe, expect, it } from '@jest/globals';
import type { Maker } from '../show/types';
import { ActLog, latestOf, type Act, type Performed } from './act';
import { actsOfMidi, actsOfOsc, touchMap, type MidiTouch } from './mapping';

const did = (act: Act, at = 0): Performed => ({ act, who: 'window', at });
const slider = (id: string, touch: unknown): Maker => ({
  id,
  name: id,
  making: { kind: 'slider', touch } as Maker['making'],
});

describe('acts', () => {
  it('are kept in their order, the last of them', () => {
    const log = new ActLog(3);
    for (let i = 0; i < 20; i++) log.note(did({ do: 'seek', to: i }, i));
    expect(log.list.map((p) => p.at)).toEqual([17, 18, 19]);
  });
  it('told as how things stand: the last of each movement, all of everything else', () => {
    const acts = [
      did({ do: 'touch', maker: 'a', value: 0.1 }),
      did({ do: 'dark', on: true }),
      did({ do: 'touch', maker: 'b', value: 0.5 }),
      did({ do: 'touch', maker: 'a', value: 0.9 }),
      did({ do: 'dark', on: false }),
      did({ do: 'hand', key: 'x/y', value: [1] }),
      did({ do: 'hand', key: 'x/y', value: null }),
    ];
    expect(latestOf(acts)).toEqual([acts[1], acts[2], acts[3], acts[4], acts[6]]);
  });
});

describe('what a controller performs', () => {
  const midi = (more: object): object => ({
    by: 'midi',
    device: 'box',
    message: 'controller',
    channel: 1,
    number: 7,
    ...more,
  });
  const map = touchMap([
    slider('fader', midi({})),
    slider('bend', midi({ message: 'bend', channel: 2 })),
    slider('key', midi({ message: 'note', number: 60 })),
    slider('simulated', midi({ device: 'simulated' })),
    slider('net', { by: 'osc', address: '/deck/fader', low: -1, high: 3 }),
    slider('net too', { by: 'osc', address: '/deck/fader', low: 0, high: 1 }),
    slider('free', null),
  ]);
  const touch = (more: Partial<MidiTouch>): Act[] =>
    actsOfMidi(
      map,
      { message: 'controller', channel: 0, number: 7, value: 0.25, simulated: false, ...more },
      'simulated',
    );
  it('goes by message, channel and number, and never from the simulated keyboard to what a real one was learned for', () => {
    expect(touch({})).toEqual([{ do: 'touch', maker: 'fader', value: 0.25 }]);
    expect(touch({ number: 8 })).toEqual([]);
    expect(touch({ channel: 1 })).toEqual([]);
    expect(touch({ message: 'bend', channel: 1, number: 99 })).toEqual([
      { do: 'touch', maker: 'bend', value: 0.25 },
    ]);
    expect(touch({ simulated: true })).toEqual([{ do: 'touch', maker: 'simulated', value: 0.25 }]);
  });
  it('of a key, that it is pressed at all, and how strongly', () => {
    expect(touch({ message: 'note', number: 60, value: 0.5 })).toEqual([
      { do: 'touch', maker: 'key', value: 0.75 },
    ]);
    expect(touch({ message: 'note', number: 60, value: 0 })).toEqual([
      { do: 'touch', maker: 'key', value: 0 },
    ]);
  });
  it('of a number from the network, by its own range, and held within it', () => {
    expect(actsOfOsc(map, '/deck/fader', 1)).toEqual([
      { do: 'touch', maker: 'net', value: 0.5 },
      { do: 'touch', maker: 'net too', value: 1 },
    ]);
    expect(actsOfOsc(map, '/deck/fader', -70).map((a) => (a.do === 'touch' ? a.value : null))).toEqual([
      0, 0,
    ]);
    expect(actsOfOsc(map, '/nobody', 1)).toEqual([]);
    const turned = touchMap([slider('down', { by: 'osc', address: '/x', low: 127, high: 0 })]);
    expect([127, 500, 0].map((x) => actsOfOsc(turned, '/x', x))).toEqual(
      [0, 0, 1].map((value) => [{ do: 'touch', maker: 'down', value }]),
    );
  });
});
