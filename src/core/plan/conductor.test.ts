import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import type { Hop } from '../audio/hop';
import {
  addEar,
  addRoute,
  changeShaping,
  muteRoute,
  newRoute,
  removeEar,
  removeRoutes,
  setRest,
} from '../show/commands';
import { apply, newHistory, type Command } from '../show/history';
import { signalsOfEar } from '../show/signals';
import { findParameter, thingsOf, type Thing } from '../show/things';
import type { Ear, Figure, Show } from '../show/types';
import { HOP, SAMPLE_RATE } from '../units';
import { bandOf } from '../ears/ear';
import { seeded } from '../random';
import { NotePlayer, type FlatTune } from '../notes/notePlayer';
import type { NoteState } from '../notes/noteState';
import { newInput } from '../show/inputs';
import { Conductor, inputSignal, routeSignal, tempoSignal, type HopSource } from './conductor';
import { TRACE_COLUMNS, Traces } from './traces';

const media = {
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
};
const ferry = ferryShow(media);
/** A source that gives one sound to every input. */
class Sound implements HopSource {
  frame = 0;
  constructor(
    readonly x: (frame: number) => number,
    readonly there = true,
  ) {}
  fill(_: string, hop: Hop): boolean {
    for (let i = 0; i < HOP; i++) hop.left[i] = hop.right[i] = this.x(this.frame + i);
    hop.mono = true;
    return this.there;
  }
}
const sine =
  (hz: number, amplitude: number) =>
  (i: number): number =>
    amplitude * Math.sin((2 * Math.PI * hz * i) / SAMPLE_RATE);
/** Runs ticks from `from`; every tick's sound is that of its own time. */
function run(c: Conductor, sound: Sound, from: number, ticks: number, each?: (k: number) => void): void {
  for (let k = from; k < from + ticks; k++) {
    sound.frame = k * HOP;
    c.tick(k, sound);
    each?.(k);
  }
}
const edit = (show: Show, command: Command): Show => apply(newHistory(show), 'x', command).show;

describe('Conductor', () => {
  it('takes a sound all the way to a parameter: rest + shaped × (reach − rest)', () => {
    const c = new Conductor();
    c.setShow(
      edit(
        ferry,
        changeShaping('route-1', {
          fit: { mode: 'hand', low: 0, high: 0.5 * Math.SQRT1_2 },
          smooth: undefined,
          clamp: undefined,
          amount: 0.5,
        }),
      ),
    );
    run(c, new Sound(sine(75, 0.25)), 0, 200);
    expect(c.valueOf('ferry/height')).toBeCloseTo(0.5 * 0.5 * 20, 1); // half the fit's top, half the amount, reach 20 px; a hundredth of it is still on its way
  });

  it('adds several routes on one parameter, and keeps within its limits', () => {
    const c = new Conductor();
    const target = { thing: 'ferry', parameter: 'height' };
    const more = newRoute(
      'more',
      signalsOfEar(ferry.ears[1]!)[0]!,
      target,
      findParameter(ferry, target)!.parameter,
      { low: 0, high: 0.01 },
    );
    c.setShow(
      edit(
        ferry,
        addRoute({ ...more, reach: 360, shaping: { fit: { mode: 'hand', low: 0, high: 0.01 }, amount: 2 } }),
      ),
    );
    run(c, new Sound(sine(75, 0.5)), 0, 200);
    expect(c.valueOf('ferry/height')).toBe(360);
    expect(c.signalOf(routeSignal('more'))).toBeGreaterThan(1);
  });

  it('rests in silence: every parameter at its rest, every signal finite', () => {
    const c = new Conductor();
    c.setShow(ferry);
    run(c, new Sound(sine(75, 0.5)), 0, 200);
    run(c, new Sound(() => 0), 200, 2000);
    expect(c.valueOf('ferry/height')).toBeCloseTo(0, 6);
    expect(c.valueOf('rail-left/dimmer')).toBeCloseTo(6, 6);
    expect(c.valueOf('frame-edge/swell')).toBeCloseTo(0, 6);
  });

  it.each([NaN, Infinity, 1e-310])('stays finite through %d, and recovers within a second', (bad) => {
    const c = new Conductor();
    c.setShow(ferry);
    run(c, new Sound(() => bad), 0, 50);
    run(c, new Sound(sine(75, 0.25)), 50, 188);
    for (const e of ferry.ears) expect(Number.isFinite(c.signalOf(e.id))).toBe(true);
    expect(c.valueOf('ferry/height')).toBeGreaterThan(1);
  });

  it('says where a film’s own sound is, and nothing where it is no input; frozen it stands', () => {
    const reel = 'f'.repeat(64),
      film: Figure = {
        ...ferry.figures[0]!,
        id: 'film',
        form: { kind: 'video', media: reel, fileName: 'reel.webm', flipX: false, flipY: false },
        rest: {},
      },
      silent: Show = { ...ferry, figures: [...ferry.figures, film] },
      heard: Show = {
        ...silent,
        inputs: [
          ...silent.inputs,
          {
            ...newInput('reel', 'Reel', true),
            kind: 'files',
            stems: [{ name: 'reel', media: reel, gainDb: 0 }],
            loop: true,
            part: null,
          },
        ],
      };
    const c = new Conductor(),
      sound = Object.assign(new Sound(() => 0), {
        at: 1.5,
        placeIn: (input: string) => (input === 'reel' ? sound.at : -1),
      });
    const place = (): number => c.parameters[c.map().parameters['film/pace:film']!]!;
    c.setShow(silent);
    run(c, sound, 0, 2);
    expect(place()).toBe(-1);
    c.setShow(heard);
    run(c, sound, 2, 2);
    expect(place()).toBe(1.5);
    c.perform({ do: 'freeze', on: true });
    run(c, sound, 4, 1);
    sound.at = 2.25;
    run(c, sound, 5, 3);
    expect(place()).toBe(1.5);
    c.perform({ do: 'freeze', on: false });
    run(c, sound, 8, 400);
    expect(place()).toBe(2.25);
  });
  it('goes dark within one tick as each output needs it, and comes back gradually', () => {
    const c = new Conductor();
    c.setShow(ferry);
    const loud = new Sound(sine(75, 0.5));
    run(c, loud, 0, 200);
    c.dark = true;
    run(c, loud, 200, 1);
    expect([
      c.darkness,
      c.valueOf('rail-left/dimmer'),
      c.valueOf('frame-edge/swell'),
      c.valueOf('frame-badge/size'),
      c.valueOf('third-appears/in'),
    ]).toEqual([1, 0, 0, Math.fround(0.3125), 0]);
    expect(c.valueOf('ferry/height')).toBeGreaterThan(1); // the picture is dark as a whole, not its figures
    c.dark = false;
    run(c, loud, 201, 94); // half a second
    expect(c.darkness).toBeCloseTo(0.5, 2); // half a tick of it
    run(c, loud, 295, 120);
    expect(c.darkness).toBe(0);
  });

  it("holds everything under freeze, the picture's time too; dark wins over freeze", () => {
    const c = new Conductor();
    c.setShow(ferry);
    run(c, new Sound(sine(75, 0.5)), 0, 200);
    c.freeze = true;
    run(c, new Sound(sine(75, 0.5)), 200, 1);
    const held = [...c.parameters],
      time = c.pictureTime;
    run(c, new Sound(() => 0), 201, 300);
    expect([...c.parameters]).toEqual(held);
    expect(c.pictureTime).toBe(time);
    c.dark = true;
    run(c, new Sound(() => 0), 501, 1);
    expect(c.valueOf('rail-left/dimmer')).toBe(0);
  });

  it('lets an edit of one route leave the live state of all others as it is, bit for bit', () => {
    const alone = new Conductor(),
      edited = new Conductor();
    const random = seeded(9);
    const others = ferry.routes.filter((r) => r.id !== 'route-1').map((r) => r.id);
    let show = ferry;
    alone.setShow(ferry);
    edited.setShow(ferry);
    const sound = new Sound((i) => sine(75, 0.4)(i) * (0.5 + 0.5 * Math.sin(i / 9000)) + sine(1800, 0.1)(i));
    for (let k = 0; k < 600; k++) {
      if (k % 7 === 3) {
        const commands: Command[] = [
          changeShaping('route-1', { amount: random() * 2 }),
          muteRoute('route-1', random() < 0.5),
          addEar({
            id: `e${k}`,
            name: 'x',
            input: 'deck',
            channel: 'sum',
            listening: bandOf(100 + k, 900 + k),
          }),
          setRest({ thing: 'sky', parameter: 'ink' }, '#112233'),
        ];
        show = edit(show, commands[k % commands.length]!);
        edited.setShow(show);
      }
      for (const c of [alone, edited]) {
        sound.frame = k * HOP;
        c.tick(k, sound);
      }
    }
    for (const id of others) expect(edited.stateOf(id)).toEqual(alone.stateOf(id));
    expect(edited.valueOf('river/swell')).toBe(alone.valueOf('river/swell'));
  });

  it('keeps a route whose ear or target is gone, at rest, and takes it up again', () => {
    const c = new Conductor();
    const torn = edit(ferry, removeEar('low-band'));
    c.setShow(torn);
    run(c, new Sound(sine(75, 0.5)), 0, 100);
    expect(c.valueOf('ferry/height')).toBe(0);
    c.setShow(ferry);
    run(c, new Sound(sine(75, 0.5)), 100, 100);
    expect(c.valueOf('ferry/height')).toBeGreaterThan(5);
  });

  it('outgrows its frame under a new epoch, with nothing lost', () => {
    const c = new Conductor(24, 64);
    c.setShow(ferry);
    const epoch = c.epoch;
    run(c, new Sound(sine(75, 0.5)), 0, 200);
    const state = c.stateOf('route-1'),
      trace = new Float32Array(20);
    let grown = ferry;
    for (let i = 0; i < 300; i++)
      grown = edit(
        grown,
        addEar({
          id: `more-${i}`,
          name: 'x',
          input: 'deck',
          channel: 'sum',
          listening: { kind: 'level', reading: 'peak' },
        }),
      );
    c.setShow(grown);
    expect(c.epoch).toBeGreaterThan(epoch);
    expect(c.stateOf('route-1')).toEqual(state);
    c.traces.read(c.map().signals['low-band']!, trace);
    expect(trace.every((x) => x > 0)).toBe(true);
    run(c, new Sound(sine(75, 0.5)), 200, 2);
    expect(c.valueOf('ferry/height')).toBeGreaterThan(5);
    expect(c.signalOf('more-299')).toBeCloseTo(0.5, 4);
  });

  it('gives every place one meaning within an epoch: freed places are not given again', () => {
    const c = new Conductor();
    c.setShow(ferry);
    const at = c.map().signals['low-hit'];
    c.setShow(
      edit(
        edit(ferry, removeEar('low-hit')),
        addEar({
          id: 'new',
          name: 'n',
          input: 'deck',
          channel: 'sum',
          listening: { kind: 'level', reading: 'rms' },
        }),
      ),
    );
    expect(c.map().signals.new).not.toBe(at);
    expect(c.signals[at!]).toBeNaN();
  });

  it('measures an input before any ear, trim included', () => {
    const c = new Conductor();
    c.setShow({ ...ferry, inputs: ferry.inputs.map((i) => ({ ...i, trimDb: -6.0206 })) });
    run(c, new Sound(sine(1000, 0.5)), 0, 10);
    expect(c.signalOf(inputSignal('deck', 'peak'))).toBeCloseTo(0.25, 2);
    run(c, new Sound(() => 0, false), 10, 4);
    expect(c.signalOf(inputSignal('deck', 'health'))).toBe(0);
  });

  it("adds up the way of a drift, whatever the reader's pace, and stops it under freeze", () => {
    const c = new Conductor();
    c.setShow(
      edit(edit(ferry, removeRoutes(['route-5'])), setRest({ thing: 'river', parameter: 'drift' }, 100)),
    );
    run(c, new Sound(() => 0), 0, 375); // two seconds
    expect(c.parameters[c.map().parameters['river/drift:sum']!]).toBeCloseTo(200, 3);
    c.freeze = true;
    run(c, new Sound(() => 0), 375, 375);
    expect(c.parameters[c.map().parameters['river/drift:sum']!]).toBeCloseTo(200, 3);
  });
});

describe('inputs of every kind', () => {
  const ear = (
    id: string,
    input: string,
    listening: Ear['listening'],
    channel: Ear['channel'] = 'sum',
  ): Ear => ({ id, name: id, input, channel, listening });
  const rms: Ear['listening'] = { kind: 'level', reading: 'rms' };
  /** A show of given inputs and ears, each input with its own sound. */
  class Sounds implements HopSource {
    frame = 0;
    position = 0;
    playing = true;
    constructor(
      readonly x: Record<string, (frame: number) => readonly [number, number]>,
      readonly tune: NotePlayer | null = null,
    ) {}
    fill(id: string, hop: Hop): boolean {
      const f = this.x[id];
      if (!f) return false;
      for (let i = 0; i < HOP; i++) {
        const [l, r] = f(this.frame + i);
        hop.left[i] = l;
        hop.right[i] = r;
      }
      hop.mono = false;
      return true;
    }
    notes(_: string, into: NoteState): void {
      this.tune?.play(
        this.frame / SAMPLE_RATE,
        HOP / SAMPLE_RATE,
        this.playing,
        this.frame / SAMPLE_RATE,
        into,
      );
    }
  }
  const show = (inputs: Show['inputs'], ears: readonly Ear[], more: Partial<Show> = {}): Show => ({
    ...ferry,
    inputs,
    ears,
    routes: [],
    ...more,
  });
  const device = (id: string, more: object = {}): Show['inputs'][number] => ({
    ...newInput(id, id, false),
    kind: 'device',
    deviceId: '',
    deviceName: '',
    ...more,
  });
  const go = (c: Conductor, sounds: Sounds, ticks: number, from = 0): void => {
    for (let k = from; k < from + ticks; k++) {
      sounds.frame = k * HOP;
      sounds.position = ((k + 1) * HOP) / SAMPLE_RATE;
      c.tick(k, sounds);
    }
  };
  const both =
    (f: (i: number) => number) =>
    (i: number): readonly [number, number] => [f(i), f(i)];

  it('a mix sums its parts with their gains and channels, wherever it stands in the list; a mix of itself is silent', () => {
    const c = new Conductor();
    const part = (input: string, gainDb = 0, channel: Ear['channel'] = 'sum') => ({ input, gainDb, channel });
    c.setShow(
      show(
        [
          {
            ...newInput('mix', 'mix', false),
            kind: 'mix',
            parts: [part('a', -6.0206), part('b', 0, 'left')],
          },
          device('a'),
          device('b'),
          { ...newInput('loop', 'loop', false), kind: 'mix', parts: [part('loop'), part('mix')] },
        ],
        [ear('m', 'mix', rms), ear('l', 'loop', rms)],
      ),
    );
    go(c, new Sounds({ a: both(() => 0.4), b: (_) => [0.1, 0.9] }), 10);
    expect(c.signalOf('m')).toBeCloseTo(0.3, 5);
    expect(c.signalOf('l')).toBeCloseTo(0.3, 5);
  });
  it('each ear hears its own channel', () => {
    const c = new Conductor();
    c.setShow(
      show(
        [device('a')],
        (['sum', 'left', 'right', 'mid', 'side'] as const).map((channel) => ear(channel, 'a', rms, channel)),
      ),
    );
    go(c, new Sounds({ a: () => [0.6, -0.2] }), 10);
    expect(['left', 'right', 'mid', 'side'].map((id) => +c.signalOf(id).toFixed(4))).toEqual([
      0.6, 0.2, 0.2, 0.4,
    ]);
    expect(c.signalOf('sum')).toBeCloseTo(Math.sqrt((0.36 + 0.04) / 2), 4);
  });
  it('a delay makes the analysis later by just so much', () => {
    const c = new Conductor(),
      onset = HOP * 20;
    c.setShow(
      show(
        [device('now'), device('later', { delayMs: 100 })],
        [ear('n', 'now', rms), ear('l', 'later', rms)],
      ),
    );
    const first: Record<string, number> = {},
      sounds = new Sounds({
        now: both((i) => (i >= onset ? 0.5 : 0)),
        later: both((i) => (i >= onset ? 0.5 : 0)),
      });
    for (let k = 0; k < 60; k++) {
      go(c, sounds, 1, k);
      for (const id of ['n', 'l']) if (c.signalOf(id) > 0 && first[id] === undefined) first[id] = k;
    }
    expect((first.l! - first.n!) * HOP).toBe(Math.floor(4800 / HOP) * HOP);
  });
  it('a set of bands gives a row, and members that can be routed and kept through growth', () => {
    const c = new Conductor(24, 64, undefined, 8);
    const bands = ear('bands', 'a', {
      kind: 'bands',
      set: 'octaves',
      crossovers: [],
      weighting: { kind: 'flat' },
      gainsDb: [],
    });
    const target = { thing: 'ferry', parameter: 'height' },
      route = newRoute(
        'r',
        signalsOfEar(bands).find((s) => s.id === 'bands/5')!,
        target,
        findParameter(ferry, target)!.parameter,
        null,
      );
    c.setShow(
      show([device('a')], [bands], {
        routes: [
          {
            ...route,
            reach: 100,
            shaping: { fit: { mode: 'hand', low: 0, high: 0.5 * Math.SQRT1_2 }, amount: 1 },
          },
        ],
      }),
    );
    go(c, new Sounds({ a: both(sine(1000, 0.5)) }), 100);
    const [at, points] = c.map().vectors.bands!;
    expect(points).toBe(10);
    expect(c.vectors[at + 5]).toBeCloseTo(0.3536, 2); // the band's ripple
    expect(c.signalOf('bands/5')).toBe(c.vectors[at + 5]);
    expect(c.valueOf('ferry/height')).toBeCloseTo(100, 0); // the band's ripple
  });
  it('notes of a tune move what follows them, once each', () => {
    const c = new Conductor(),
      tune: FlatTune = {
        times: Float64Array.of(0.1, 0.3),
        notes: Uint8Array.of(0, 0, 60, 127, 0, 0, 62, 64),
        seconds: 10,
        loop: true,
      };
    c.setShow(
      show(
        [
          {
            ...newInput('t', 't', false),
            kind: 'notes',
            from: { kind: 'midi', deviceId: '', deviceName: '' },
          },
        ],
        [
          ear('on', 't', { kind: 'notes', channels: [], tracks: [], reading: 'on' }),
          ear('pitch', 't', { kind: 'notes', channels: [], tracks: [], reading: 'pitch' }),
        ],
      ),
    );
    go(c, new Sounds({}, new NotePlayer(tune)), 188);
    expect(c.countOf('on')).toBe(2);
    expect(c.signalOf('pitch')).toBe(62);
  });
  it("the tempo is told to all: beats are events, and lie on the show's position where they are known", () => {
    const c = new Conductor();
    c.setShow(
      show(
        [device('a')],
        [
          ear('beat', 'a', { kind: 'beat', reading: 'beat', multiple: 2 }),
          ear('bar', 'a', { kind: 'beat', reading: 'bar', multiple: 1 }),
        ],
        { tempo: { source: 'known', bpm: 120, beatsPerBar: 4, anchor: 0.01, input: null, multiple: 1 } },
      ),
    );
    go(c, new Sounds({ a: both(() => 0) }), Math.round((4.2 * SAMPLE_RATE) / HOP));
    expect(c.countOf('beat')).toBe(17); // the first falls at the anchor
    expect(c.countOf('bar')).toBe(3);
    expect(c.signalOf(tempoSignal('bpm'))).toBe(120);
  });
  it('a route with a lead hears the beat so much earlier, and no other route does', () => {
    const c = new Conductor();
    const base = show(
      [device('a')],
      [
        ear('beat', 'a', { kind: 'beat', reading: 'beat', multiple: 1 }),
        ear('bar', 'a', { kind: 'beat', reading: 'bar', multiple: 1 }),
        ear('phase', 'a', { kind: 'beat', reading: 'phase', multiple: 1 }),
      ],
      { tempo: { source: 'known', bpm: 120, beatsPerBar: 4, anchor: 0, input: null, multiple: 1 } },
    );
    const thing = thingsOf(base).find((t) => t.parameters.some((p) => p.kind === 'number'))!,
      target = { thing: thing.id, parameter: thing.parameters.find((p) => p.kind === 'number')!.id };
    const route = (id: string, signal: string, leadMs?: number): Show['routes'][number] => {
      const own = signalsOfEar(base.ears.find((e) => e.id === signal)!)[0]!,
        { parameter } = findParameter(base, target)!;
      return {
        ...newRoute(id, own, target, parameter, null),
        shaping: { amount: 1 },
        ...(leadMs && { leadMs }),
      };
    };
    c.setShow({
      ...base,
      routes: [
        route('plain', 'phase'),
        route('led', 'phase', 100),
        route('b', 'beat', 100),
        route('r', 'bar', 100),
      ],
    });
    const sounds = new Sounds({ a: both(() => 0) });
    const ticks = (seconds: number): number => Math.round((seconds * SAMPLE_RATE) / HOP);
    // At 120 a minute beats fall at 0.5, 1, 1.5 s; led by 100 ms at 0.4, 0.9, 1.4 s.
    go(c, sounds, ticks(0.95));
    expect([c.countOf('beat'), c.countOf('beat>100')]).toEqual([1, 2]);
    expect(c.signalOf(routeSignal('led')) - c.signalOf(routeSignal('plain'))).toBeCloseTo(0.2 - 1, 2);
    // The second bar begins at 2 s: at 1.95 the led one has begun.
    go(c, sounds, ticks(1.95) - ticks(0.95), ticks(0.95));
    expect([c.countOf('bar'), c.countOf('bar>100')]).toEqual([0, 1]);
    const same = c.stateOf('plain');
    c.setShow({ ...base, routes: [route('plain', 'phase')] });
    expect(c.stateOf('plain')).toEqual(same);
  });
  it('another kind of source keeps every ear and route; nothing of the old sound is left in what is heard', () => {
    const c = new Conductor();
    const before = show([device('a')], [ear('l', 'a', { kind: 'level', reading: 'shortTerm' })]);
    c.setShow(before);
    go(c, new Sounds({ a: both(sine(1000, 0.5)) }), 700);
    expect(c.signalOf('l')).toBeGreaterThan(0.2);
    c.setShow({
      ...before,
      inputs: [{ ...newInput('a', 'a', false), kind: 'tone', wave: 'sine', hz: 440, db: -18 }],
    });
    go(c, new Sounds({ a: both(() => 0) }), 20, 700);
    expect(c.signalOf('l')).toBeLessThan(1e-4);
  });
});

describe('a show that asks for much, or cannot be taken', () => {
  it('a chain of 9,990 makers is planned, and carries a value from one end to the other', () => {
    const chain = Array.from({ length: 9990 }, (_, i) => ({
      id: `m-${i}`,
      name: `m ${i}`,
      making: { kind: 'glide' as const, of: i === 9989 ? 'knob' : `m-${i + 1}`, seconds: 0 },
    }));
    const c = new Conductor();
    c.setShow({
      ...ferry,
      routes: [],
      makers: [
        ...chain,
        { id: 'knob', name: 'Knob', making: { kind: 'slider', touch: null } },
      ] as Show['makers'],
    });
    c.makers.touch('knob', 0.75);
    run(c, new Sound(() => 0), 0, 3);
    expect(c.signalOf('m-0')).toBeCloseTo(0.75, 5);
  });
  it('a chain of 2,000 twins follows its first, and a chain of amounts its last', () => {
    const first = ferry.figures.find((f) => f.id === 'ferry')!;
    const twins = Array.from({ length: 2000 }, (_, i) => ({
      ...first,
      id: `t-${i}`,
      name: `t ${i}`,
      rest: {},
      twin: { of: i === 0 ? 'ferry' : `t-${i - 1}`, mirrored: false },
    }));
    const one = ferry.routes[0]!;
    const routes = Array.from({ length: 3000 }, (_, i) => ({
      ...one,
      id: `r-${i}`,
      target: { thing: 'none', parameter: 'none' },
      amountBy: i === 2999 ? null : `route:r-${i + 1}`,
    }));
    const c = new Conductor();
    c.setShow(
      edit({ ...ferry, figures: [...ferry.figures, ...twins], routes }, (d) => {
        d.figures.find((f) => f.id === 'ferry')!.rest.height = 7;
      }),
    );
    run(c, new Sound(() => 0), 0, 2);
    expect(c.valueOf('t-1999/height')).toBeCloseTo(7, 5);
  });
  it('leaves the one before whole: with it set again everything is as if nothing had been tried', () => {
    const sound = new Sound(sine(75, 0.2));
    const tried = new Conductor(),
      never = new Conductor();
    for (const c of [tried, never]) {
      c.setShow(ferry);
      run(c, sound, 0, 60);
    }
    const broken = {
      ...ferry,
      groups: new Proxy([], {
        get: () => {
          throw new Error('damaged');
        },
      }),
    };
    expect(() => tried.setShow(broken as Show)).toThrow('damaged');
    tried.setShow(ferry);
    for (const c of [tried, never]) run(c, sound, 60, 60);
    expect([...tried.parameters]).toEqual([...never.parameters]);
    expect(tried.map().parameters).toEqual(never.map().parameters);
    expect(ferry.routes.map((r) => tried.stateOf(r.id))).toEqual(
      ferry.routes.map((r) => never.stateOf(r.id)),
    );
  });
  it('lets go of what nobody listens for any more, and keeps what others still do', () => {
    const pitch: Ear = {
      id: 'pitch-1',
      name: 'Pitch',
      input: 'deck',
      channel: 'left',
      listening: { kind: 'pitch', reading: 'note' },
    };
    const c = new Conductor();
    c.setShow(ferry);
    const before = c.inputs.stagesOf('deck');
    c.setShow(edit(ferry, addEar(pitch)));
    expect(c.inputs.stagesOf('deck').left).toEqual(['octaves', 'pitch']);
    c.setShow(ferry);
    expect(c.inputs.stagesOf('deck')).toEqual(before);
    expect(before.sum).toContain('octaves');
  });
  it('two that need the same go on when either is gone', () => {
    const pitch = (id: string): Ear => ({
      id,
      name: id,
      input: 'deck',
      channel: 'left',
      listening: { kind: 'pitch', reading: 'note' },
    });
    const c = new Conductor(),
      both = edit(edit(ferry, addEar(pitch('one'))), addEar(pitch('two')));
    const tone = new Sound(sine(440, 0.3));
    c.setShow(both);
    run(c, tone, 0, 60);
    for (const gone of ['one', 'two']) {
      const left = gone === 'one' ? 'two' : 'one';
      c.setShow(edit(both, removeEar(gone)));
      run(c, tone, gone === 'one' ? 60 : 180, 60);
      expect(c.signalOf(left)).toBeCloseTo(69, 2); // A4
      c.setShow(both);
      run(c, tone, gone === 'one' ? 120 : 240, 60);
    }
  });
  it('a thing that becomes another kind has that kind’s limits', () => {
    const of = (kind: 'print' | 'stars'): Show => ({
      ...ferry,
      routes: [],
      figures: ferry.figures.map((f) =>
        f.id === 'ferry'
          ? {
              ...f,
              rest: {},
              form: kind === 'stars' ? { kind, count: 5 } : { kind, form: 'ferry' },
            }
          : f,
      ),
    });
    const limits = (s: Show): Map<string, number> =>
      new Map(findThing(s).parameters.flatMap((p) => (p.kind === 'number' ? [[p.id, p.max] as const] : [])));
    const findThing = (s: Show): Thing => thingsOf(s).find((t) => t.id === 'ferry')!;
    const c = new Conductor();
    c.setShow(of('print'));
    c.setShow(of('stars'));
    for (const [id, max] of limits(of('stars'))) {
      c.hand(`ferry/${id}`, [1e9]);
      run(c, new Sound(() => 0), 0, 1);
      expect([id, c.valueOf(`ferry/${id}`)]).toEqual([id, Math.fround(max)]);
    }
  });
});

describe('Traces', () => {
  it('keeps the greatest number of each column, and knows what it does not know', () => {
    const t = Traces.make(2);
    t.advance(10);
    t.put(0, 1);
    t.put(0, 3);
    t.put(0, 2);
    t.advance(13);
    t.put(0, 5);
    const out = new Float32Array(5);
    expect(t.read(0, out)).toBe(13);
    expect([...out]).toEqual([NaN, 3, NaN, NaN, 5]);
    t.fill(0, 11, 9);
    t.fill(0, 10, 9);
    t.read(0, out);
    expect([...out]).toEqual([NaN, 3, 9, NaN, 5]); // the past is filled in only where nothing was known
  });
  it('forgets what is older than its columns', () => {
    const t = Traces.make(1);
    t.advance(0);
    t.put(0, 7);
    t.advance(TRACE_COLUMNS);
    const out = new Float32Array(TRACE_COLUMNS);
    t.read(0, out);
    expect(out.some((x) => x === 7)).toBe(false);
  });
});
