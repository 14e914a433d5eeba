import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import type { Listening } from '../ears/listening';
import { newMaking } from '../makers/making';
import { addEar, addMaker, newRoute } from './commands';
import { followSignal } from './followSignal';
import { apply, newHistory } from './history';
import { followOther } from './otherEar';
import { boundsOf, findSignal } from './signals';
import { findParameter } from './things';
import type { Ear, Route, Show } from './types';

const media = (n: number): string => String(n).repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: media(1), snareDrum: media(2), shaker: media(3), bell: media(4), voice: media(5) },
  badge: media(6),
  tune: media(7),
});
const target = { thing: 'ferry', parameter: 'height' };
const ear = (id: string, listening: Listening): Ear => ({
  id,
  name: id,
  input: 'deck',
  channel: 'sum',
  listening,
});
const level: Listening = { kind: 'level', reading: 'rms' };
const note: Listening = { kind: 'pitch', reading: 'note' };
const any: Listening = { kind: 'hit', what: 'any', low: 20, high: 20000, sensitivity: 0.5, holdOffMs: 36 };
/** The ferry with a few signals more. */
const show: Show = [
  addEar(ear('a', level)),
  addEar(ear('b', level)),
  addEar(ear('pitch', note)),
  addEar(ear('hit', any)),
  addMaker({ id: 'slide', name: 'slide', making: newMaking('slider', null) }),
].reduce((s: Show, command) => apply(newHistory(s), 'x', command).show, ferry);
const none = (): null => null;
const heard = (): { low: number; high: number } => ({ low: 0.2, high: 0.3 });

/** A route from one signal, shaped, that then follows another. */
function aimed(
  from: string,
  to: string,
  shaping: Partial<Route['shaping']>,
  learned = none as typeof heard | typeof none,
) {
  const at = findSignal(show, from)!,
    end = findParameter(show, target)!;
  const made = newRoute('r', at, target, end.parameter, null, boundsOf(show, at));
  const route = { ...made, shaping: { ...made.shaping, ...shaping } };
  const before = { ...show, routes: [...show.routes, route] };
  const { show: after } = apply(
    newHistory(before),
    'x',
    followSignal(before, ['r'], findSignal(before, to)!, learned),
  );
  return { route, after: after.routes.find((r) => r.id === 'r')! };
}

describe('a route that follows another signal', () => {
  it('keeps its shape, and a fit by hand where the signals are measured alike', () => {
    const fit = { mode: 'hand', low: 0.1, high: 0.4 } as const,
      curve = {
        points: [
          [0, 0],
          [0.5, 0.9],
          [1, 1],
        ] as const,
      };
    const { route, after } = aimed('a', 'b', { fit, curve, floor: { at: 0.02 }, amount: 0.7 });
    expect(after).toEqual({ ...route, signal: 'b' });
  });
  it('learns a learned fit anew; keeps it while nothing is heard', () => {
    const fit = { mode: 'heard', low: 0, high: 0.9 } as const;
    expect(aimed('a', 'b', { fit }, heard).after.shaping.fit).toEqual({ mode: 'heard', low: 0.2, high: 0.3 });
    expect(aimed('a', 'b', { fit }).after.shaping.fit).toEqual(fit);
  });
  it('lays aside a fit in another measure', () => {
    const fit = { mode: 'hand', low: 0.1, high: 0.4 } as const;
    expect(aimed('a', 'pitch', { fit }).after.shaping.fit).toEqual({ mode: 'hand', low: 48, high: 84 });
    // What lies between 0 and 1 by its nature needs none.
    expect(aimed('a', 'slide', { fit }).after.shaping).not.toHaveProperty('fit');
  });
  it('is struck by a hit, and fitted to what is always there', () => {
    const struck = aimed('a', 'hit', { amount: 0.5 }).after.shaping;
    expect(struck).toMatchObject({ strike: { holdMs: 0 }, amount: 0.5 });
    expect(struck).not.toHaveProperty('fit');
    const fitted = aimed('hit', 'a', { strike: { holdMs: 5, fallMs: 99 } }, heard).after.shaping;
    expect(fitted).not.toHaveProperty('strike');
    expect(fitted.fit).toEqual({ mode: 'heard', low: 0.2, high: 0.3 });
  });
});

describe('a thing that follows another ear', () => {
  const side = (channel: Ear['channel']) => (s: Show) => {
    const from = s.ears.find((e) => e.id === 'a')!;
    return apply(
      newHistory(s),
      'x',
      followOther(s, 'ferry', from, { channel }, (e) => `other ${e.channel}`),
    ).show;
  };
  const route = newRoute(
    'r',
    findSignal(show, 'a')!,
    target,
    findParameter(show, target)!.parameter,
    heard(),
  );
  const beside = { ...route, id: 'q', target: { thing: 'buoy', parameter: 'height' } };
  const before = { ...show, routes: [...show.routes, route, beside] };
  const signalOf = (s: Show, id: string): string => s.routes.find((r) => r.id === id)!.signal;
  it('gets one of its own that differs in just that; whatever else follows the first stays', () => {
    const after = side('right')(before);
    const made = after.ears.find((e) => e.id === signalOf(after, 'r'))!;
    expect(made).toEqual({
      ...before.ears.find((e) => e.id === 'a')!,
      id: made.id,
      name: 'other right',
      channel: 'right',
    });
    expect(signalOf(after, 'q')).toBe('a');
    // The fit stays: the two are there to be compared.
    expect(after.routes.find((r) => r.id === 'r')!.shaping).toEqual(route.shaping);
  });
  it('takes one that is there already', () => {
    const after = side('sum')({
      ...before,
      ears: before.ears.map((e) => (e.id === 'a' ? { ...e, channel: 'left' as const } : e)),
    });
    expect(after.ears.find((e) => e.id === signalOf(after, 'r'))).toMatchObject({
      channel: 'sum',
      listening: level,
    });
    expect(signalOf(after, 'r')).not.toBe('a');
    expect(after.ears).toHaveLength(before.ears.length);
  });
});
