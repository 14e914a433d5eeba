import { describe, expect, it } from '@jest/globals';
import type { Hop } from '../audio/hop';
import { bandOf } from '../ears/ear';
import { ferryShow } from '../ferry/show';
import { newMaking, type Making } from '../makers/making';
import { toHex } from '../parameters/colour';
import { seeded } from '../random';
import {
  addGroup,
  changeRoutes,
  endSolo,
  fanOut,
  newRoute,
  removeRoutes,
  sendUnseen,
  setReach,
  setRest,
  tryUnseen,
} from '../show/commands';
import { duplicateFigure, twinFigure } from '../show/surfaceCommands';
import { apply, newHistory, type Command } from '../show/history';
import { newInput } from '../show/inputs';
import { findSignal, signalsOfEar } from '../show/signals';
import { findParameter } from '../show/things';
import { EMPTY_MEMORY, type Combine, type Route, type Show } from '../show/types';
import { HOP, SAMPLE_RATE } from '../units';
import { Conductor } from './conductor';
import { amountLoop } from './routeBoard';

const ferry = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
const quiet = { fill: (): boolean => false };
const slider: Making = { kind: 'slider', touch: null };
/** A show whose only signals are sliders `s0`, `s1`, …, and these routes from them. */
function show(routes: readonly Partial<Route>[], more: Partial<Show> = {}): Show {
  return {
    ...ferry,
    ears: [],
    makers: Array.from({ length: 4 }, (_, i) => ({ id: `s${i}`, name: `s${i}`, making: slider })),
    routes: routes.map((r, i): Route => ({
      id: `r${i}`,
      signal: `s${i}`,
      target: { thing: 'rail-left', parameter: 'dimmer' },
      muted: false,
      soloed: false,
      bypassed: false,
      combine: 'add',
      group: null,
      amountBy: null,
      unseen: null,
      shaping: { amount: 1 },
      reach: 100,
      ...r,
    })),
    ...more,
  };
}
class Desk {
  readonly c = new Conductor();
  #k = 0;
  constructor(readonly start: Show) {
    this.c.setShow(start);
  }
  at(...values: number[]): this {
    values.forEach((v, i) => this.c.makers.touch(`s${i}`, v));
    return this.run(1);
  }
  run(ticks: number): this {
    for (let i = 0; i < ticks; i++) this.c.tick(this.#k++, quiet);
    return this;
  }
  edit(command: Command): Show {
    const next = apply(newHistory(this.start), 'x', command).show;
    this.c.setShow(next);
    return next;
  }
  get dimmer(): number {
    return this.c.valueOf('rail-left/dimmer');
  }
}
// The lamp rests at 6 %.
const rested = {
  fixtures: ferry.fixtures.map((f) => (f.id === 'rail-left' ? { ...f, rest: { dimmer: 20 } } : f)),
};

describe('several routes on one parameter', () => {
  const two = (combine: Combine): number =>
    new Desk(show([{ reach: 60 }, { combine, reach: 100 }], rested)).at(0.5, 0.25).dimmer;
  // Rest 20. The first alone: 20 + ½ × 40 = 40. The second alone: 20 + ¼ × 80 = 40, or with 0.75: 80.
  it.each([
    ['add', 60],
    ['subtract', 20],
    ['multiply', 80],
    ['greatest', 40],
    ['least', 40],
    ['average', 40],
    ['replace', 40],
  ] as const)('%s gives %d', (combine, value) => expect(two(combine)).toBeCloseTo(value, 4));
  const other = (combine: Combine): number =>
    new Desk(show([{ reach: 60 }, { combine, reach: 100 }], rested)).at(0.5, 0.75).dimmer;
  it.each([
    ['greatest', 80],
    ['least', 40],
    ['average', 60],
    ['replace', 80],
  ] as const)('%s of 40 and 80 gives %d', (combine, value) => expect(other(combine)).toBeCloseTo(value, 4));
  it('the order is that of the show', () => {
    const order = (a: Combine, b: Combine): number =>
      new Desk(
        show(
          [
            { reach: 60, combine: a },
            { reach: 100, combine: b },
          ],
          rested,
        ),
      ).at(0.5, 0.75).dimmer;
    expect(order('replace', 'add')).toBeCloseTo(100, 4); // 40, and 60 more
    expect(order('add', 'replace')).toBeCloseTo(80, 4);
  });
  it('an average is of all of them, each weighing the same', () => {
    const a = { combine: 'average' as const };
    expect(
      new Desk(
        show(
          [
            { ...a, reach: 40 },
            { ...a, reach: 60 },
            { ...a, reach: 100 },
          ],
          rested,
        ),
      ).at(1, 1, 1).dimmer,
    ).toBeCloseTo(200 / 3, 4);
  });
  it('multiplying where rest is 0 opens like a gate', () => {
    const zero = {
      fixtures: ferry.fixtures.map((f) => (f.id === 'rail-left' ? { ...f, rest: { dimmer: 0 } } : f)),
    };
    expect(new Desk(show([{ reach: 80 }, { combine: 'multiply' }], zero)).at(1, 0.5).dimmer).toBeCloseTo(
      40,
      4,
    );
    expect(new Desk(show([{ reach: 80 }, { combine: 'multiply' }], zero)).at(1, 0).dimmer).toBe(0);
  });
});

describe('mute, solo and bypass', () => {
  const three = show([{ reach: 40 }, { reach: 40 }, { reach: 40 }], rested);
  it('while one is soloed, only it moves; a whole group can be', () => {
    const d = new Desk(three).at(1, 1, 0.5);
    expect(d.dimmer).toBeCloseTo(70, 4);
    d.edit(changeRoutes(['r2'], { soloed: true }));
    expect(d.run(1).dimmer).toBeCloseTo(30, 4);
    const grouped = apply(
      newHistory(three),
      'x',
      addGroup({ id: 'g', name: 'g', muted: false, soloed: true, bypassed: false, folded: false }, [
        'r0',
        'r2',
      ]),
    ).show;
    const e = new Desk(grouped).at(1, 1, 0.5);
    expect(e.dimmer).toBeCloseTo(50, 4);
    e.edit(endSolo);
    expect(e.run(1).dimmer).toBeCloseTo(70, 4);
    e.c.setShow({ ...grouped, groups: [{ ...grouped.groups.at(-1)!, soloed: false, muted: true }] });
    expect(e.run(1).dimmer).toBeCloseTo(40, 4);
  });
  it('a muted route goes on being shaped: it is back without a leap of its smoothing', () => {
    const d = new Desk(
      show([{ shaping: { smooth: { attackMs: 200, releaseMs: 200 }, amount: 1 }, muted: true }], rested),
    )
      .at(1)
      .run(300);
    expect(d.dimmer).toBe(20);
    d.edit(changeRoutes(['r0'], { muted: false }));
    expect(d.run(1).dimmer).toBeCloseTo(100, 1); // the end of its smoothing
  });
  it('bypass goes straight from the fit to the amount, and back', () => {
    const d = new Desk(
      show(
        [
          {
            shaping: {
              fit: { mode: 'hand', low: 0, high: 0.5 },
              flip: true,
              steps: { by: 'count', count: 1 },
              amount: 0.5,
            },
          },
        ],
        rested,
      ),
    ).at(0.2);
    expect(d.dimmer).toBeCloseTo(20 + 0.5 * 80, 4); // flipped 0.6, a whole step
    d.edit(changeRoutes(['r0'], { bypassed: true }));
    expect(d.run(1).dimmer).toBeCloseTo(20 + 0.4 * 0.5 * 80, 4);
    d.c.setShow(d.start);
    expect(d.run(1).dimmer).toBeCloseTo(60, 4);
  });
});

describe('an amount that a signal moves', () => {
  it('scales it by a maker, by another route, and through a chain in one tick', () => {
    const d = new Desk(
      show(
        [
          { amountBy: 'route:r1' },
          { target: { thing: 'ferry', parameter: 'tilt' }, amountBy: 's2', reach: 10 },
        ],
        rested,
      ),
    ).at(1, 0.5, 0.5);
    expect(d.dimmer).toBeCloseTo(20 + 80 * 0.25, 4);
  });
  it('by nothing at all stays at rest, and by what is gone goes all the way', () => {
    expect(new Desk(show([{ amountBy: 's1' }], rested)).at(1, 0).dimmer).toBe(20);
    expect(new Desk(show([{ amountBy: 'gone' }], rested)).at(1).dimmer).toBeCloseTo(100, 4);
  });
  it('is refused where it would come back to itself, with its path; a damaged file still plays', () => {
    const s = show([{}, { amountBy: 'route:r0' }, { amountBy: 'route:r1' }]);
    expect(amountLoop(s, 'r0', 'route:r2')).toEqual(['r0', 'r2', 'r1', 'r0']);
    expect(amountLoop(s, 'r2', 's1')).toBeNull();
    const d = new Desk({
      ...s,
      routes: s.routes.map((r, i) => ({ ...r, amountBy: `route:r${(i + 2) % 3}` })),
    })
      .at(1, 1, 1)
      .run(3);
    expect(Number.isFinite(d.dimmer)).toBe(true);
  });
});

describe('colours', () => {
  const target = { thing: 'rail-left', parameter: 'colour' };
  it('that a maker gives are taken as they are; a half amount goes halfway in light', () => {
    const makers = [
      { id: 'm', name: 'm', making: { ...newMaking('colours', null), palette: ['#ff0000'] } as Making },
    ];
    const make = (amount: number): Conductor => {
      const c = new Conductor();
      c.setShow(
        show([{ signal: 'm', target, reach: '#00ff00', shaping: { amount } }], {
          makers,
          fixtures: ferry.fixtures.map((f) => ({ ...f, rest: { colour: '#0000ff' } })),
        }),
      );
      c.tick(0, quiet);
      return c;
    };
    const hex = (c: Conductor): string =>
      toHex(
        c.valueOf('rail-left/colour'),
        c.valueOf('rail-left/colour', 1),
        c.valueOf('rail-left/colour', 2),
      );
    expect(hex(make(1))).toBe('#ff0000');
    const half = make(0.5);
    expect([0, 1, 2].map((k) => half.valueOf('rail-left/colour', k))).toEqual([0.5, 0, 0.5]);
  });
  it('move no number', () => {
    const makers = [{ id: 'm', name: 'm', making: newMaking('colours', null) }];
    expect(new Desk(show([{ signal: 'm' }], { makers, ...rested })).run(1).dimmer).toBe(20);
  });
});

describe('by hand', () => {
  it('a hand holds against routes, below limits and dark, and gives back with a fade', () => {
    const d = new Desk(show([{}], rested)).at(0.5);
    expect(d.dimmer).toBeCloseTo(60, 4);
    d.c.hand('rail-left/dimmer', [33]);
    expect(d.run(1).dimmer).toBeCloseTo(33, 4);
    d.c.hand('rail-left/dimmer', [900]);
    expect(d.run(1).dimmer).toBe(100);
    d.c.dark = true;
    expect(d.run(1).dimmer).toBe(0);
    d.c.dark = false;
    d.run(400);
    d.c.hand('rail-left/dimmer', [20]);
    d.run(1);
    d.c.giveBack();
    const half = d.run(75).dimmer; // half of 0.8 s
    expect(half).toBeGreaterThan(35);
    expect(half).toBeLessThan(45);
    expect(d.run(100).dimmer).toBeCloseTo(60, 4);
    expect(d.c.remembered().hands).toEqual({});
  });
  it('is remembered, and waits for a thing that comes later', () => {
    const d = new Desk(show([{}], rested));
    d.c.hand('rail-left/dimmer', [12]);
    d.run(1);
    const c = new Conductor();
    c.setMemory({ dark: false, freeze: false, ...d.c.remembered() });
    c.setShow(d.start);
    c.tick(0, quiet);
    expect(c.valueOf('rail-left/dimmer')).toBeCloseTo(12, 4);
  });
});

describe('tried unseen', () => {
  const base = show([{ reach: 60 }], rested);
  it("a copy with other settings is seen in the control window only, until it is sent in its original's place", () => {
    const tried = tryUnseen(base, 'r0')!,
      s = apply(newHistory(base), 'x', tried.command).show;
    const other = apply(newHistory(s), 'x', setReach(tried.route, 100)).show;
    const d = new Desk(other).at(0.5);
    const at = d.c.map().parameters['rail-left/dimmer']!;
    expect([d.dimmer, d.c.preview![at]]).toEqual([40, 60]);
    const sent = apply(newHistory(other), 'x', sendUnseen([tried.route])).show;
    expect(sent.routes.map((r) => [r.id, r.reach, r.unseen])).toEqual([['r0', 100, null]]);
    d.c.setShow(sent);
    expect(d.run(1).dimmer).toBeCloseTo(60, 4);
    expect(d.c.preview).toBeNull();
    d.c.setShow(apply(newHistory(other), 'x', removeRoutes([tried.route])).show);
    expect(d.run(1).dimmer).toBeCloseTo(40, 4);
  });
  it('a new route moves nothing outside; dark and limits hold for what is tried as well', () => {
    const d = new Desk(show([{ reach: 60 }, { reach: 100, unseen: { of: null } }], rested)).at(0, 1);
    const at = d.c.map().parameters['rail-left/dimmer']!;
    expect([d.dimmer, d.c.preview![at]]).toEqual([20, 100]);
    d.c.dark = true;
    expect(d.run(1).c.preview![at]).toBe(0);
  });
  it('leaves the live state of what is sent as it is', () => {
    const slow = { smooth: { attackMs: 500, releaseMs: 500 }, amount: 1 };
    const plain = new Desk(show([{ shaping: slow }], rested)),
      tried = new Desk(show([{ shaping: slow }], rested));
    plain.at(1);
    tried.at(1);
    tried.edit((draft) => {
      draft.routes.push({ ...base.routes[0]!, id: 'u', shaping: slow, unseen: { of: 'r0' } } as never);
    });
    plain.run(40);
    tried.run(40);
    expect(tried.c.stateOf('r0')).toEqual(plain.c.stateOf('r0'));
    expect(tried.dimmer).toBe(plain.dimmer);
  });
});

describe('twins and copies', () => {
  const moved = show([
    { target: { thing: 'ferry', parameter: 'height' }, reach: 40 },
    { target: { thing: 'ferry', parameter: 'tilt' }, reach: 10 },
  ]);
  it('a twin moves as its original does in all that it does not override', () => {
    const made = twinFigure(moved, 'ferry', true)!;
    const s = apply(newHistory(moved), 'x', made.command).show,
      id = made.figure;
    const d = new Desk(s).at(0.5, 0.5);
    expect([d.c.valueOf(`${id}/height`), d.c.valueOf(`${id}/tilt`)]).toEqual([
      d.c.valueOf('ferry/height'),
      d.c.valueOf('ferry/tilt'),
    ]);
    d.c.setShow(apply(newHistory(s), 'x', setRest({ thing: id, parameter: 'tilt' }, -3)).show);
    d.run(1);
    expect(d.c.valueOf(`${id}/tilt`)).toBe(-3);
    expect(d.c.valueOf(`${id}/height`)).toBeCloseTo(20, 4);
    d.c.setShow(
      apply(newHistory(s), 'x', (draft) => {
        draft.routes.push({
          ...moved.routes[0]!,
          id: 'own',
          target: { thing: id, parameter: 'height' },
          reach: 8,
        } as never);
      }).show,
    );
    expect(d.run(1).c.valueOf(`${id}/height`)).toBeCloseTo(4, 4);
    expect(d.c.valueOf('ferry/height')).toBeCloseTo(20, 4);
  });
  it('a twin of a twin follows the first; one whose original is gone rests', () => {
    const one = apply(newHistory(moved), 'x', twinFigure(moved, 'ferry', false)!.command).show,
      first = one.figures.find((f) => f.twin)!;
    const made = twinFigure(one, first.id, false)!,
      two = apply(newHistory(one), 'x', made.command).show;
    const d = new Desk(two).at(1, 0);
    expect(d.c.valueOf(`${made.figure}/height`)).toBeCloseTo(40, 4);
    d.c.setShow({ ...two, figures: two.figures.filter((f) => f.id !== 'ferry') });
    expect(d.run(1).c.valueOf(`${first.id}/height`)).toBe(0);
  });
  it('a duplicate has routes of its own', () => {
    const made = duplicateFigure(moved, 'ferry')!,
      s = apply(newHistory(moved), 'x', made.command).show;
    expect(s.routes.filter((r) => r.target.thing === made.figure)).toHaveLength(2);
    expect(new Set([...s.routes, ...s.figures].map((x) => x.id)).size).toBe(
      s.routes.length + s.figures.length,
    );
    const d = new Desk(s).at(0.5, 0);
    d.c.setShow(apply(newHistory(s), 'x', removeRoutes(['r0'])).show);
    d.run(1);
    expect([d.c.valueOf('ferry/height'), d.c.valueOf(`${made.figure}/height`)]).toEqual([0, 20]);
  });
});

describe('a row onto many', () => {
  it('eight bands move eight lamps, each over what it rests at, in one group', () => {
    const ear = {
      id: 'row',
      name: 'Eight',
      input: 'deck',
      channel: 'sum',
      listening: { kind: 'bands', set: 'mel', crossovers: [], weighting: { kind: 'flat' }, gainsDb: [] },
    } as const;
    const lamps = Array.from({ length: 8 }, (_, i) => ({
      id: `lamp-${i}`,
      name: `Lamp ${i}`,
      mode: 'drgb' as const,
      universe: 0,
      address: 1 + i * 4,
      rest: { dimmer: i * 5 },
    }));
    const s: Show = { ...ferry, ears: [ear], routes: [], fixtures: lamps };
    const fan = fanOut(
      s,
      ear,
      lamps.map((l) => l.id),
      'dimmer',
      () => ({ low: 0, high: 0.2 }),
    );
    const next = apply(newHistory(s), 'x', fan.command).show;
    expect(next.routes.map((r) => [r.signal, r.target.thing, r.group])).toEqual(
      lamps.map((l, i) => [`row/${i}`, l.id, fan.group]),
    );
    const c = new Conductor();
    c.setShow(next);
    const sound = {
      fill: (_: string, hop: Hop): boolean => {
        for (let i = 0; i < HOP; i++)
          hop.left[i] = hop.right[i] = 0.2 * Math.sin((2 * Math.PI * 440 * (n + i)) / SAMPLE_RATE);
        hop.mono = true;
        return true;
      },
    };
    let n = 0;
    for (let k = 0; k < 100; k++) {
      c.tick(k, sound);
      n += HOP;
    }
    const risen = lamps.map((l, i) => c.valueOf(`lamp-${i}/dimmer`) - i * 5);
    expect(risen.filter((x) => x > 50).length).toBeGreaterThan(0);
    expect(risen.filter((x) => x < 5).length).toBeGreaterThan(3);
    c.tick(100, quiet);
    for (let k = 101; k < 900; k++) c.tick(k, quiet);
    lamps.forEach((_, i) => expect(c.valueOf(`lamp-${i}/dimmer`)).toBeCloseTo(i * 5, 2));
  });
  it('is spread where there are more or fewer things than members', () => {
    const ear = {
      id: 'row',
      name: 'Row',
      input: 'deck',
      channel: 'sum',
      listening: { kind: 'bands', set: 'three', crossovers: [], weighting: { kind: 'flat' }, gainsDb: [] },
    } as const;
    const s: Show = { ...ferry, ears: [ear], routes: [] };
    expect(
      fanOut(s, ear, ['rail-left', 'rail-right'], 'dimmer', () => null).routes.map((r) => r.signal),
    ).toEqual(['row/0', 'row/2']);
    expect(
      fanOut(
        s,
        ear,
        ['river', 'ferry', 'moon', 'rail-left', 'rail-right'].filter((t) =>
          findParameter(s, { thing: t, parameter: 'dimmer' }),
        ),
        'dimmer',
        () => null,
      ).routes,
    ).toHaveLength(2);
  });
});

describe('edits to others', () => {
  it('leave the live state of untouched routes as it is, bit for bit, through every kind of edit', () => {
    const random = seeded(21);
    const ears = [
      { id: 'low', name: 'low', input: 'in', channel: 'sum' as const, listening: bandOf(40, 200) },
      { id: 'all', name: 'all', input: 'in', channel: 'sum' as const, listening: bandOf(20, 20000) },
    ];
    const input = { ...newInput('in', 'in', false), kind: 'device' as const, deviceId: '', deviceName: '' };
    const route = (id: string, signal: string): Route =>
      newRoute(
        id,
        signalsOfEar(ears.find((e) => e.id === signal)!)[0]!,
        { thing: 'ferry', parameter: 'height' },
        findParameter(ferry, { thing: 'ferry', parameter: 'height' })!.parameter,
        null,
      );
    const kept: Route = {
      ...route('kept', 'low'),
      shaping: {
        fit: { mode: 'coming', forgetS: 3 },
        clamp: { low: 0, high: 1 },
        hold: { ms: 30 },
        smooth: { attackMs: 20, releaseMs: 300 },
        steady: { restMs: 80, quick: 1 },
        average: { ms: 60 },
        delay: { ms: 33 },
        amount: 1,
      },
    };
    const first: Show = { ...ferry, inputs: [input], ears, routes: [kept] };
    const alone = new Conductor(),
      among = new Conductor();
    alone.setShow(first);
    among.setShow(first);
    const noise = Array.from({ length: 400 }, () => random() - 0.5);
    let k = 0;
    const sound = {
      fill: (_: string, hop: Hop): boolean => {
        for (let i = 0; i < HOP; i++)
          hop.left[i] = hop.right[i] = 0.4 * noise[(k * 7 + i) % 400]! * Math.sin(k / 9);
        hop.mono = true;
        return true;
      },
    };
    let now = first;
    for (k = 0; k < 1500; k++) {
      if (k % 5 === 0) {
        const extra = {
          ...route(`x${k}`, random() < 0.5 ? 'low' : 'all'),
          combine: (['add', 'multiply', 'greatest', 'replace'] as const)[Math.floor(random() * 4)]!,
          bypassed: random() < 0.3,
          soloed: random() < 0.1,
          amountBy: random() < 0.3 ? 'route:kept' : null,
        };
        now =
          random() < 0.6
            ? { ...now, routes: [...now.routes.slice(0, 20), extra] }
            : {
                ...now,
                routes: now.routes.filter((r) => r.id === 'kept' || random() < 0.7),
                makers: random() < 0.5 ? [{ id: 'm', name: 'm', making: newMaking('flip', 'low') }] : [],
              };
        if (random() < 0.3) now = { ...now, routes: [...now.routes].reverse() };
        among.setShow(now);
      }
      alone.tick(k, sound);
      among.tick(k, sound);
    }
    expect(among.stateOf('kept')).toEqual(alone.stateOf('kept'));
    expect(findSignal(now, 'low')).not.toBeNull();
  });
});

describe('settings of a few routes', () => {
  it('are planned in by themselves as they are when the whole show is planned anew', () => {
    const random = seeded(8),
      pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
    const all = Array.from({ length: 12 }, (_, i): Partial<Route> => ({
      signal: `s${i % 4}`,
      target: pick([
        { thing: 'rail-left', parameter: 'dimmer' },
        { thing: 'ferry', parameter: 'height' },
        { thing: 'rail-right', parameter: 'dimmer' },
      ]),
      reach: 30,
      group: i % 3 ? null : 'g',
    }));
    const groups = [{ id: 'g', name: 'g', muted: false, soloed: false, bypassed: false, folded: false }];
    const desk = new Desk(show(all, { groups }));
    let now = desk.start;
    for (let k = 0; k < 200; k++) {
      const i = Math.floor(random() * 12);
      const change = pick<(r: Route) => Partial<Route>>([
        () => ({ muted: random() < 0.5 }),
        () => ({ soloed: random() < 0.3 }),
        () => ({ bypassed: random() < 0.5 }),
        () => ({
          combine: pick(['add', 'subtract', 'multiply', 'greatest', 'least', 'average', 'replace'] as const),
        }),
        () => ({ reach: Math.floor(random() * 60) }),
        () => ({ shaping: { amount: random() } }),
        () => ({ signal: `s${Math.floor(random() * 4)}` }),
        () => ({ amountBy: random() < 0.5 ? 's1' : null }),
      ]);
      now = { ...now, routes: now.routes.map((r, n) => (n === i ? { ...r, ...change(r) } : r)) };
      desk.c.setShow(now);
      const values = [random(), random(), random(), random()];
      const anew = new Desk(now).at(...values);
      desk.at(...values);
      for (const key of ['rail-left/dimmer', 'rail-right/dimmer', 'ferry/height'])
        expect(desk.c.valueOf(key)).toBe(anew.c.valueOf(key));
    }
  });
});

describe('a replay', () => {
  it('of the same show, memory and sound gives the same value of every parameter at every tick', () => {
    const making = (id: string, m: Making): Show['makers'][number] => ({ id, name: id, making: m });
    const s: Show = {
      ...ferry,
      makers: [
        making('chance', newMaking('random', 'low-hit')),
        making('wave', newMaking('oscillator', 'low-hit')),
        making('swap', newMaking('flip', 'low-hit')),
        making('shot', newMaking('oneShot', 'chance')),
      ],
      routes: [
        ...ferry.routes,
        ...['chance', 'wave', 'swap', 'shot'].map((signal, i): Route => ({
          ...ferry.routes[0]!,
          id: `n${i}`,
          signal,
          target: { thing: 'lanterns', parameter: 'glow' },
          shaping: {
            fit: { mode: 'coming', forgetS: 3 },
            hold: { ms: 40 },
            smooth: { attackMs: 5, releaseMs: 90 },
            delay: { ms: 70 },
            amount: 0.5,
          },
        })),
      ],
    };
    const run = (): Float32Array[] => {
      const c = new Conductor(),
        random = seeded(5);
      c.setShow(s);
      c.setMemory({ ...EMPTY_MEMORY, hands: { 'ferry/across': [3] }, fits: { n0: { low: 0.1, high: 0.7 } } });
      const out: Float32Array[] = [];
      for (let k = 0; k < 700; k++) {
        c.tick(k, {
          position: (k * HOP) / SAMPLE_RATE,
          playing: true,
          fill: (_: string, hop: Hop): boolean => {
            for (let i = 0; i < HOP; i++)
              hop.left[i] = hop.right[i] = (k % 94 < 6 ? 0.6 : 0.02) * (random() - 0.5) * (1 - (k % 94) / 94);
            hop.mono = true;
            return true;
          },
        });
        out.push(c.parameters.slice());
      }
      // Every maker must have been at work.
      for (const id of ['chance', 'swap', 'shot']) expect(c.countOf(id)).toBeGreaterThan(3);
      return out;
    };
    const first = run(),
      again = run();
    expect(again).toEqual(first);
    // What is the same must also have moved.
    expect(new Set(first.map((v) => v.join())).size).toBeGreaterThan(100);
  });
});
