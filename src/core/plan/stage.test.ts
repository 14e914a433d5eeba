import { describe, expect, it } from '@jest/globals';
import type { Act } from '../acts';
import type { Hop } from '../audio/hop';
import { ferryShow } from '../ferry/show';
import { toLinear } from '../parameters/colour';
import { newInput } from '../show';
import type { Cue, Ear, Fade, Follow, Input, Look, Show, Stem } from '../show/types';
import { HOP, SAMPLE_RATE } from '../units';
import { Conductor, type HopSource } from './conductor';

const TICK = HOP / SAMPLE_RATE;
const media = {
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
};
const ferry = ferryShow(media);
const at = (bpm: number): Show['tempo'] => ({ ...ferry.tempo, source: 'typed', bpm });
const look = (id: string, values: Look['values'], routes: Look['routes'] = {}): Look => ({
  id,
  name: id,
  values,
  routes,
  key: null,
});
const seconds = (length: number, from: Fade['from'] = 'now'): Fade => ({ unit: 'seconds', length, from });
const bars = (length: number, from: Fade['from'] = 'now'): Fade => ({ unit: 'bars', length, from });
const cue = (number: number, to: string | null, fade: Fade, more: Partial<Cue> = {}): Cue => ({
  id: `cue-${number}`,
  number,
  name: `${number}`,
  note: '',
  look: to,
  leaveOut: [],
  fade,
  delay: 0,
  follow: null,
  song: null,
  ...more,
});
/** The ferry without its routes: nothing moves but what is performed. */
function night(looks: readonly Look[], cues: readonly Cue[] = [], more: Partial<Show> = {}): Show {
  return { ...ferry, routes: [], tempo: at(120), looks, cues, songs: [], home: null, ...more };
}
const SILENCE: HopSource & { timeOfDay: number } = {
  timeOfDay: NaN,
  fill(_: string, hop: Hop) {
    hop.left.fill(0);
    hop.right.fill(0);
    hop.mono = true;
    return true;
  },
};
class Night {
  readonly c = new Conductor();
  #k = 0;
  constructor(
    show: Show,
    readonly sound: HopSource = SILENCE,
  ) {
    this.c.setShow(show);
  }
  ticks(n: number, each?: (k: number) => void): this {
    for (let k = 1; k <= n; k++) {
      this.c.tick(this.#k++, this.sound);
      each?.(k);
    }
    return this;
  }
  do(act: Act): this {
    this.c.perform(act);
    return this;
  }
  /** In so many seconds, to the tick after. */
  after(s: number): this {
    return this.ticks(Math.ceil(s / TICK - 1e-6));
  }
  value(key: string): number {
    return this.c.valueOf(key);
  }
}
const GLOW = 'stars/glow',
  ZOOM = 'camera/zoom',
  DIM = 'rail-2/dimmer';

describe('a look comes in', () => {
  it('by seconds, each tick on the straight line from what was to what will be', () => {
    const n = new Night(night([look('a', { [GLOW]: 90, [ZOOM]: 1.5 })]));
    n.ticks(10).do({ do: 'look', look: 'a', fade: seconds(1) });
    n.ticks(200, (k) => {
      const share = Math.min(1, k * TICK);
      expect(n.value(GLOW)).toBeCloseTo(45 + 45 * share, 4);
      expect(n.value(ZOOM)).toBeCloseTo(1 + 0.5 * share, 6);
    });
    expect(n.c.stage.state.phase).toBe('in');
  });
  it('by bars, through a change of tempo: as many beats as went by, whatever they took', () => {
    const show = night([look('a', { [GLOW]: 85 })]);
    const n = new Night(show).ticks(3).do({ do: 'look', look: 'a', fade: bars(2) });
    // Two bars are eight beats: 1.5 s of 120 a minute are three of them, then 60 a minute takes five seconds.
    n.ticks(270, (k) => expect(n.value(GLOW)).toBeCloseTo(45 + (40 * (k * TICK * 2)) / 8, 3));
    const gone = 270 * TICK * 2;
    n.c.setShow({ ...show, tempo: at(60) });
    const left = Math.ceil((8 - gone) / TICK);
    n.ticks(left - 1, (k) => expect(n.value(GLOW)).toBeCloseTo(45 + (40 * (gone + k * TICK)) / 8, 3));
    expect(n.c.stage.state.phase).toBe('fades');
    expect(n.ticks(1).value(GLOW)).toBe(85);
    expect(n.c.stage.state.phase).toBe('in');
  });
  it.each([
    ['beat', 0.5],
    ['bar', 2],
  ] as const)('at the next %s, counted from where that falls', (from, due) => {
    const n = new Night(night([look('a', { [GLOW]: 95 })]))
      .ticks(10)
      .do({ do: 'look', look: 'a', fade: seconds(1, from) });
    const first = Math.ceil(due / TICK - 1e-9);
    n.ticks(first - 11);
    expect([n.value(GLOW), n.c.stage.state.phase]).toEqual([45, 'waits']);
    n.ticks(40, (k) => expect(n.value(GLOW)).toBeCloseTo(45 + 50 * ((first - 1 + k) * TICK - due), 3));
  });
  it('at once where it takes no time, and after its delay where it has one', () => {
    const n = new Night(night([look('a', { [GLOW]: 90 })], [cue(1, 'a', seconds(0), { delay: 0.5 })]));
    n.do({ do: 'go' }).after(0.49);
    expect(n.value(GLOW)).toBe(45);
    expect(n.after(0.02).value(GLOW)).toBe(90);
  });
  it('from where another was half in, without a leap; what the new one does not name goes back to rest', () => {
    const n = new Night(night([look('a', { [GLOW]: 85, [ZOOM]: 2 }), look('b', { [GLOW]: 5 })]));
    n.do({ do: 'look', look: 'a', fade: seconds(1) }).after(0.5);
    const [glow, zoom] = [n.value(GLOW), n.value(ZOOM)];
    n.do({ do: 'look', look: 'b', fade: seconds(2) });
    n.ticks(300, (k) => {
      const share = (k * TICK) / 2;
      expect(n.value(GLOW)).toBeCloseTo(glow + (5 - glow) * share, 3);
      expect(n.value(ZOOM)).toBeCloseTo(zoom + (1 - zoom) * share, 5);
    });
    n.after(1);
    expect([n.value(GLOW), n.value(ZOOM)]).toEqual([5, 1]);
    // What came back to rest follows its rest again.
    n.c.setShow({
      ...night([look('a', {}), look('b', { [GLOW]: 5 })]),
      camera: { ...ferry.camera, rest: { zoom: 1.2 } },
    });
    expect(n.ticks(1).value(ZOOM)).toBeCloseTo(1.2, 6);
  });
  it('in colours, mixed as light is', () => {
    const n = new Night(night([look('a', { 'river/ink': '#ffffff' })]));
    const from = [0, 0, 0],
      rest = ferry.figures.find((f) => f.id === 'river')!.rest.ink;
    toLinear(typeof rest === 'string' ? rest : '#6db5a9', from);
    n.do({ do: 'look', look: 'a', fade: seconds(1) }).ticks(94);
    for (let i = 0; i < 3; i++)
      expect(n.c.valueOf('river/ink', i)).toBeCloseTo(from[i]! + (1 - from[i]!) * 94 * TICK, 5);
  });
  it('without the parts that are left out: those stay as they are', () => {
    const n = new Night(night([look('a', { [GLOW]: 90, [DIM]: 80 }), look('b', { [GLOW]: 10, [DIM]: 10 })]));
    n.do({ do: 'look', look: 'a', fade: seconds(0) }).ticks(2);
    n.do({ do: 'look', look: 'b', fade: seconds(0), leaveOut: ['lamps'] }).ticks(2);
    expect([n.value(GLOW), n.value(DIM)]).toEqual([10, 80]);
    n.do({ do: 'look', look: null, fade: seconds(0), leaveOut: ['picture'] }).ticks(2);
    expect([n.value(GLOW), n.value(DIM)]).toEqual([10, 5]);
  });
  it('with how much its routes move', () => {
    const show = {
      ...ferry,
      tempo: at(120),
      looks: [look('a', {}, { 'route-1': 0.5 })],
      cues: [],
      songs: [],
      home: null,
    };
    const loud: HopSource = {
      fill: (_, hop) => (hop.left.fill(0.5), hop.right.fill(0.5), (hop.mono = true)),
    };
    const heard = (acts: readonly Act[]): number => {
      const c = new Conductor();
      c.setShow(show);
      acts.forEach((a) => c.perform(a));
      for (let k = 0; k < 20; k++) c.tick(k, loud);
      return c.signalOf('route:route-1');
    };
    const whole = heard([]);
    expect(whole).toBeGreaterThan(0);
    expect(heard([{ do: 'look', look: 'a', fade: seconds(0) }])).toBeCloseTo(whole / 2, 6);
    expect(heard([{ do: 'master', master: 'moves', value: 0.25 }])).toBeCloseTo(whole / 4, 6);
  });
  it('and is edited while it is in: what was edited goes there, nothing else leaps', () => {
    const looks = (glow: number): Look[] => [look('a', { [GLOW]: glow, [ZOOM]: 2 })];
    const n = new Night(night(looks(90)));
    n.do({ do: 'look', look: 'a', fade: seconds(1) }).after(0.5);
    const zoom = n.value(ZOOM);
    n.c.setShow(night(looks(65)));
    n.ticks(1);
    expect(n.value(ZOOM)).toBeCloseTo(zoom + TICK, 4);
    n.after(0.6);
    expect([n.value(GLOW), n.value(ZOOM)]).toEqual([65, 2]);
    n.c.setShow(night(looks(70)));
    expect(n.ticks(1).value(GLOW)).toBe(70);
  });
  it('names what is gone, and takes it again when it is back', () => {
    const a = [look('a', { [GLOW]: 90, [ZOOM]: 2 })],
      n = new Night(night(a));
    n.do({ do: 'look', look: 'a', fade: seconds(0) }).ticks(2);
    n.c.setShow(night(a, [], { figures: ferry.figures.filter((f) => f.id !== 'stars') }));
    expect(n.ticks(2).value(ZOOM)).toBe(2);
    n.c.setShow(night(a));
    expect(n.ticks(2).value(GLOW)).toBe(90);
  });
});

describe('cues', () => {
  const looks = [look('a', { [GLOW]: 10 }), look('b', { [GLOW]: 20 }), look('c', { [GLOW]: 30 })];
  const plain = (follow: Follow | null = null): Cue[] => [
    cue(1, 'a', seconds(0), { follow }),
    cue(2, 'b', seconds(0)),
    cue(3, 'c', seconds(0)),
  ];
  it('go on, back, to any, and to the one that is put next; at the end they stay', () => {
    const n = new Night(night(looks, plain()));
    const to = (act: Act): number => n.do(act).ticks(1).value(GLOW);
    expect([to({ do: 'go' }), to({ do: 'go' }), to({ do: 'back' })]).toEqual([10, 20, 10]);
    n.do({ do: 'next', cue: 'cue-3' });
    expect(n.c.stage.state.next).toBe('cue-3');
    expect([to({ do: 'go' }), to({ do: 'go' })]).toEqual([30, 30]);
    expect(n.c.stage.state.next).toBeNull();
    expect(to({ do: 'cue', cue: 'cue-2' })).toBe(20);
    expect(n.c.stage.state.next).toBe('cue-3');
  });
  it('go on from where they are when the one that is in is taken off, and take what is hung before the next', () => {
    const n = new Night(night(looks, plain())).do({ do: 'go' }).do({ do: 'go' }).ticks(1);
    n.c.setShow(
      night(
        looks,
        plain().filter((c) => c.id !== 'cue-2'),
      ),
    );
    expect(n.c.stage.state.next).toBe('cue-3');
    const other = new Night(night(looks, plain()));
    other.do({ do: 'go' }).do({ do: 'next', cue: 'cue-2' });
    other.c.setMemory({ fits: {}, dark: false, freeze: false, stage: other.c.stage.state });
    other.c.setShow(night(looks, [...plain().slice(0, 1), cue(1.5, 'c', seconds(0)), ...plain().slice(1)]));
    expect(other.c.stage.state.next).toBe('cue-1.5');
  });
  it.each([
    ['seconds', { kind: 'seconds', after: 1 } as Follow, 1],
    ['bars', { kind: 'bars', after: 1.5 } as Follow, 3],
  ])('follow by themselves after %s', (_, follow, due) => {
    const n = new Night(night(looks, plain(follow))).do({ do: 'go' });
    const ticks = Math.ceil(due / TICK - 1e-6);
    expect(n.ticks(ticks - 1).value(GLOW)).toBe(10);
    expect(n.ticks(1).value(GLOW)).toBe(20);
    // The next has nothing that follows.
    expect(n.after(4).value(GLOW)).toBe(20);
  });
  it.each([{ do: 'home' } as Act, { do: 'look', look: 'c' } as Act])(
    'do not follow by themselves once %j was taken by hand, also after a reload, until somebody goes on',
    (byHand) => {
      const shown = night(looks, plain({ kind: 'seconds', after: 1 }), { home: 'c' }),
        n = new Night(shown).do({ do: 'go' }).ticks(2).do(byHand);
      expect(n.after(4).value(GLOW)).toBe(30);
      const again = new Night(shown);
      again.c.setMemory({ fits: {}, dark: false, freeze: false, stage: n.c.stage.state });
      expect(again.after(4).value(GLOW)).toBe(30);
      expect(n.do({ do: 'cue', cue: 'cue-1' }).ticks(1).value(GLOW)).toBe(10);
      expect(n.after(1.1).value(GLOW)).toBe(20);
    },
  );
  it('follow an event, from when they were taken', () => {
    const crossing = {
      id: 'm',
      name: 'm',
      making: { kind: 'button', latching: false, key: null, touch: null },
    } as const;
    const n = new Night(night(looks, plain({ kind: 'event', signal: 'm' }), { makers: [crossing] }));
    const press = (): unknown =>
      n.do({ do: 'touch', maker: 'm', value: 1 }).ticks(1).do({ do: 'touch', maker: 'm', value: 0 }).ticks(1);
    press();
    n.do({ do: 'go' }).ticks(5);
    expect(n.value(GLOW)).toBe(10);
    press();
    expect(n.ticks(1).value(GLOW)).toBe(20);
  });
  it('follow a time of day when it comes, and not because it is past', () => {
    const n = new Night(night(looks, plain({ kind: 'time', at: '21:30' })));
    SILENCE.timeOfDay = 21.6 * 3600;
    n.do({ do: 'go' }).ticks(5);
    expect(n.value(GLOW)).toBe(10);
    SILENCE.timeOfDay = 21.49 * 3600;
    n.ticks(1);
    SILENCE.timeOfDay = 21.5 * 3600;
    expect(n.ticks(2).value(GLOW)).toBe(20);
    SILENCE.timeOfDay = NaN;
  });
});

it('a song with a tempo of its own is played at it, and the show’s own comes back after it', () => {
  const songs = [{ id: 'slow', name: 'slow', note: '', bpm: 60, inputs: null }];
  const n = new Night(
    night([], [cue(1, null, seconds(0), { song: 'slow' }), cue(2, null, seconds(0))], { songs }),
  );
  const beats = (): number => {
    const from = n.c.inputs.clock.beat;
    n.ticks(375);
    return n.c.inputs.clock.beat - from;
  };
  expect(beats()).toBeCloseTo(4, 6);
  n.do({ do: 'go' }).ticks(1);
  expect(beats()).toBeCloseTo(2, 6);
  n.do({ do: 'go' }).ticks(1);
  expect(beats()).toBeCloseTo(4, 6);
});

it('a song listens to its own inputs alone, to stems and parts of them too, and after it all are heard again', () => {
  const device = (id: string): Input => ({
    ...newInput(id, id, false),
    kind: 'device',
    deviceId: id,
    deviceName: id,
  });
  const stem = (name: string): Stem => ({ name, media: name, gainDb: 0 }),
    inputs: Input[] = [
      device('one'),
      device('part'),
      {
        ...newInput('files', 'files', false),
        kind: 'files',
        stems: [stem('bell'), stem('drum')],
        loop: true,
        part: null,
      },
      {
        ...newInput('mix', 'mix', false),
        kind: 'mix',
        parts: [{ input: 'part', gainDb: 0, channel: 'sum' }],
      },
    ];
  const ear = (input: string, more: object = {}): Ear => ({
      id: `ear-${input}${Object.keys(more).length}`,
      name: input,
      input,
      channel: 'sum',
      listening: { kind: 'level', reading: 'peak' },
      ...more,
    }),
    ears = [ear('one'), ear('files'), ear('files', { stem: 'drum' }), ear('mix')],
    songs = [{ id: 'solo', name: 'solo', note: '', bpm: null, inputs: ['files', 'mix'] }];
  const n = new Night(
    night([], [cue(1, null, seconds(0), { song: 'solo' }), cue(2, null, seconds(0))], {
      songs,
      inputs,
      ears,
    }),
    {
      fill(_, hop) {
        hop.left.fill(0.5);
        hop.right.fill(0.5);
        return true;
      },
    },
  );
  const heard = (): boolean[] => ears.map(({ id }) => n.c.signals[n.c.map().signals[id]!]! > 0.3);
  n.ticks(100);
  expect(heard()).toEqual([true, true, true, true]);
  n.do({ do: 'go' }).ticks(400);
  expect(heard()).toEqual([false, true, true, true]);
  n.do({ do: 'go' }).ticks(100);
  expect(heard()).toEqual([true, true, true, true]);
});

it('dark takes the show’s time where nobody says another, and none where none is set', () => {
  const n = new Night(night([], [], { darkOver: 2 }));
  n.ticks(2);
  n.do({ do: 'dark', on: true }).ticks(Math.round(1 / TICK));
  expect(n.c.darkness).toBeCloseTo(0.5, 2);
  n.do({ do: 'dark', on: true, over: 0 }).ticks(1);
  expect(n.c.darkness).toBe(1);
  const sudden = new Night(night([], [], { darkOver: 0 }));
  sudden.ticks(1).do({ do: 'dark', on: true }).ticks(1);
  expect(sudden.c.darkness).toBe(1);
});

describe('masters', () => {
  const n = new Night(
    night([], [], { fixtures: ferry.fixtures.map((f) => (f.id === 'rail-2' ? { ...f, group: 'aft' } : f)) }),
  );
  const all = (): readonly number[] => {
    n.ticks(1);
    return [n.value(DIM), n.value('rail-bar/dimmer'), n.value('beam-river/brightness'), 1 - n.c.curtain];
  };
  it('scale light: of everything, of one kind of output, of one group of lamps', () => {
    expect(all()).toEqual([5, 100, 100, 1]);
    n.do({ do: 'master', master: 'lamps', value: 0.5 });
    expect(all()).toEqual([2.5, 50, 100, 1]);
    n.do({ do: 'master', master: 'lamps:aft', value: 0.5 });
    expect(all()).toEqual([1.25, 50, 100, 1]);
    n.do({ do: 'master', master: 'all', value: 0.5 }).do({ do: 'master', master: 'picture', value: 0.5 });
    expect(all()).toEqual([0.625, 25, 50, 0.25]);
    expect(n.value('rail-2/colour')).toBeGreaterThan(0);
  });
  it('are full, or the only one, for as long as they are held', () => {
    n.do({ do: 'flash', master: 'picture', on: true });
    expect(all()[3]).toBe(0.5);
    n.do({ do: 'flash', master: 'picture', on: false }).do({ do: 'alone', master: 'laser', on: true });
    expect(all()).toEqual([0, 0, 50, 0]);
    n.do({ do: 'alone', master: 'laser', on: false });
    expect(all()).toEqual([0.625, 25, 50, 0.25]);
  });
  it('let an overlay go plain, and never black', () => {
    const held = new Night(night([look('a', { 'frame-edge/swell': 60 })]));
    held
      .do({ do: 'look', look: 'a', fade: seconds(0) })
      .do({ do: 'master', master: 'overlays', value: 0 })
      .ticks(2);
    expect(held.value('frame-edge/swell')).toBe(0);
    expect(held.value('frame-edge/shown')).toBe(100);
  });
  it('take no number for nothing', () => {
    expect(n.do({ do: 'master', master: 'all', value: NaN }).ticks(1).value(DIM)).toBe(0);
  });
});

it('dark and freeze come in over a time where they are given one, and at once where not', () => {
  const n = new Night(night([])).do({ do: 'dark', on: true, over: 1 });
  n.ticks(94, (k) => expect(n.value('rail-bar/dimmer')).toBeCloseTo(100 - 100 * k * TICK, 3));
  expect(n.do({ do: 'dark', on: true }).ticks(1).value('rail-bar/dimmer')).toBe(0);
});

it('a state that is kept in the middle of a fade goes on to the same numbers', () => {
  const show = night(
    [look('a', { [GLOW]: 90, 'river/ink': '#ffffff' }), look('b', { [ZOOM]: 2 })],
    [cue(1, 'a', bars(2), { follow: { kind: 'bars', after: 3 } }), cue(2, 'b', seconds(1))],
  );
  const one = new Night(show).do({ do: 'master', master: 'lamps', value: 0.3 }).do({ do: 'go' }).ticks(300);
  const other = new Conductor();
  other.setMemory({
    fits: {},
    dark: false,
    freeze: false,
    stage: JSON.parse(JSON.stringify(one.c.stage.state)),
  });
  other.setShow(show);
  // Both at the same place of the bar.
  other.inputs.clock.beat = one.c.inputs.clock.beat;
  one.ticks(1200);
  for (let k = 0; k < 1200; k++) other.tick(300 + k, SILENCE);
  for (const key of [GLOW, ZOOM, 'river/ink', DIM]) expect(other.valueOf(key)).toBeCloseTo(one.value(key), 4);
  expect(other.stage.state.cue).toBe('cue-2');
});

it('what stood some bars ago can be had again: by hand or by a look, sound apart', () => {
  const n = new Night(night([look('a', { [ZOOM]: 2 })]))
    .do({ do: 'hand', key: GLOW, value: [80] })
    .after(4.1);
  n.do({ do: 'hand', key: GLOW, value: null })
    .do({ do: 'look', look: 'a', fade: seconds(0) })
    .after(3);
  expect(n.c.stood(0).values).toEqual({ [ZOOM]: 2 });
  expect(n.c.stood(2).values).toEqual({ [GLOW]: 80 });
});

it('a look is rehearsed in the control window alone', () => {
  const n = new Night(night([look('a', { [GLOW]: 90 })])).do({ do: 'rehearse', look: 'a' }).ticks(2);
  const slot = n.c.map().parameters[GLOW]!;
  expect([n.value(GLOW), n.c.preview![slot]]).toEqual([45, 90]);
  n.do({ do: 'rehearse', look: null }).ticks(1);
  expect(n.c.preview).toBeNull();
});
