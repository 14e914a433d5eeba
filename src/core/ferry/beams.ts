import type { LaserFigure } from '../show/types';

/** Two wings, each an arc, about its middle. */
const GULL: readonly number[] = [-0.5, 0.5].flatMap((middle) =>
  Array.from({ length: 9 }, (_, i) => {
    const a = Math.PI * (1 - i / 8);
    return [middle + 0.5 * Math.cos(a), 0.42 * Math.sin(a) - 0.2];
  })
    .slice(middle > 0 ? 1 : 0)
    .flat()
    .map((x) => Math.round(x * 1000) / 1000),
);

/** What the small laser draws on the raised awning: gulls, the river's line and the ferry's name. */
export const FERRY_BEAMS: readonly LaserFigure[] = [
  {
    id: 'beam-river',
    name: 'River line',
    form: { kind: 'wave', points: 48 },
    off: false,
    rest: { size: 88, height: -22, colour: '#f2e9d4', far: '#9ad9c4' },
    twin: null,
  },
  {
    id: 'beam-gulls',
    name: 'Gulls',
    form: { kind: 'drawing', strokes: [GULL], fileName: 'gull.svg' },
    off: false,
    rest: { size: 13, height: 22, copies: 3, apart: 56 },
    twin: null,
  },
  {
    id: 'beam-name',
    name: 'Ferry’s name',
    form: { kind: 'text', text: 'NIGHT FERRY' },
    off: false,
    rest: { size: 56, height: 66, colour: '#f0b53c', far: '#f0b53c' },
    twin: null,
  },
];
