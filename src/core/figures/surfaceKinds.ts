import { numberParameter as n, type ParameterDescription } from '../parameters/description';
import { ink, sized, moves, shown, stance, turned, type KindDescription } from './common';
import { TEXT_HEIGHT, type TextFace } from './drawnForms';
import type { EdgeForm } from './edge';

/** Figures that frame and letter a surface. */

export const LETTERS_ALIGNED = ['left', 'middle', 'right'] as const;
export interface LettersForm {
  readonly kind: 'letters';
  readonly text: string;
  /** A maker of timed text whose lines are its own; null: its text stands by itself. */
  readonly of: string | null;
  readonly face: TextFace;
  /** Lines longer than this are broken, in surface pixels; 0: none is. */
  readonly wide: number;
  readonly align: (typeof LETTERS_ALIGNED)[number];
  /** Thickness of the line around each letter, in surface pixels at its own size. */
  readonly outline: number;
}
export type SurfaceForm = EdgeForm | LettersForm;

/** Letters that one figure of letters draws at a time, and the longest text that it may have. */
export const LETTERS_MOST = 600;
export const LETTERS_TEXT_MOST = 20000;

/** Width of a border at rest, and how far its glow goes, in surface pixels. */
export const EDGE_THICK = 26;
export const EDGE_REACH = 36;

const side = (id: string, label: string): ParameterDescription =>
  n({
    id,
    label,
    help: `How far the ${label} swells more than the others, at most in its middle. A row lies from its middle to both ends.`,
    unit: 'px',
    min: -400,
    max: 400,
    step: 1,
    rest: 0,
    reach: 44,
    releaseMs: 220,
    takesRow: true,
  });

export const SURFACE_KINDS: Readonly<Record<SurfaceForm['kind'], KindDescription>> = {
  edge: {
    label: 'edge',
    parameters: [
      n({
        id: 'swell',
        label: 'swell',
        help: 'How far all sides swell, at most in their middles. A row lies from each middle to both ends.',
        unit: 'px',
        min: -400,
        max: 400,
        step: 1,
        rest: 0,
        reach: 44,
        releaseMs: 220,
        takesRow: true,
      }),
      side('top', 'top side'),
      side('right', 'right side'),
      side('bottom', 'bottom side'),
      side('left', 'left side'),
      n({
        id: 'thick',
        label: 'thick',
        help: 'How thick the border is.',
        unit: 'px',
        min: 0,
        max: 300,
        step: 1,
        rest: EDGE_THICK,
        reach: 44,
      }),
      n({
        id: 'glow',
        label: 'inner glow',
        help: 'Light along the moving edge, on its inner side.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 60,
        releaseMs: 260,
      }),
      n({
        id: 'glowOut',
        label: 'outer glow',
        help: 'Light along the moving edge, on its outer side.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 60,
        releaseMs: 260,
      }),
      n({
        id: 'reach',
        label: 'glow reach',
        help: 'How far its glow goes, at right angles to the edge.',
        unit: 'px',
        min: 1,
        max: 400,
        step: 1,
        rest: EDGE_REACH,
        reach: 90,
      }),
      n({
        id: 'spark',
        label: 'spark',
        help: 'How large a spark each hit leaves on the border. Takes hits, not levels.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        takesEvents: true,
      }),
      ...moves(24, 40),
      sized('Scales it about its middle.', 6, 1.06),
      turned('Turns it about its middle.'),
      shown(),
      ink('The colour of the border.', '#f2e9d4', '#f0b53c'),
      ink('The colour of the line that is cut into it.', '#14110f', '#e8572a', 'lineInk', 'line ink'),
    ],
  },
  letters: {
    label: 'letters',
    parameters: [
      ...stance(),
      n({
        id: 'rise',
        label: 'rise',
        help: 'Lifts each letter. A row gives each its own.',
        unit: 'px',
        min: -400,
        max: 400,
        step: 1,
        rest: 0,
        reach: 30,
        takesRow: true,
      }),
      n({
        id: 'tall',
        label: 'tall',
        help: 'Stretches each letter upward from its foot. A row gives each its own.',
        unit: '×',
        min: 0,
        max: 8,
        step: 0.01,
        rest: 1,
        reach: 1.7,
        takesRow: true,
      }),
      n({
        id: 'lean',
        label: 'letter turn',
        help: 'Turns each letter about its own foot. A row gives each its own.',
        unit: '°',
        min: -360,
        max: 360,
        step: 0.5,
        rest: 0,
        reach: 16,
        takesRow: true,
      }),
      n({
        id: 'tint',
        label: 'tint',
        help: 'How far each letter goes from the first ink to the last. A row gives each its own.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        takesRow: true,
      }),
      n({
        id: 'line',
        label: 'line',
        help: 'Which of its lines is shown; 0 shows them all.',
        unit: '',
        min: 0,
        max: 1000,
        step: 1,
        rest: 0,
        reach: 1,
        attackMs: 0,
        releaseMs: 0,
      }),
      n({
        id: 'typed',
        label: 'typed',
        help: 'How much of it has been written, letter by letter.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 100,
        reach: 0,
      }),
      ink('The first ink of the letters.', '#f2e9d4', '#f0b53c', 'ink', 'first ink'),
      ink('The last ink of the letters.', '#f0b53c', '#e8572a', 'top', 'last ink'),
      ink('The colour of the line around them.', '#14110f', '#14110f', 'around', 'outline ink'),
    ],
  },
};

/** Width and height at rest, in surface pixels; both stand on their middle. */
export function surfaceBox(form: SurfaceForm): {
  width: number;
  height: number;
  anchorX: number;
  anchorY: number;
} {
  const middle = { anchorX: 0.5, anchorY: 0.5 };
  if (form.kind === 'edge') return { width: form.width, height: form.height, ...middle };
  const lines = form.text.split('\n'),
    long = Math.max(60, Math.max(...lines.map((l) => l.length)) * TEXT_HEIGHT * 0.5),
    wide = form.wide > 0 ? Math.min(form.wide, long) : long,
    rows = lines.reduce((sum, l) => sum + Math.max(1, Math.ceil((l.length * TEXT_HEIGHT * 0.5) / wide)), 0);
  return { width: wide, height: TEXT_HEIGHT * rows, ...middle };
}
