import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../../core/ferry';
import type { Route, Show } from '../../core/show';
import { whyNot, type Moment } from './why';

const ferry = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
const route = ferry.routes[0]!;
const well: Moment = {
  health: 3,
  paused: false,
  dark: false,
  freeze: false,
  recent: 0.1,
  shaped: 0.5,
  fitted: true,
};
const ask = (moment: Partial<Moment> = {}, r: Partial<Route> = {}, show: Partial<Show> = {}) =>
  whyNot({ ...ferry, ...show }, { ...route, ...r }, { ...well, ...moment });

describe('why isn’t it moving?', () => {
  it('says that it moves when it does', () => {
    expect(ask()).toEqual({
      words: 'It moves: Low drum · 40–110 Hz takes Ferry · height along.',
      remedy: null,
    });
  });
  it.each([
    ['the signal is gone', {}, {}, { ears: [] }, 'is gone', null],
    ['the input is gone', {}, {}, { inputs: [] }, 'an input that is gone', 'choose an input'],
    ['dark', { dark: true }, {}, {}, 'Dark is on', 'light'],
    ['freeze', { freeze: true }, {}, {}, 'Freeze is on', 'thaw'],
    ['muted', {}, { muted: true }, {}, 'muted', 'unmute'],
    ['paused', { paused: true }, {}, {}, 'paused', 'play'],
    ['silence', { health: 1 }, {}, {}, 'No sound arrives', null],
    ['no amount', {}, { shaping: { amount: 0 } }, {}, 'amount is 0', 'raise the amount'],
    [
      'below the floor',
      { recent: 0.1 },
      { shaping: { amount: 1, floor: { at: 0.2 } } },
      {},
      'below its floor',
      'lower the floor',
    ],
    ['a limit that holds', { quiet: 31.4, fitted: false }, {}, {}, 'is 31 dB below', 'fit past the limit'],
    ['nothing heard yet', { fitted: false }, {}, {}, 'Nothing heard yet', null],
    ['below the fit', { shaped: 0 }, {}, {}, 'below what the fit begins with', 'fit'],
    [
      'a level where hits are wanted',
      {},
      { target: { thing: 'frame-edge', parameter: 'spark' }, reach: 100 },
      {},
      'takes hits',
      null,
    ],
    ['no way to go', {}, { reach: 0 }, {}, 'no way to go', null],
  ] as const)('names %s, with its remedy', (_, moment, r, show, words, remedy) => {
    const answer = ask(moment, r as Partial<Route>, show as Partial<Show>);
    expect(answer.words).toContain(words);
    expect(answer.remedy).toBe(remedy);
  });
});
