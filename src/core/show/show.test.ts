import { newMaking } from '../makers/making';
import { boundsOf, findSignal, signalsOfEar } from './signals';
import { STARTING_POINTS } from './startingPoints';
import { describe, expect, it } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { ferryShow, newShow } from '../ferry/show';
import { seeded } from '../random';
import * as commands from './commands';
import * as lampCommands from './lampCommands';
import { apply, newHistory, redo, seal, undo, type Command, type History } from './history';
import { newInput } from './inputs';
import { orderFigure } from './pictureCommands';
import * as surfaceCommands from './surfaceCommands';
import { parseMemory, parseShow, ShowError } from './schema';
import { findParameter, restOf, thingsOf } from './things';
import { COMBINES, SHOW_VERSION, type Ear, type Figure, type Maker, type Route, type Show } from './types';
import { upgrade, UPGRADES, UpgradeError } from './upgrade';

const hash = 'a'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});

describe('history', () => {
  it('random edits: undo everything returns the same show, redo the same again', () => {
    const random = seeded(11);
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
    let h: History = newHistory(ferry);
    for (let i = 0; i < 250; i++) {
      const { show } = h;
      const route = show.routes.length ? pick(show.routes).id : 'none';
      const thing = pick(thingsOf(show).length ? thingsOf(show) : thingsOf(ferry));
      const parameter = pick(thing.parameters);
      const target = { thing: thing.id, parameter: parameter.id };
      const ear = show.ears[0] ?? ferry.ears[0]!;
      const choices: Command[] = [
        commands.changeShaping(route, {
          amount: random() * 2,
          floor: random() < 0.5 ? { at: random() } : undefined,
        }),
        commands.muteRoute(route, random() < 0.5),
        commands.removeRoutes([route]),
        commands.addRoute(
          commands.newRoute(commands.freeId(show, 'route'), signalsOfEar(ear)[0]!, target, parameter, null),
        ),
        commands.setRest(target, parameter.reach),
        commands.removeThing(thing.id),
        commands.addEar({ ...ear, id: commands.freeId(show, 'ear') }),
        commands.removeEar(ear.id),
        commands.changeInput('deck', (x) => {
          x.trimDb = Math.round(random() * 12);
        }),
        commands.renameThing(thing.id, `n${i}`),
        commands.setTempo({ bpm: 60 + i }),
        orderFigure('ferry', ferry.figures[Math.floor(random() * 7)]!.id),
        commands.aimRoutes([route], target),
        commands.changeRoutes([route], {
          combine: pick(COMBINES),
          soloed: random() < 0.3,
          bypassed: random() < 0.3,
          amountBy: pick([null, ear.id]),
        }),
        commands.orderRoute(route, show.routes.length ? pick(show.routes).id : null),
        commands.endSolo,
        commands.addGroup(
          {
            id: commands.freeId(show, 'group'),
            name: 'g',
            muted: false,
            soloed: false,
            bypassed: random() < 0.5,
            folded: false,
          },
          [route],
        ),
        commands.removeGroup(show.groups[0]?.id ?? ''),
        commands.changeGroup(show.groups[0]?.id ?? '', { folded: random() < 0.5 }),
        commands.addMaker({
          id: commands.freeId(show, 'maker'),
          name: 'm',
          making: newMaking(pick(['flip', 'list', 'oscillator', 'colours', 'prompter'] as const), ear.id),
        }),
        commands.removeMaker(show.makers[0]?.id ?? ''),
        commands.addShape({
          id: commands.freeId(show, 'shape'),
          name: 's',
          shaping: {
            curve: {
              points: [
                [0, 0],
                [0.5, 0.2],
                [1, 1],
              ],
            },
            amount: 1,
          },
        }),
        commands.tryUnseen(show, route)?.command ?? commands.endSolo,
        commands.sendUnseen(show.routes.map((r) => r.id)),
        commands.applyShape([route], {
          smooth: { attackMs: 1, releaseMs: 2 },
          delay: { ms: 5 },
          amount: 0.5,
        }),
        surfaceCommands.twinFigure(show, show.figures[0]?.id ?? '', random() < 0.5)?.command ??
          commands.endSolo,
        surfaceCommands.duplicateFigure(show, 'ferry')?.command ?? commands.endSolo,
        commands.clearRest(target),
      ];
      h = apply(h, `edit ${i}`, pick(choices), random() < 0.3 ? 'drag' : null);
      expect(() => parseShow(h.show)).not.toThrow();
    }
    const end = h.show,
      steps = h.past.length;
    for (let i = 0; i < steps; i++) h = undo(h);
    expect(h.show).toEqual(ferry);
    for (let i = 0; i < steps; i++) h = redo(h);
    expect(h.show).toEqual(end);
  });
  it('a drag is one edit, until it is sealed; an edit that changes nothing is none', () => {
    let h = newHistory(ferry);
    for (let i = 1; i <= 20; i++)
      h = apply(h, 'drag', commands.changeShaping('route-1', { amount: i / 20 - 0.01 }), 'amount');
    expect(h.past).toHaveLength(1);
    h = apply(seal(h), 'drag', commands.changeShaping('route-1', { amount: 2 }), 'amount');
    expect(h.past).toHaveLength(2);
    expect(apply(h, 'nothing', commands.muteRoute('route-1', false))).toBe(h);
    expect(undo(undo(h)).show).toEqual(ferry);
  });
});

describe('commands', () => {
  it("changing an input's source keeps its ears and routes", () => {
    const h = apply(
      newHistory(ferry),
      'x',
      commands.replaceInput('deck', {
        ...newInput('whatever', 'Mic', false),
        kind: 'device',
        deviceId: '',
        deviceName: '',
      }),
    );
    expect(h.show.inputs[0]).toMatchObject({ id: 'deck', kind: 'device' });
    expect(h.show.ears).toBe(ferry.ears);
    expect(h.show.routes).toBe(ferry.routes);
  });
  it('a new route suits its parameter: fitted to what was heard, or waiting; a hit strikes', () => {
    const target = { thing: 'ferry', parameter: 'height' };
    const { parameter } = findParameter(ferry, target)!;
    const band = commands.newRoute('r', signalsOfEar(ferry.ears[1]!)[0]!, target, parameter, {
      low: 0.1,
      high: 0.3,
    });
    expect(band.shaping).toMatchObject({
      fit: { mode: 'heard', low: 0.1, high: 0.3 },
      smooth: { attackMs: parameter.attackMs, releaseMs: parameter.releaseMs },
    });
    expect(
      commands.newRoute('r', signalsOfEar(ferry.ears[1]!)[0]!, target, parameter, null).shaping.fit?.mode,
    ).toBe('coming');
    expect(
      commands.newRoute('r', signalsOfEar(ferry.ears[0]!)[0]!, target, parameter, null).shaping,
    ).toHaveProperty('strike');
  });
  it('what lies between known bounds by its nature is fitted to those, whatever was heard', () => {
    const target = { thing: 'ferry', parameter: 'tilt' },
      { parameter } = findParameter(ferry, target)!;
    const maker = (id: string, making: Maker['making']): Maker => ({ id, name: id, making });
    const button = maker('button', { kind: 'button', latching: true, key: null, touch: null }),
      glide = maker('glide', { kind: 'glide', of: 'button', seconds: 2 }),
      second = maker('second', { kind: 'glide', of: 'glide', seconds: 1 }),
      list = maker('list', { kind: 'list', on: 'button', values: [3, -2, 5], order: 'onward' }),
      listened = maker('listened', { kind: 'glide', of: ferry.ears[1]!.id, seconds: 1 }),
      ring = maker('ring', { kind: 'glide', of: 'ring', seconds: 1 });
    const ear = (reading: 'velocity' | 'pitch'): Ear => ({
      ...ferry.ears[1]!,
      id: reading,
      listening: { kind: 'notes', channels: [], tracks: [], reading },
    });
    const show: Show = {
      ...ferry,
      makers: [button, glide, second, list, listened, ring],
      ears: [...ferry.ears, ear('velocity'), ear('pitch')],
    };
    const half = { low: 0.5, high: 1 };
    const fitOf = (id: string): unknown => {
      const signal = findSignal(show, id)!;
      return commands.newRoute('r', signal, target, parameter, half, boundsOf(show, signal)).shaping.fit;
    };
    expect(['button', 'glide', 'second', 'velocity'].map(fitOf)).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
    expect(fitOf('list')).toEqual({ mode: 'hand', low: -2, high: 5 });
    expect(fitOf('pitch')).toEqual({ mode: 'hand', low: 21, high: 108 });
    // Only listening tells of these.
    expect(['listened', 'ring'].map(fitOf)).toEqual([
      { mode: 'heard', ...half },
      { mode: 'heard', ...half },
    ]);
  });
  it('a new route has a way to go: to its reach, or away from where the thing rests already', () => {
    const text: Figure = {
      ...ferry.figures[0]!,
      id: 'words',
      form: { kind: 'text', text: 'one\ntwo\nthree', face: 'heading' },
      rest: {},
    };
    const show: Show = { ...ferry, figures: [...ferry.figures, text] };
    expect(commands.firstReach(show, { thing: 'words', parameter: 'line' })).toBe(3);
    expect(commands.firstReach(show, { thing: 'words', parameter: 'typed' })).toBe(0);
    const gone: Show = { ...show, figures: [...ferry.figures, { ...text, rest: { typed: 0 } }] };
    expect(commands.firstReach(gone, { thing: 'words', parameter: 'typed' })).toBe(100);
  });
  it('an ear that is named after its input goes with the input’s name', () => {
    const named: Show = {
      ...ferry,
      ears: [
        { ...ferry.ears[0]!, name: `${ferry.inputs[0]!.name} · hit` },
        { ...ferry.ears[1]!, name: 'Mine' },
      ],
    };
    const { show } = apply(
      newHistory(named),
      'change',
      commands.replaceInput(ferry.inputs[0]!.id, { ...ferry.inputs[0]!, name: 'New drums' }),
    );
    expect(show.ears.map((e) => e.name)).toEqual(['New drums · hit', 'Mine']);
  });
  it('a duplicate is called after what it was made of, and counted', () => {
    let show: Show = ferry;
    for (let i = 0, id = 'moon'; i < 3; i++) {
      const made = surfaceCommands.duplicateFigure(show, id)!;
      ({ show } = apply(newHistory(show), 'duplicate', made.command));
      id = made.figure;
    }
    expect(
      show.figures
        .filter((f) => f.name.startsWith('Moon'))
        .map((f) => f.name)
        .sort(),
    ).toEqual(['Moon', 'Moon, 2', 'Moon, 3', 'Moon, 4']);
  });
  it('finds the first free address, and null in a full universe', () => {
    expect(lampCommands.freeAddress(ferry, 0, 3)).toBe(38); // the rail takes 1 to 37
    const full = {
      ...ferry,
      fixtures: Array.from({ length: 128 }, (_, i) => ({
        ...ferry.fixtures[1]!,
        id: `f${i}`,
        address: i * 4 + 1,
      })),
    };
    expect(lampCommands.freeAddress(full, 0, 1)).toBeNull();
  });
  it("a lamp's address stays where its channels fit", () => {
    const h = apply(newHistory(ferry), 'x', lampCommands.patchFixture('rail-right', { address: 512 }));
    expect(h.show.fixtures[1]!.address).toBe(509);
  });
});

describe('a show from outside', () => {
  it('is taken as it is when it is whole', () => {
    expect(parseShow(JSON.parse(JSON.stringify(ferry)))).toEqual(ferry);
    expect(() => parseShow(newShow('n', 'New', ferry.inputs[0]!))).not.toThrow();
  });
  const broken: [string, (s: Record<string, never> & Show) => unknown, string][] = [
    ['nothing', () => null, 'not a Batucada show'],
    ['a list', () => [], 'not a Batucada show'],
    ['foreign', () => ({ format: 'other', version: 1 }), 'not a Batucada show'],
    ['newer', (s) => ({ ...s, version: SHOW_VERSION + 1 }), 'newer Batucada'],
    ['without a version', (s) => ({ ...s, version: undefined }), 'which version'],
    ['with an unknown field', (s) => ({ ...s, extra: 1 }), '"extra" is not allowed'],
    [
      'with a range upside down',
      (s) => ({
        ...s,
        ears: [{ ...s.ears[1]!, listening: { ...s.ears[1]!.listening, low: 900, high: 100 } }],
      }),
      'damaged',
    ],
    ['with one id twice', (s) => ({ ...s, ears: [...s.ears, s.ears[0]!] }), 'used twice'],
    [
      'with a rest that its parameter cannot have',
      (s) => ({
        ...s,
        figures: s.figures.map((f) => (f.id === 'ferry' ? { ...f, rest: { tilt: 9000 } } : f)),
      }),
      'cannot rest at 9000',
    ],
    [
      'with a parameter that no figure has',
      (s) => ({ ...s, figures: s.figures.map((f) => (f.id === 'ferry' ? { ...f, rest: { speed: 1 } } : f)) }),
      'no parameter "speed"',
    ],
    [
      'with a reach of the wrong kind',
      (s) => ({ ...s, routes: [{ ...s.routes[0]!, reach: '#ffffff' }] }),
      'a route takes',
    ],
    [
      'with a lamp past the end of its universe',
      (s) => ({ ...s, fixtures: [{ ...s.fixtures[0]!, address: 512 }] }),
      'does not fit',
    ],
    ['with infinity in it', (s) => ({ ...s, tempo: { ...s.tempo, bpm: Infinity } }), 'damaged'],
  ];
  it.each(broken)('is refused in words when it is %s', (_, twist, words) => {
    expect(() => parseShow(twist(ferry as never))).toThrow(ShowError);
    expect(() => parseShow(twist(ferry as never))).toThrow(words);
  });
  it('may have routes with lost ends: they are kept', () => {
    expect(parseShow({ ...ferry, ears: [], figures: [] }).routes).toHaveLength(ferry.routes.length);
  });
  it('plays without a memory when that is damaged', () => {
    expect(
      parseMemory({
        fits: { r: { low: 2, high: 1 } },
        dark: false,
        freeze: false,
        position: 0,
        playing: true,
      }),
    ).toBeNull();
    expect(
      parseMemory({
        fits: { r: { low: 1, high: 2 } },
        dark: true,
        freeze: false,
        position: 3,
        playing: true,
      }),
    ).toMatchObject({ dark: true });
  });
});

describe('upgrades', () => {
  /** An old show with its overlays as surfaces, which a test of its own tells of, and with an empty night. */
  const framed = (old: Show): Show => ({
    ...(UPGRADES.find((u) => u.from === 9)!.run(
      old as unknown as Record<string, unknown>,
    ) as unknown as Show),
    looks: [],
    cues: [],
    songs: [],
    home: null,
    darkOver: 0,
    freezeOver: 0,
    grips: [],
    phone: [],
  });
  it.each([1, 2])("take a saved show of form %d to today's, every ear and route in its place", (version) => {
    const old = JSON.parse(readFileSync(path.join(__dirname, `saved/show-${version}.json`), 'utf8')) as {
      routes: object[];
      ears: { id: string; name: string }[];
    };
    const show = parseShow(old);
    expect(show.version).toBe(SHOW_VERSION);
    expect(show.routes).toEqual(
      framed({ ...old, figures: [] } as unknown as Show).routes.map((r) => ({
        ...r,
        soloed: false,
        bypassed: false,
        combine: 'add',
        group: null,
        amountBy: null,
        unseen: null,
      })),
    );
    expect(show.ears.map((e) => [e.id, e.name, e.channel])).toEqual(
      old.ears.map((e) => [e.id, e.name, 'sum']),
    );
    expect(show.ears.find((e) => e.id === 'low-hit')!.listening).toEqual({
      kind: 'hit',
      what: 'range',
      low: 40,
      high: 160,
      sensitivity: 0.6,
      holdOffMs: 85,
    });
    expect(show.inputs[0]).toMatchObject({ autoGain: false, delayMs: 0, part: null });
    expect(show.makers).toEqual([]);
  });
  const WIRE_NOW = { universes: null, priority: 100, sync: false },
    ROOM_NOW = {
      kinds: [],
      room: { width: 12, depth: 8, height: 5 },
      spots: [],
      messages: [],
      merges: [],
      laserFigures: [],
    };
  it('take a saved show of form 4 to today’s: its wires hold, as they did', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-4.json'), 'utf8')) as Show;
    const show = parseShow(old);
    expect(show).toEqual({
      ...framed(old),
      version: SHOW_VERSION,
      wires: old.wires.map((w) => ({ ...w, ...WIRE_NOW, safe: { then: 'hold' } })),
      ramps: [],
      ...ROOM_NOW,
    });
  });
  it('take a saved show of form 5 to today’s as it is, with no ramps', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-5.json'), 'utf8')) as Show;
    expect(parseShow(old)).toEqual({
      ...framed(old),
      version: SHOW_VERSION,
      ramps: [],
      wires: old.wires.map((w) => ({ ...w, ...WIRE_NOW })),
      ...ROOM_NOW,
    });
  });
  it('take a saved show of form 6 to today’s: every lamp as it was, in a room of the usual size', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-6.json'), 'utf8')) as Show;
    expect(parseShow(old)).toEqual({
      ...framed(old),
      version: SHOW_VERSION,
      wires: old.wires.map((w) => ({ ...w, ...WIRE_NOW })),
      ...ROOM_NOW,
    });
  });
  it('take a saved show of form 7 to today’s as it is, sharing nothing with a desk', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-7.json'), 'utf8')) as Show;
    expect(old.fixtures).toHaveLength(3);
    expect(parseShow(old)).toEqual({
      ...framed(old),
      version: SHOW_VERSION,
      merges: [],
      laserFigures: [],
    });
  });
  it('take a saved show of form 8 to today’s as it is, with nothing that a laser draws', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-8.json'), 'utf8')) as Show;
    expect(old.fixtures.length).toBeGreaterThan(12);
    expect(parseShow(old)).toEqual({ ...framed(old), version: SHOW_VERSION, laserFigures: [] });
  });
  it('take a saved show of form 9 to today’s: its overlay is a surface with its frame and badge as figures, moved as they were', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-9.json'), 'utf8')) as {
        overlays: { id: string; badge: string }[];
        routes: (Route & { reach: number })[];
        figures: Figure[];
      },
      show = parseShow(old),
      [frame] = show.overlays;
    expect(frame).toEqual({
      id: 'frame',
      name: 'Host frame',
      rest: {},
      width: 1280,
      height: 720,
      ground: null,
      still: null,
    });
    expect(show.figures.slice(0, old.figures.length)).toEqual(old.figures);
    const [edge, badge] = show.figures.slice(old.figures.length);
    expect(edge).toMatchObject({
      surface: 'frame',
      form: { kind: 'edge', width: 1280, height: 720, way: 'inward', cuts: false },
      at: { x: 640, y: 360 },
    });
    expect(badge).toMatchObject({
      surface: 'frame',
      form: { kind: 'image', media: old.overlays[0]!.badge },
      at: { x: 118, y: 118 },
      rest: { size: 150 / 480 },
    });
    // Every route is there, in its place, and goes as far as it did.
    expect(show.routes.map((r) => r.id)).toEqual(old.routes.map((r) => r.id));
    const moved = (from: string, thing: string, parameter: string): number => {
      const i = old.routes.findIndex((r) => r.target.thing === 'frame' && r.target.parameter === from);
      expect(show.routes[i]!.target).toEqual({ thing, parameter });
      expect(show.routes[i]!.shaping).toEqual(old.routes[i]!.shaping);
      return (show.routes[i]!.reach as number) / old.routes[i]!.reach;
    };
    expect(moved('swell', edge!.id, 'swell')).toBe(1);
    expect(moved('spark', edge!.id, 'spark')).toBe(1);
    expect(moved('glow', edge!.id, 'glow')).toBeCloseTo(0.45, 9);
    expect(moved('badge', badge!.id, 'size')).toBeCloseTo(150 / 480, 9);
  });
  it('take a saved show of form 10 to today’s as it is, with an empty night', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-10.json'), 'utf8')) as Show;
    expect(old.overlays).toHaveLength(1);
    expect(parseShow(old)).toEqual({
      ...old,
      version: SHOW_VERSION,
      looks: [],
      cues: [],
      songs: [],
      home: null,
      darkOver: 0,
      freezeOver: 0,
      grips: [],
      phone: [],
    });
  });
  it('take a saved show of form 11 to today’s: its controllers on every page and told nothing, the usual phone', () => {
    const old = JSON.parse(readFileSync(path.join(__dirname, 'saved/show-11.json'), 'utf8')) as Show;
    expect(old.grips).toHaveLength(2);
    expect(parseShow(old)).toEqual({
      ...old,
      version: SHOW_VERSION,
      grips: old.grips.map((g) => ({ ...g, page: null, answers: false })),
      phone: [],
    });
  });
  it('each of them is exercised by a saved file', () => {
    const saved = readdirSync(path.join(__dirname, 'saved')).map(
      (f) =>
        (JSON.parse(readFileSync(path.join(__dirname, 'saved', f), 'utf8')) as { version: number }).version,
    );
    expect(UPGRADES.every((u) => saved.includes(u.from))).toBe(true);
  });
  const steps = [
    { from: 1, name: 'name the tempo', run: (d: Record<string, unknown>) => ({ ...d, tempo: d.speed }) },
    {
      from: 2,
      name: 'double it',
      run: (d: Record<string, unknown>) => ({ ...d, tempo: Number(d.tempo) * 2 }),
    },
  ];
  it('run in order, each once, up to today', () => {
    expect(upgrade({ format: 'batucada-show', version: 1, speed: 60 }, steps, 3)).toMatchObject({
      version: 3,
      tempo: 120,
    });
    expect(upgrade({ format: 'batucada-show', version: 2, tempo: 60 }, steps, 3)).toMatchObject({
      version: 3,
      tempo: 120,
    });
  });
  it('refuse a gap instead of guessing', () => {
    expect(() => upgrade({ format: 'batucada-show', version: 1 }, steps.slice(1), 3)).toThrow(UpgradeError);
  });
});

it('things keep their identity from edit to edit when nothing of them changed', () => {
  const next = apply(newHistory(ferry), 'x', commands.setRest({ thing: 'ferry', parameter: 'tilt' }, 3)).show;
  const at = (s: Show, id: string) => thingsOf(s).find((t) => t.id === id)!;
  expect(at(next, 'river')).toBe(at(ferry, 'river'));
  expect(at(next, 'ferry')).not.toBe(at(ferry, 'ferry'));
  expect(
    restOf(
      at(next, 'ferry'),
      at(next, 'ferry').parameters.find((p) => p.id === 'tilt')!,
    ),
  ).toBe(3);
});

describe('starting points', () => {
  it.each(STARTING_POINTS.map((p) => [p.name, p] as const))(
    '%s is a whole show still, twice over, and moves what it adds',
    (_, point) => {
      const once = point.make(ferry, 'deck'),
        twice = point.make(once.show, 'deck');
      for (const s of [once.show, twice.show])
        expect(() => parseShow(JSON.parse(JSON.stringify(s)))).not.toThrow();
      expect(once.show.routes.some((r) => r.id === once.route)).toBe(true);
      expect(once.show.ears.every((e) => e.input === 'deck' || ferry.ears.includes(e))).toBe(true);
      for (const r of once.show.routes) {
        expect(findSignal(once.show, r.signal)).not.toBeNull();
        expect(commands.isTargetAlive(once.show, r.target)).toBe(true);
      }
      expect(twice.show.routes.length - once.show.routes.length).toBe(
        once.show.routes.length - ferry.routes.length,
      );
    },
  );
});
