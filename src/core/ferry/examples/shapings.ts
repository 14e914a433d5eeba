import type { Route } from '../../show/types';

/** Fits of rows as a hand would have pressed them, from one lap of the crossing. */
export const SPECTRUM_FIT = {
  fit: { mode: 'hand', low: 0.0015, high: 0.05 },
  clamp: { low: 0, high: 1 },
  curve: {
    points: [
      [0, 0],
      [0.3, 0.5],
      [1, 1],
    ],
  },
  smooth: { attackMs: 6, releaseMs: 160 },
  amount: 1,
} as const satisfies Route['shaping'];
export const laid = (over: Partial<Route['shaping']> = {}): Partial<Route> => ({
  shaping: { ...SPECTRUM_FIT, ...over },
});
export const WAVE: Partial<Route> = {
  shaping: { fit: { mode: 'hand', low: 0, high: 0.3 }, clamp: { low: -1, high: 1 }, amount: 1 },
};
export const straight = (fallMs: number): Partial<Route> => ({
  shaping: { strike: { holdMs: 0, fallMs }, clamp: { low: 0, high: 1 }, amount: 1 },
});
