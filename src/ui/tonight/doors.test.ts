import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../../core/ferry';
import { newHistory, type Show } from '../../core/show';
import type { Session } from '../state/session';
import { doorsOf, type DoorLine, type Machine } from './doors';

const media = {
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
};
const ferry = ferryShow(media);
const WELL: Machine = {
  battery: { level: 1, charging: true },
  free: 9e9,
  persisted: true,
  awake: true,
  levels: Object.fromEntries(ferry.inputs.map((i) => [i.id, 0.2])),
  open: ferry.screens.map((s) => s.id),
  full: ferry.screens.map((s) => s.id),
  processor: false,
  missed: 0,
  controllers: ['simulated'],
  instruments: ['simulated'],
  sure: 1,
};
const DRIVING = {
  link: 'driving',
  why: null,
  wires: [],
  pages: { 'overlay/frame': 1 },
  laser: null,
  seconds: 0,
  standby: null,
};
function session(show: Show = ferry, change: object = {}): Session {
  return {
    history: newHistory(show),
    audio: 'running',
    inputs: {},
    saved: 'saved',
    armed: false,
    picture: { rate: 60, trouble: null },
    outlets: DRIVING,
    ...change,
  } as unknown as Session;
}
const open = (s: Session, m: Partial<Machine> = {}): readonly DoorLine[] =>
  doorsOf(s, { ...WELL, ...m }).filter((l) => l.state !== 'good');

describe('before the doors', () => {
  it('all is well where all is well, and every input, screen, wire and overlay has its line', () => {
    expect(open(session())).toEqual([]);
    const all = doorsOf(session(), WELL).map((l) => l.what);
    for (const { name } of [...ferry.inputs, ...ferry.screens, ...ferry.wires, ...ferry.overlays])
      expect(all).toContain(name);
  });
  it.each<[string, Session, Partial<Machine>, Partial<DoorLine>]>([
    [
      'a source that fails',
      session(ferry, { inputs: { deck: { kind: 'trouble', why: 'Gone.' } } }),
      {},
      { what: 'Deck stems', state: 'wrong', place: 'listen' },
    ],
    [
      'an input on which nothing is heard',
      session(),
      { levels: { ...WELL.levels, host: 0 } },
      { what: 'Host’s voice', state: 'mind' },
    ],
    [
      'a beat that is not found',
      session({ ...ferry, tempo: { ...ferry.tempo, source: 'found' } }),
      { sure: 0.2 },
      { what: 'Clock', state: 'mind' },
    ],
    [
      'a MIDI clock that does not arrive',
      session({ ...ferry, tempo: { ...ferry.tempo, source: 'midi' } }),
      { sure: 0 },
      { what: 'Clock', state: 'wrong' },
    ],
    [
      'a controller that is not plugged in',
      session({
        ...ferry,
        grips: [
          {
            id: 'g',
            touch: { by: 'midi', device: 'box', message: 'controller', channel: 1, number: 7 },
            deed: { do: 'go' },
            page: null,
            answers: false,
          },
        ],
      }),
      {},
      { what: 'Controllers', state: 'mind' },
    ],
    [
      'a first computer that is not heard',
      session(ferry, { outlets: { ...DRIVING, standby: { state: 'waits', heard: false } } }),
      {},
      { what: 'Second computer', state: 'wrong', place: 'tonight' },
    ],
    [
      'a first computer that is gone',
      session(ferry, { outlets: { ...DRIVING, standby: { state: 'drives', heard: false } } }),
      {},
      { what: 'Second computer', state: 'mind' },
    ],
    [
      'a sound that waits for a press',
      session(ferry, { audio: 'waiting' }),
      {},
      { what: 'Sound', state: 'wrong' },
    ],
    ['a screen that is shut', session(), { open: [], full: [] }, { state: 'mind', place: 'picture' }],
    [
      'a screen that fills no display',
      session(),
      { full: [] },
      { state: 'mind', words: 'Its window does not fill a display.' },
    ],
    [
      'a server that is gone',
      session(ferry, { outlets: { link: 'lost', why: 'No answer.' } }),
      {},
      { what: 'Outputs', state: 'wrong', words: 'No answer.' },
    ],
    [
      'a wire that fails',
      session(ferry, {
        outlets: {
          link: 'driving',
          wires: [{ id: ferry.wires[0]!.id, trouble: 'No route.' }],
          pages: { 'overlay/frame': 1 },
          laser: null,
        },
      }),
      {},
      { what: ferry.wires[0]!.name, state: 'wrong' },
    ],
    [
      'an overlay that nobody shows',
      session(ferry, { outlets: { link: 'driving', wires: [], pages: {}, laser: null } }),
      {},
      { what: 'Host frame', state: 'mind', place: 'overlays' },
    ],
    [
      'a cue whose look is gone',
      session({ ...ferry, looks: ferry.looks.filter((l) => l.id !== 'look-host') }),
      {},
      { what: 'Cue 4 The host speaks', state: 'mind', place: 'tonight' },
    ],
    [
      'a look that names what is gone',
      session({ ...ferry, figures: ferry.figures.filter((f) => f.id !== 'hills') }),
      {},
      { what: 'The far bank', state: 'mind' },
    ],
    [
      'two grips on one key',
      session({
        ...ferry,
        grips: ['a', 'b'].map(
          (id) =>
            ({ id, touch: { by: 'key', key: 'x' }, deed: { do: 'go' }, page: null, answers: false }) as const,
        ),
      }),
      {},
      { what: 'Grips', state: 'mind' },
    ],
    [
      'a show that could not be saved',
      session(ferry, { saved: 'full' }),
      {},
      { what: 'Store', state: 'wrong' },
    ],
    ['a disk that is nearly full', session(), { free: 1e8 }, { what: 'Store', state: 'mind' }],
    [
      'a battery that empties',
      session(),
      { battery: { level: 0.3, charging: false } },
      { what: 'Battery', state: 'wrong', remedy: 'Plug it in.' },
    ],
    ['a display that may sleep', session(), { awake: false }, { what: 'Display', state: 'mind' }],
    ['sound that stutters', session(), { missed: 0.3 }, { what: 'Sound', state: 'wrong', place: 'picture' }],
    ['a processor that draws', session(), { processor: true }, { what: 'Graphics', state: 'mind' }],
  ])('%s is named, with what to do', (_, s, m, line) => {
    expect(open(s, m)).toContainEqual(expect.objectContaining(line));
  });
  it('what is wrong comes first', () => {
    const states = doorsOf(session(ferry, { saved: 'full' }), { ...WELL, full: [] }).map((l) => l.state);
    expect(states).toEqual(
      [...states].sort((a, b) => ['wrong', 'mind', 'good'].indexOf(a) - ['wrong', 'mind', 'good'].indexOf(b)),
    );
  });
});
