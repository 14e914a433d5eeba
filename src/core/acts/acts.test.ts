import { describe, expect, it } from '@jest/globals';
import type { Deed, Grip, Maker } from '../show/types';
import { ActLog, latestOf, type Act, type Performed } from './act';
import { AnswerBoard } from './answers';
import { clashes, GripBoard, type Moved } from './grips';
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

describe('grips', () => {
  const midi = { by: 'midi', device: 'box', message: 'controller', channel: 1, number: 7 } as const;
  const grip = (id: string, deed: Deed, touch: Grip['touch'] = midi): Grip => ({
    id,
    touch,
    deed,
    page: null,
    answers: false,
  });
  const turned = (value: number): Moved => ({
    by: 'midi',
    message: 'controller',
    channel: 0,
    number: 7,
    value,
    simulated: false,
  });
  const board = (...grips: Grip[]): GripBoard => {
    const b = new GripBoard('simulated');
    b.set(grips);
    return b;
  };
  it('a controller that stands elsewhere takes its value when it comes past it, and never makes it leap', () => {
    const b = board(grip('g', { do: 'master', master: 'lamps' }));
    let stands = 0.5;
    const turn = (value: number): number | null => {
      const [act] = b.acts(turned(value), () => stands);
      if (act?.do === 'master') stands = act.value;
      return act?.do === 'master' ? act.value : null;
    };
    expect([0.1, 0.2, 0.4].map(turn)).toEqual([null, null, null]);
    expect([0.55, 0.9, 0.1].map(turn)).toEqual([0.55, 0.9, 0.1]);
    // Somebody else moved it.
    stands = 0.8;
    expect([0.2, 0.6, 0.79, 0.3].map(turn)).toEqual([null, null, 0.79, 0.3]);
  });
  it('moves a parameter by its range, and lets what is gone be', () => {
    const deed = { do: 'hand', thing: 'a', parameter: 'b' } as const;
    expect(board(grip('g', deed)).acts(turned(0.25), () => 0.25)).toEqual([
      { do: 'hand place', thing: 'a', parameter: 'b', place: 0.25 },
    ]);
    expect(board(grip('g', deed)).acts(turned(0.25), () => NaN)).toEqual([]);
  });
  it('a key moves no value: it would leap to an end', () => {
    const b = board(grip('g', { do: 'master', master: 'all' }, { by: 'key', key: 'x' }));
    expect(b.acts({ by: 'key', key: 'x', down: true }, () => 1)).toEqual([]);
    expect(b.acts({ by: 'key', key: 'x', down: false }, () => 1)).toEqual([]);
  });
  it('presses once as it goes down, and holds for as long as it is held', () => {
    const b = board(grip('g', { do: 'go' }), grip('f', { do: 'flash', master: 'laser' }));
    const turn = (value: number): readonly Act[] => b.acts(turned(value), () => NaN);
    expect(turn(1)).toEqual([{ do: 'go' }, { do: 'flash', master: 'laser', on: true }]);
    expect(turn(0.9)).toEqual([]);
    expect(turn(0)).toEqual([{ do: 'flash', master: 'laser', on: false }]);
    expect(turn(1)).toHaveLength(2);
  });
  it('dark is what it is not', () => {
    const b = board(grip('g', { do: 'dark' }, { by: 'key', key: 'x' }));
    const key = (down: boolean, stands: number): readonly Act[] =>
      b.acts({ by: 'key', key: 'x', down }, () => stands);
    expect(key(true, 0)).toEqual([{ do: 'dark', on: true }]);
    expect(key(false, 1)).toEqual([]);
    expect(key(true, 1)).toEqual([{ do: 'dark', on: false }]);
  });
  it('hears addresses by their own range, and only its own keys, channels and keyboards', () => {
    const b = board(
      grip('o', { do: 'master', master: 'all' }, { by: 'osc', address: '/a', low: 0, high: 127 }),
      grip('g', { do: 'go' }),
    );
    expect(b.acts({ by: 'osc', address: '/a', value: 63.5 }, () => 0.5)).toEqual([
      { do: 'master', master: 'all', value: 0.5 },
    ]);
    expect(b.acts({ by: 'osc', address: '/b', value: 63.5 }, () => 0.5)).toEqual([]);
    for (const other of [{ channel: 1 }, { number: 8 }, { message: 'note' as const }, { simulated: true }])
      expect(b.acts({ ...turned(1), ...other } as Moved, () => NaN)).toEqual([]);
  });
  describe('on pages', () => {
    const paged = (id: string, page: number | null, deed: Deed): Grip => ({ ...grip(id, deed), page });
    it('only those of the page that is turned to act, and take over without a leap where the other was left', () => {
      const b = board(
        paged('a', 1, { do: 'master', master: 'lamps' }),
        paged('b', 2, { do: 'master', master: 'laser' }),
      );
      const stands: Record<string, number> = { lamps: 0.5, laser: 0.2 };
      const turn = (value: number, page: number): readonly Act[] => {
        const acts = b.acts(turned(value), (d) => (d.do === 'master' ? stands[d.master]! : NaN), page);
        for (const act of acts) if (act.do === 'master') stands[act.master] = act.value;
        return acts;
      };
      expect(turn(0.5, 1)).toEqual([{ do: 'master', master: 'lamps', value: 0.5 }]);
      expect(turn(0.9, 1)).toEqual([{ do: 'master', master: 'lamps', value: 0.9 }]);
      // Turned over: the knob is at 0.9, the laser at 0.2. It goes past it on its way down.
      expect(turn(0.6, 2)).toEqual([]);
      expect(turn(0.15, 2)).toEqual([{ do: 'master', master: 'laser', value: 0.15 }]);
      // And back: the lamps stand at 0.9 until the knob comes to them.
      expect(turn(0.3, 1)).toEqual([]);
      expect(stands).toEqual({ lamps: 0.9, laser: 0.15 });
    });
    it('are turned by a press, on and back, and go round', () => {
      const b = board(paged('n', null, { do: 'page', page: 'next' }), paged('far', 3, { do: 'go' }));
      const press = (page: number): readonly Act[] => {
        b.acts(turned(0), () => NaN, page);
        return b.acts(turned(1), () => NaN, page).filter((a) => a.do === 'page');
      };
      expect([1, 2, 3].map((p) => press(p))).toEqual([2, 3, 1].map((page) => [{ do: 'page', page }]));
      const back = board(paged('n', null, { do: 'page', page: 'before' }), paged('far', 3, { do: 'go' }));
      expect(back.acts(turned(1), () => NaN, 1)).toEqual([{ do: 'page', page: 3 }]);
    });
    it('what is held is let go on whatever page', () => {
      const b = board(paged('f', 1, { do: 'flash', master: 'laser' }));
      expect(b.acts(turned(1), () => NaN, 1)).toEqual([{ do: 'flash', master: 'laser', on: true }]);
      expect(b.acts(turned(0), () => NaN, 2)).toEqual([{ do: 'flash', master: 'laser', on: false }]);
    });
    it('one controller on two pages is no clash, on all and on one it is', () => {
      const none = { looks: [], makers: [] },
        on = (...pages: (number | null)[]): number =>
          clashes({ grips: pages.map((p, i) => paged(`g${i}`, p, { do: 'go' })), ...none }).size;
      expect([on(1, 2), on(1, 1), on(null, 2)]).toEqual([0, 2, 2]);
    });
  });

  it('two grips of one controller are named', () => {
    const list = [
      grip('a', { do: 'go' }),
      grip('b', { do: 'back' }),
      grip('c', { do: 'go' }, { by: 'key', key: 'x' }),
    ];
    const none = { looks: [], makers: [] };
    expect([...clashes({ grips: list, ...none })]).toEqual([
      ['a', 2],
      ['b', 2],
    ]);
    // A look's own key, and a button's, are on it too; other letters are not.
    const looks = ['x', 'y'].map((key) => ({ id: key, name: key, values: {}, routes: {}, key }));
    expect([...clashes({ grips: list.slice(2), looks, makers: [] })]).toEqual([['c', 2]]);
    const makers: Maker[] = [
      { id: 'k', name: 'K', making: { kind: 'button', latching: false, key: 'x', touch: null } },
    ];
    expect(clashes({ grips: list, looks, makers }).get('c')).toBe(3);
  });
});

describe('answers to controllers', () => {
  const at = (message: 'controller' | 'note' | 'bend', number: number) =>
    ({ by: 'midi', device: 'box', message, channel: 2, number }) as const;
  const told = (
    grips: readonly Grip[],
  ): { board: AnswerBoard; tell: (stands: number, now: number, page?: number) => number[][] } => {
    const b = new AnswerBoard();
    b.set(grips);
    return {
      board: b,
      tell: (stands, now, page = 1) => {
        const all: number[][] = [];
        b.tell(
          () => stands,
          page,
          now,
          (device, bytes) => {
            expect(device).toBe('box');
            all.push([...bytes]);
          },
        );
        return all;
      },
    };
  };
  const grip = (id: string, touch: Grip['touch'], deed: Deed, page: number | null = null): Grip => ({
    id,
    touch,
    deed,
    page,
    answers: true,
  });
  const lamps: Deed = { do: 'master', master: 'lamps' };
  const hand = (value: number): Moved => ({
    by: 'midi',
    message: 'controller',
    channel: 1,
    number: 7,
    value,
    simulated: false,
  });
  it('say where the value stands, once, by the message that the controller itself sends', () => {
    const { tell } = told([grip('m', at('controller', 7), lamps), grip('b', at('bend', 0), lamps)]);
    expect(tell(0.5, 0)).toEqual([
      [0xb1, 7, 64],
      [0xe1, 8192 & 127, 8192 >> 7],
    ]);
    expect(tell(0.5, 100)).toEqual([]);
    // 1/127 of a way is less than a step of seven bits, and many of fourteen.
    expect(tell(0.503, 200)).toEqual([[0xe1, 8241 & 127, 8241 >> 7]]);
    // Not more often than thirty times a second, and then the newest.
    expect([tell(0.6, 210), tell(0.7, 240)]).toEqual([
      [],
      [
        [0xb1, 7, 89],
        [0xe1, 11468 & 127, 11468 >> 7],
      ],
    ]);
  });
  it('a light is on while what it is for is on, and off where that stands nowhere', () => {
    const { tell } = told([grip('d', at('note', 40), { do: 'dark' })]);
    expect([tell(1, 0), tell(0, 50), tell(NaN, 100)]).toEqual([[[0x91, 40, 127]], [[0x91, 40, 0]], []]);
  });
  it('a motor is not moved against the hand that is on it, nor told what the hand did', () => {
    const { board, tell } = told([grip('m', at('controller', 7), lamps)]);
    board.moved(hand(0.25), 0);
    expect([tell(0.25, 50), tell(0.9, 100)]).toEqual([[], []]);
    expect(tell(0.25, 500)).toEqual([]);
    expect(tell(0.9, 550)).toEqual([[0xb1, 7, 114]]);
  });
  it('with another page everything is told anew, of that page alone; plugged in, too', () => {
    const { board, tell } = told([
      grip('a', at('controller', 7), lamps, 1),
      grip('b', at('controller', 8), lamps, 2),
    ]);
    expect([tell(1, 0, 1), tell(1, 50, 2), tell(1, 100, 2)]).toEqual([
      [[0xb1, 7, 127]],
      [[0xb1, 8, 127]],
      [],
    ]);
    board.again();
    expect(tell(1, 150, 2)).toEqual([[0xb1, 8, 127]]);
  });
  it('are given by no grip that was not asked for them', () => {
    expect(told([{ ...grip('m', at('controller', 7), lamps), answers: false }]).tell(1, 0)).toEqual([]);
  });
});
