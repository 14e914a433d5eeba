import { onSurface } from '../show/surfaces';
import { WHOLE_PICTURE } from '../show/types';
import { describe, expect, it } from '@jest/globals';
import { EXAMPLES } from '../ferry/examples';
import { buoyModel } from '../ferry/buoy';
import { bareStage, ferryShow, newShow } from '../ferry/show';
import { FINISH_KINDS, finishParameters } from '../finishes/kinds';
import { acceptsValue } from '../parameters/description';
import { newInput } from '../show/inputs';
import { apply, newHistory, undo } from '../show/history';
import {
  addFinish,
  changeFinish,
  groupFigures,
  joinGroup,
  orderFigure,
  orderFinish,
  shiftFigure,
  together,
} from '../show/pictureCommands';
import { removeThing } from '../show/commands';
import { parseShow, ShowError } from '../show/schema';
import {
  FLAT_CORNERS,
  invertMap,
  isShowable,
  newScreen,
  screenMap,
  squareToQuad,
  type Screen,
} from '../screens/screen';
import { thingsOf } from '../show/things';
import type { Show } from '../show/types';
import { Governor, USUAL_BUDGET } from './governor';
import { figureBox, figureParameters, PICTURE_HEIGHT, PICTURE_WIDTH } from './kinds';
import { boundsOf, snap } from './snap';

const hash = 'a'.repeat(64);
const media = {
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
  buoy: hash,
  film: hash,
};
const ferry = ferryShow(media);
const order = (s: Show): string[] => onSurface(s, WHOLE_PICTURE).figures.map((f) => f.id);
const run = (s: Show, ...commands: Parameters<typeof apply>[2][]): Show =>
  commands.reduce((h, c) => apply(h, '', c), newHistory(s)).show;

describe('shows of pictures', () => {
  it('every example is a whole show, and between them and the ferry they use every kind of figure and finish', () => {
    const shows = [ferry, ...EXAMPLES.map((e) => e.make(media))];
    for (const s of shows) expect(parseShow(JSON.parse(JSON.stringify(s)))).toEqual(s);
    const figures = new Set(shows.flatMap((s) => s.figures.map((f) => f.form.kind))),
      finishes = new Set(shows.flatMap((s) => s.finishes.map((f) => f.form.kind)));
    for (const kind of [
      'ground',
      'print',
      'waves',
      'lanterns',
      'stars',
      'dial',
      'meter',
      'solid',
      'model',
      'copies',
      'light',
      'emitter',
      'trace',
      'bars',
      'waveform',
      'spectrogram',
      'image',
      'video',
      'camera',
      'texture',
      'text',
      'switch',
    ] as const)
      expect(figures).toContain(kind);
    for (const kind of FINISH_KINDS) expect(finishes).toContain(kind);
  });
  it('every parameter of every thing accepts its own rest and reach, and no two of a thing share an id', () => {
    for (const e of EXAMPLES)
      for (const t of thingsOf(e.make(media))) {
        expect(new Set(t.parameters.map((p) => p.id)).size).toBe(t.parameters.length);
        for (const p of t.parameters)
          expect([t.id, p.id, acceptsValue(p, p.rest), acceptsValue(p, p.reach)]).toEqual([
            t.id,
            p.id,
            true,
            true,
          ]);
      }
    for (const kind of FINISH_KINDS) expect(finishParameters(kind).length).toBeGreaterThan(0);
  });
  it('refuses what cannot be drawn, in words', () => {
    const broken =
      (
        change: (s: {
          figures: { form: object; blend: string }[];
          screens: object[];
          flashLimit: number | null;
        }) => void,
      ): (() => Show) =>
      () => {
        const s = JSON.parse(JSON.stringify(ferry)) as never;
        change(s);
        return parseShow(s);
      };
    expect(
      broken((s) => {
        s.figures[0]!.form = {
          kind: 'copies',
          shape: 'block',
          count: 2001,
          along: 'line',
          of: null,
          fromMiddle: false,
        };
      }),
    ).toThrow(ShowError);
    expect(
      broken((s) => {
        s.figures[0]!.blend = 'glaze';
      }),
    ).toThrow('blend');
    expect(
      broken((s) => {
        s.flashLimit = 0.5;
      }),
    ).toThrow('flashLimit');
    expect(
      broken((s) => {
        s.screens = [{ ...newScreen('a', 'A'), turn: 45 }];
      }),
    ).toThrow('turn');
  });
  it('the model is a glTF binary whose lengths agree', () => {
    const bytes = buoyModel(),
      view = new DataView(bytes.buffer),
      text = view.getUint32(12, true);
    expect([view.getUint32(0, true), view.getUint32(4, true), view.getUint32(8, true)]).toEqual([
      0x46546c67,
      2,
      bytes.length,
    ]);
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + text))) as {
      buffers: { byteLength: number }[];
      bufferViews: { byteOffset: number; byteLength: number }[];
    };
    expect(view.getUint32(20 + text, true)).toBe(json.buffers[0]!.byteLength);
    for (const v of json.bufferViews)
      expect(v.byteOffset + v.byteLength).toBeLessThanOrEqual(json.buffers[0]!.byteLength);
  });
});

describe('groups and finishes', () => {
  it('figures of a group stand together where the frontmost of them was, and an undo brings all back', () => {
    const made = groupFigures(ferry, ['stars', 'ferry']),
      h = apply(newHistory(ferry), '', made.command);
    expect(order(h.show)).toEqual([
      'night',
      'moon',
      'gulls',
      'hills',
      'smoke',
      'stars',
      'ferry',
      'lanterns',
      'spray',
      'glimmer',
      'river',
    ]);
    expect(h.show.figureGroups).toHaveLength(ferry.figureGroups.length + 1);
    expect(undo(h).show).toEqual(ferry);
  });
  it('a group is passed whole, and its members change places among themselves', () => {
    const made = groupFigures(ferry, ['stars', 'moon']),
      grouped = run(ferry, made.command);
    expect(order(run(grouped, shiftFigure('gulls', -1))).slice(0, 4)).toEqual([
      'night',
      'gulls',
      'stars',
      'moon',
    ]);
    expect(order(run(grouped, shiftFigure('stars', 1))).slice(0, 4)).toEqual([
      'night',
      'moon',
      'stars',
      'gulls',
    ]);
    expect(order(run(grouped, shiftFigure('night', -1)))).toEqual(order(grouped));
  });
  it('dropped into a group a figure joins it; dropped elsewhere it leaves; an empty group is gone', () => {
    const grouped = run(ferry, groupFigures(ferry, ['stars', 'moon', 'gulls']).command),
      group = grouped.figureGroups.at(-1)!.id;
    const joined = run(grouped, orderFigure('river', 'moon'));
    expect(joined.figures.find((f) => f.id === 'river')!.group).toBe(group);
    const left = run(grouped, orderFigure('stars', 'lanterns'));
    expect(left.figures.find((f) => f.id === 'stars')!.group).toBeNull();
    expect(run(grouped, joinGroup(['stars', 'moon', 'gulls'], null)).figureGroups).toEqual(
      ferry.figureGroups,
    );
    expect(together(joined.figures)).toEqual(joined.figures);
  });
  it('finishes are ordered within their thing, and go with it', () => {
    const a = addFinish(ferry, 'ferry', 'glow'),
      one = run(ferry, a.command),
      b = addFinish(one, 'ferry', 'blur'),
      two = run(one, b.command);
    expect(two.finishes.filter((f) => f.on === 'ferry').map((f) => f.id)).toEqual([a.finish, b.finish]);
    expect(
      run(two, orderFinish(b.finish, a.finish))
        .finishes.filter((f) => f.on === 'ferry')
        .map((f) => f.id),
    ).toEqual([b.finish, a.finish]);
    expect(run(two, changeFinish(a.finish, { off: true })).finishes.find((f) => f.id === a.finish)!.off).toBe(
      true,
    );
    expect(run(two, removeThing('ferry')).finishes.some((f) => f.on === 'ferry')).toBe(false);
  });
  it('a new show begins with no finishes, one screen, and flashes held back', () => {
    const s = newShow('n', 'N', { ...newInput('i', 'I', false), kind: 'tab' });
    expect([s.finishes, s.screens.length, s.flashLimit, s.budget]).toEqual([
      [],
      1,
      bareStage().flashLimit,
      USUAL_BUDGET,
    ]);
  });
});

describe('handling', () => {
  it('a box is drawn to the middle, to edges and to others, the nearest first', () => {
    const box = { x: 600, y: 300, w: 100, h: 100 };
    expect(snap({ ...box, x: 587 }, [])).toEqual({ dx: 3, dy: 0, lineX: PICTURE_WIDTH / 2, lineY: null });
    expect(snap({ ...box, x: 5, y: PICTURE_HEIGHT - 106 }, [])).toMatchObject({
      dx: -5,
      dy: 6,
      lineX: 0,
      lineY: PICTURE_HEIGHT,
    });
    expect(snap({ ...box, x: 203 }, [{ x: 100, y: 500, w: 100, h: 20 }])).toMatchObject({
      dx: -3,
      lineX: 200,
    });
    expect(snap({ ...box, x: 220, y: 200 }, [])).toEqual({ dx: 0, dy: 0, lineX: null, lineY: null });
  });
  it('bounds follow the size about the anchor, for every kind of figure', () => {
    for (const f of ferry.figures) {
      const b = figureBox(f.form),
        at = boundsOf(f, (p, otherwise) => (p === 'size' ? 2 : otherwise));
      expect(at.w).toBe(2 * b.width);
      expect(at.x + at.w * b.anchorX).toBeCloseTo(f.at.x, 9);
      expect(at.y + at.h * b.anchorY).toBeCloseTo(f.at.y, 9);
      expect(figureParameters(f.form.kind).length).toBeGreaterThan(0);
    }
    const bars = boundsOf(
      { form: { kind: 'bars', count: 4, bothWays: false }, at: { x: 100, y: 50 } },
      (p, otherwise) => ({ length: 200, tall: 80 })[p] ?? otherwise,
    );
    expect(bars).toEqual({ x: 0, y: 50, w: 200, h: 80 });
  });
});

describe('screens', () => {
  const through = (m: readonly number[], x: number, y: number): [number, number] => {
    const w = m[6]! * x + m[7]! * y + m[8]!;
    return [(m[0]! * x + m[1]! * y + m[2]!) / w, (m[3]! * x + m[4]! * y + m[5]!) / w];
  };
  it('the map of the unit square meets all four corners, and its inverse leads back', () => {
    const corners: Screen['corners'] = [
        [0.1, 0.05],
        [0.92, 0.2],
        [0.85, 0.8],
        [0.02, 0.97],
      ],
      m = squareToQuad(corners)!,
      back = invertMap(m)!;
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ].forEach(([x, y], i) => {
      const [a, b] = through(m, x!, y!);
      expect(a).toBeCloseTo(corners[i]![0], 9);
      expect(b).toBeCloseTo(corners[i]![1], 9);
    });
    const [a, b] = through(back, ...through(m, 0.37, 0.61));
    expect(a).toBeCloseTo(0.37, 9);
    expect(b).toBeCloseTo(0.61, 9);
  });
  it('a plain screen needs no map; a crop stretches; a turn by half turns about the middle', () => {
    expect(screenMap(newScreen('a', 'A'))).toBeNull();
    const half = screenMap({ ...newScreen('a', 'A'), crop: { left: 0.5, bottom: 0, right: 1, top: 1 } })!;
    expect(through(half, 0, 0)).toEqual([0.5, 0]);
    expect(through(half, 1, 1)).toEqual([1, 1]);
    expect(
      through(screenMap({ ...newScreen('a', 'A'), turn: 180 })!, 0.2, 0.3).map((x) => Number(x.toFixed(9))),
    ).toEqual([0.8, 0.7]);
    // A quarter anticlockwise: what is at the screen's left edge is the picture's upper edge.
    expect(
      through(screenMap({ ...newScreen('a', 'A'), turn: 90 })!, 0, 0.25).map((x) => Number(x.toFixed(9))),
    ).toEqual([0.25, 1]);
  });
  it('corners that cross, or lie on one line, cannot be shown', () => {
    expect(isShowable(FLAT_CORNERS)).toBe(true);
    expect(
      isShowable([
        [0, 0],
        [1, 1],
        [1, 0],
        [0, 1],
      ]),
    ).toBe(false);
    expect(
      isShowable([
        [0, 0],
        [0.5, 0],
        [1, 0],
        [0, 1],
      ]),
    ).toBe(false);
  });
});

describe('the budget', () => {
  const slowly = (g: Governor, busy: number, seconds: number): void => {
    for (let t = 0; t < seconds; t += 0.05) g.step(busy, 0.05);
  };
  it('saves in its order, each to its least, and gives back last first once there has been room', () => {
    const g = new Governor({
      ...USUAL_BUDGET,
      order: ['counts', 'edges', 'resolution'],
      leastCounts: 0.5,
      leastResolution: 0.8,
    });
    slowly(g, 0.05, 0.7);
    expect(g.quality).toEqual({ edges: true, resolution: 1, counts: 0.85 });
    slowly(g, 0.05, 30);
    expect(g.quality).toEqual({ edges: false, resolution: 0.8, counts: 0.5 });
    slowly(g, 0.005, 65);
    expect(g.quality.resolution).toBeGreaterThan(0.8);
    expect(g.quality.counts).toBe(0.5);
    slowly(g, 0.005, 900);
    expect(g.quality).toEqual({ edges: true, resolution: 1, counts: 1 });
  });
  it('leaves everything where frames are in time, or where it is off', () => {
    const g = new Governor(USUAL_BUDGET),
      off = new Governor({ ...USUAL_BUDGET, on: false });
    slowly(g, 1 / 35, 30);
    slowly(off, 1, 30);
    for (const x of [g, off]) expect(x.quality).toEqual({ edges: true, resolution: 1, counts: 1 });
  });
  it('far too slow it is right after two pictures, not step by step: what is left is what fits', () => {
    const g = new Governor({ ...USUAL_BUDGET, leastResolution: 0.1 });
    // A processor that draws: a picture costs what its pixels cost, twice that with smooth edges.
    const cost = (): number => 0.8 * (g.quality.edges ? 1 : 0.5) * g.quality.resolution ** 2;
    let pictures = 0,
      seconds = 0;
    for (; cost() > 1 / 30 && pictures < 50; pictures++) {
      seconds += cost();
      g.step(cost(), cost());
    }
    expect(pictures).toBeLessThanOrEqual(3);
    expect(seconds).toBeLessThan(2);
    expect(g.quality.resolution).toBeGreaterThan(0.2);
  });
  it('begins where a picture of its size was before, within what the budget allows', () => {
    const g = new Governor(USUAL_BUDGET);
    g.begin({ edges: false, resolution: 0.2, counts: 0.9 });
    expect(g.quality).toEqual({ edges: false, resolution: 0.5, counts: 0.9 });
    const off = new Governor({ ...USUAL_BUDGET, on: false });
    off.begin({ edges: false, resolution: 0.2, counts: 0.1 });
    expect(off.quality).toEqual({ edges: true, resolution: 1, counts: 1 });
  });
  it('one slow frame changes nothing', () => {
    const g = new Governor(USUAL_BUDGET);
    for (let i = 0; i < 200; i++) g.step(i % 20 === 0 ? 0.2 : 0.01, 0.03);
    expect(g.quality.resolution).toBe(1);
    expect(g.quality.edges).toBe(true);
  });
});
