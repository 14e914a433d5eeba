import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { setRest } from '../show/commands';
import { apply, newHistory, type Command } from '../show/history';
import { newFigure } from '../show/pictureCommands';
import { thingsOf } from '../show/things';
import type { Show } from '../show/types';
import { ParameterStore } from './parameterStore';
import { SignalStore, type SignalPlace } from './signalStore';
import { SlotTable } from './slots';
import { Traces } from './traces';

const hash = 'a'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const edit = (show: Show, command: Command): Show => apply(newHistory(show), 'x', command).show;
const DT = 256 / 48000;

describe('places of names', () => {
  it('are given one after the other, kept, and not given at all when they do not fit', () => {
    const t = new SlotTable(6);
    expect([
      t.place('a'),
      t.place('colour', 3),
      t.place('a'),
      t.place('pair', 2),
      t.place('more', 1),
    ]).toEqual([0, 1, 0, 4, -1]);
    expect([t.used, t.get('colour'), t.get('more'), t.has('pair')]).toEqual([6, 1, undefined, true]);
  });
});

describe('what signals read', () => {
  const store = (): SignalStore => new SignalStore(4, 16, (rows) => Traces.make(rows));
  it('counts every event, keeps the strongest of the tick, and as many of them as fit, in their order', () => {
    const s = store();
    s.current = s.place('kick');
    for (let k = 0; k < 300; k++) s.event(k / 1000, k === 200 ? 0.9 : 0.5);
    expect([s.counts[s.current], s.strength[s.current]!.toFixed(2), s.eventCount, s.lostEvents]).toEqual([
      300,
      '0.90',
      256,
      44,
    ]);
    expect([s.eventTime[0], s.eventTime[255]]).toEqual([0, 0.255]);
  });
  it('moves into larger arrays with its values, counts and traces; what is no longer wanted stays behind', () => {
    const s = store(),
      names: SignalPlace[] = [
        ['tint', 3],
        ['low', 1],
      ];
    s.place('gone');
    const colour = s.place('tint', 3);
    s.values.set([0.1, 0.2, 0.3], colour);
    expect(s.hasRoom(names, [])).toBe(false);
    const row = s.traces;
    for (let c = 0; c < 700; c++) {
      row.advance(c);
      row.put(colour, c);
    }
    s.counts[colour] = 12;
    s.renew(names, [['row', 20]]);
    expect([s.find('gone'), s.hasRoom(names, [['row', 20]])]).toEqual([undefined, true]);
    const at = s.find('tint')!,
      column = new Float32Array(4);
    expect([...s.values.subarray(at, at + 3)].map((x) => x.toFixed(1))).toEqual(['0.1', '0.2', '0.3']);
    expect(s.counts[at]).toBe(12);
    expect(s.traces.read(at, column)).toBe(699);
    expect([...column]).toEqual([696, 697, 698, 699]);
    expect(Number.isNaN((s.traces.read(s.find('low')!, column), column[3]))).toBe(true);
    expect(s.vectors.length).toBeGreaterThanOrEqual(30);
  });
});

describe('what parameters read', () => {
  const made = (show: Show = ferry): ParameterStore => {
    const s = new ParameterStore(2048);
    expect(s.hasRoom(show)).toBe(true);
    s.set(show);
    return s;
  };
  const lampShow = ((): Show => {
    const lamp = ferry.fixtures[0]!;
    return edit(ferry, setRest({ thing: lamp.id, parameter: 'dimmer' }, 10));
  })();
  const dimmer = `${lampShow.fixtures[0]!.id}/dimmer`;
  const settled = (s: ParameterStore, live: number | null, ticks = 1): number => {
    const at = s.runs.get(dimmer)!.at;
    for (let k = 0; k < ticks; k++) {
      s.begin();
      if (live !== null) s.winning.live[at] = live;
      s.settle(DT);
    }
    return s.values[at]!;
  };

  it('is at rest where nothing moves it, and within its limits where something does', () => {
    const s = made(lampShow);
    expect([settled(s, null), settled(s, 55), settled(s, 4000), settled(s, -4000)]).toEqual([10, 55, 100, 0]);
  });
  it('is in the hand that holds it, and goes back in 0.8 s when it is let go', () => {
    const s = made(lampShow);
    s.setHand(dimmer, [80]);
    expect(settled(s, 20)).toBe(80);
    expect(s.hands()).toEqual({ [dimmer]: [80] });
    s.setHand(dimmer, null);
    const half = settled(s, 20, Math.round(0.4 / DT));
    expect(half).toBeGreaterThan(45);
    expect(half).toBeLessThan(55);
    expect(settled(s, 20, Math.round(0.45 / DT))).toBe(20);
    expect(s.hands()).toEqual({});
  });
  it('goes dark at once, also from the hand and under freeze, and comes back in a second', () => {
    const s = made(lampShow);
    s.setHand(dimmer, [80]);
    settled(s, 20);
    s.freeze = true;
    expect(settled(s, 20)).toBe(80);
    s.dark = true;
    expect(settled(s, 20)).toBe(0);
    s.dark = false;
    const half = settled(s, 20, Math.round(0.5 / DT));
    expect(half).toBeGreaterThan(38);
    expect(half).toBeLessThan(42);
    expect(settled(s, 20, Math.round(0.51 / DT))).toBe(80);
  });
  it('holds under freeze what was out, and leaves it within 0.6 s', () => {
    const s = made(lampShow);
    settled(s, 30);
    s.freeze = true;
    expect(settled(s, 90, 40)).toBe(30);
    const time = s.pictureTime;
    settled(s, 90, 40);
    expect(s.pictureTime).toBe(time);
    s.freeze = false;
    const half = settled(s, 90, Math.round(0.3 / DT));
    expect(half).toBeGreaterThan(57);
    expect(half).toBeLessThan(63);
    expect(settled(s, 90, Math.round(0.31 / DT))).toBe(90);
  });
  it('sums what a speed goes, and begins anew at its end', () => {
    const drifting = thingsOf(ferry)
        .flatMap((t) => t.parameters.map((p) => ({ key: `${t.id}/${p.id}`, p })))
        .find(({ p }) => p.kind === 'number' && p.wrap && !p.takesEvents)!,
      wrap = (drifting.p as { wrap: number }).wrap;
    const s = made(),
      run = s.runs.get(drifting.key)!;
    // At this pace it goes an eighth of its length in 100 ticks.
    const speed = Math.min((drifting.p as { max: number }).max, wrap / 800 / DT);
    for (let k = 1; k <= 1000; k++) {
      s.begin();
      s.winning.live[run.at] = speed;
      s.settle(DT);
      const way = (k * s.values[run.at]! * DT) % wrap,
        far = Math.abs(s.values[run.sumAt]! - way);
      expect(Math.min(far, wrap - far)).toBeLessThan(wrap * 1e-4);
    }
  });
  it('takes events one by one within their limits, and none while dark or frozen', () => {
    const show: Show = {
      ...ferry,
      figures: [
        ...ferry.figures,
        newFigure(
          'dust',
          'dust',
          { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 400 },
          { x: 0, y: 0 },
        ),
      ],
    };
    const taking = thingsOf(show)
      .flatMap((t) => t.parameters.map((p) => ({ key: `${t.id}/${p.id}`, p })))
      .find(({ p }) => p.kind === 'number' && p.takesEvents)!;
    const s = made(show),
      at = s.runs.get(taking.key)!.at,
      { max } = taking.p as { max: number };
    s.begin();
    s.arrive(at, 1, max / 2);
    s.arrive(at, 1.001, max * 9);
    s.settle(DT);
    expect([s.arrivalCount, s.arrivalValue[0], s.arrivalValue[1]]).toEqual([2, max / 2, max]);
    s.begin();
    s.dark = true;
    s.arrive(at, 2, max);
    s.settle(DT);
    expect(s.arrivalCount).toBe(0);
  });
  it('keeps what is held by hand through growth', () => {
    const s = made(lampShow);
    s.setHand(dimmer, [70]);
    s.renew(lampShow);
    s.set(lampShow);
    expect([settled(s, 20), s.hands()]).toEqual([70, { [dimmer]: [70] }]);
  });
});
