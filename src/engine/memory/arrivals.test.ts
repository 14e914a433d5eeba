import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../../core/ferry';
import { newMaking } from '../../core/makers';
import { Conductor } from '../../core/plan';
import { type Ear, type Input, newInput, type Route } from '../../core/show';
import { HOP, SAMPLE_RATE } from '../../core/units';
import { EventReader, EventWriter, makeEventMemory } from './eventRing';

const ferry = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});

/** Time and velocity (1–127) of each: 10 ms apart. */
const HITS = Array.from({ length: 1000 }, (_, i): readonly [number, number] => [
  0.0101 + i * 0.01,
  1 + ((i * 37) % 127),
]);

/** A flip, a one-shot and a list, all of a keyboard's notes; each and the notes themselves to the overlay's sparks. */
function thousandHits(before: (c: Conductor) => void = () => undefined): {
  at: number;
  written: { k: number; arrivals: [number, number, number][] }[];
} {
  const input: Input = {
    ...newInput('keys', 'keys', false),
    kind: 'notes',
    from: { kind: 'midi', deviceId: '', deviceName: '' },
  };
  const ear: Ear = {
    id: 'pad',
    name: 'pad',
    input: 'keys',
    channel: 'sum',
    listening: { kind: 'notes', channels: [], tracks: [], reading: 'on' },
  };
  const makers = (['flip', 'oneShot', 'list'] as const).map((kind) => ({
    id: kind,
    name: kind,
    making: newMaking(kind, 'pad'),
  }));
  const route = (signal: string, amount: number): Route => ({
    ...ferry.routes[0]!,
    id: signal,
    signal,
    target: { thing: 'frame-edge', parameter: 'spark' },
    shaping: { amount },
    reach: 100,
  });
  const c = new Conductor(),
    written: { k: number; arrivals: [number, number, number][] }[] = [];
  c.setShow({
    ...ferry,
    inputs: [input],
    ears: [ear],
    makers,
    routes: [route('pad', 1), route('flip', 0.8), route('oneShot', 0.6), route('list', 0.4)],
  });
  before(c);
  let next = 0;
  for (let k = 0; k < 1900; k++) {
    const end = ((k + 1) * HOP) / SAMPLE_RATE;
    c.tick(k, {
      fill: () => false,
      notes: (_, into) => {
        for (; next < 1000 && HITS[next]![0] <= end; next++)
          into.take(0, 0, 60, HITS[next]![1], HITS[next]![0]);
      },
    });
    const { arrivals: a } = c;
    written.push({
      k,
      arrivals: Array.from({ length: a.arrivalCount }, (_, i): [number, number, number] => [
        a.arrivalAt[i]!,
        a.arrivalTime[i]!,
        a.arrivalValue[i]!,
      ]),
    });
  }
  return { at: c.map().parameters['frame-edge/spark']!, written };
}

describe('a thousand hits in ten seconds', () => {
  it('come each with its own strength and time, through flip, one-shot and list, to a reader that looks five times a second', () => {
    const { written, at } = thousandHits();
    const memory = makeEventMemory(),
      writer = new EventWriter(memory),
      reader = new EventReader(memory);
    const got: Record<number, [number, number][]> = {};
    for (const tick of written) {
      for (const [slot, time, value] of tick.arrivals) writer.write(slot, time, value);
      if (tick.k % 37 === 36)
        reader.drain((slot, time, value) => {
          (got[slot] ??= []).push([time, value]);
        });
    }
    reader.drain((slot, time, value) => {
      (got[slot] ??= []).push([time, value]);
    });
    expect(reader.overruns).toBe(0);
    // Four routes at 100, 80, 60 and 40 % of the spark's 0 to 100 %, each in the order of the show within a tick.
    const all = got[at]!;
    expect(all).toHaveLength(4000);
    for (const [time, velocity] of HITS) {
      const mine = all
        .filter(([t]) => t === time)
        .map(([, value]) => value)
        .sort((x, y) => y - x);
      expect(mine.map((v) => v.toFixed(3))).toEqual(
        [1, 0.8, 0.6, 0.4].map((share) => ((100 * share * velocity) / 127).toFixed(3)),
      );
    }
  });
  it('do nothing in the dark, nor while all is held', () => {
    expect(
      thousandHits((c) => {
        c.dark = true;
      }).written.flatMap((t) => t.arrivals),
    ).toHaveLength(0);
    expect(
      thousandHits((c) => {
        c.freeze = true;
      }).written.flatMap((t) => t.arrivals),
    ).toHaveLength(0);
  });
});
