import type { Shaping } from './steps';

/** Shapes that ship with it: how a movement feels. */
export const OUR_SHAPES: readonly (readonly [string, Shaping])[] = [
  ['snappy', { clamp: { low: 0, high: 1 }, smooth: { attackMs: 2, releaseMs: 90 }, amount: 1 }],
  [
    'breathing',
    {
      clamp: { low: 0, high: 1 },
      curve: {
        points: [
          [0, 0],
          [0.25, 0.15625],
          [0.5, 0.5],
          [0.75, 0.84375],
          [1, 1],
        ],
      },
      smooth: { attackMs: 300, releaseMs: 900 },
      amount: 1,
    },
  ],
  ['steady hand', { clamp: { low: 0, high: 1 }, steady: { restMs: 500, quick: 1.5 }, amount: 1 }],
  [
    'lamp',
    { clamp: { low: 0, high: 1 }, hold: { ms: 60 }, smooth: { attackMs: 0, releaseMs: 280 }, amount: 1 },
  ],
  [
    'segments',
    {
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 10, releaseMs: 160 },
      steps: { by: 'count', count: 8 },
      amount: 1,
    },
  ],
  [
    'echo',
    { clamp: { low: 0, high: 1 }, smooth: { attackMs: 5, releaseMs: 200 }, delay: { ms: 250 }, amount: 0.6 },
  ],
];
