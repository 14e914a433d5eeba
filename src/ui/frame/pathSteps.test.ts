import { describe, expect, it } from '@jest/globals';
import { STEPS, type Standing, type Start } from './pathSteps';

const route = (id: string, amount = 1): Start['routes'][number] => ({ id, shaping: { amount } });
const WAS: Start = { ears: [{ id: 'e' }], routes: [route('r')] };
const still: Standing = { ...WAS, hands: 0, dark: false, acts: [] };
/** What does each step, in their order, and what comes near to it. */
const DONE: readonly (readonly [does: Partial<Standing>, not: Partial<Standing>])[] = [
  [{ ears: [{ id: 'e' }, { id: 'f' }] }, { ears: [] }],
  [{ routes: [route('r'), route('s')] }, { routes: [route('r', 0.5)] }],
  [{ routes: [route('r', 0.5)] }, { routes: [route('r'), route('s')] }],
  [{ hands: 1 }, { acts: [{ do: 'hand', key: 'k', value: null }] }],
  [
    { acts: [{ do: 'dark', on: true }, { do: 'dark', on: false }] }, // prettier-ignore
    { dark: true, acts: [{ do: 'dark', on: true }] },
  ],
  [{ acts: [{ do: 'go' }] }, { acts: [{ do: 'rehearse', look: 'l' }] }],
];

describe('the first path', () => {
  it('has six steps, none of which is done before it is', () => {
    expect(STEPS.map((s) => s.done(WAS, still))).toEqual([false, false, false, false, false, false]);
  });
  it.each(STEPS.map((s, i) => [s.title, i] as const))(
    '“%s” is done by doing it, and by nothing else',
    (_, i) => {
      const [does, not] = DONE[i]!;
      expect(STEPS[i]!.done(WAS, { ...still, ...does })).toBe(true);
      expect(STEPS[i]!.done(WAS, { ...still, ...not })).toBe(false);
    },
  );
});
