import { emptyShow } from '../../src/core/ferry';
import { Conductor, type HopSource } from '../../src/core/plan';
import { seeded } from '../../src/core/random';
import { findParameter, type Look, newFigure, type Show, thingsOf } from '../../src/core/show';
import { HOP, SAMPLE_RATE } from '../../src/core/units';
import { chanceNight } from './chanceNight';

type Report = (figure: string, value: number, unit: string, aim?: string) => void;

const LOOKS = 500,
  VALUES = 2000,
  HOP_MS = (HOP / SAMPLE_RATE) * 1000;

/** So many looks of so many values each, over a picture of as many figures as that needs. */
function night(): Show {
  const random = seeded(11);
  const bare: Show = {
    ...emptyShow('night', 'Night'),
    figures: Array.from({ length: VALUES / 2 }, (_, i) =>
      newFigure(`f${i}`, `F${i}`, { kind: 'ground' }, { x: 0, y: 0 }),
    ),
  };
  const keys = thingsOf(bare)
    .flatMap((t) => t.parameters.map((p) => `${t.id}/${p.id}`))
    .slice(0, VALUES);
  const value = (key: string): number | string => {
    const [thing, parameter] = key.split('/') as [string, string],
      end = findParameter(bare, { thing, parameter })!.parameter;
    return end.kind === 'colour'
      ? `#${Math.floor(random() * 0xffffff)
          .toString(16)
          .padStart(6, '0')}`
      : end.min + random() * (end.max - end.min);
  };
  const looks = Array.from({ length: LOOKS }, (_, i): Look => ({
    id: `look${i}`,
    name: `${i}`,
    values: Object.fromEntries(keys.map((k) => [k, value(k)])),
    routes: {},
    key: null,
  }));
  return { ...bare, looks };
}

/** How long the conductor is kept by taking a look, and by each tick while it comes in. */
export function recall(report: Report): void {
  const show = night(),
    conductor = new Conductor(256, 4096),
    taken: number[] = [],
    ticks: number[] = [];
  const silence: HopSource = {
    fill(_, hop) {
      hop.left.fill(0);
      hop.right.fill(0);
      return true;
    },
  };
  conductor.setShow(show);
  let k = 0;
  const timed = (list: number[], act: () => void): void => {
    const from = performance.now();
    act();
    list.push(performance.now() - from);
  };
  const values = Object.keys(show.looks[0]!.values).length;
  for (let i = 0; i < LOOKS; i++) {
    timed(taken, () =>
      conductor.perform({
        do: 'look',
        look: `look${i}`,
        fade: { unit: 'seconds', length: i % 2 ? 0 : 0.1, from: 'now' },
      }),
    );
    for (let n = 0; n < 24; n++) timed(ticks, () => conductor.tick(k++, silence));
  }
  const at = (list: number[], q: number): number =>
    list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(q * list.length))]!;
  report('looks that were taken', LOOKS, '', '500');
  report('values in each', values, '', '2000');
  report('taking one, median, of a hop', at(taken, 0.5) / HOP_MS, '', '≤ 1');
  report('and 99th percentile', at(taken, 0.99) / HOP_MS, '', '≤ 1');
  report('a tick while it comes in, median, of a hop', at(ticks, 0.5) / HOP_MS, '', '');
  report('and 99.9th percentile', at(ticks, 0.999) / HOP_MS, '', '≤ 1');
}

const STEPS = 10000;
/** A night by chance, played twice. */
export function twice(report: Report): void {
  const once = chanceNight(19, STEPS),
    again = chanceNight(19, STEPS);
  let differ = 0;
  for (let i = 0; i < STEPS; i++) if (once.sums[i] !== again.sums[i]) differ++;
  report('a night by chance: acts, edits and faults', once.acts + once.edits + once.faults, '', '10000');
  report('of these faults', once.faults, '', '');
  report('values that were no numbers', once.wrong, '', '0');
  report('steps that differ when it is played again', differ, '', '0');
}
