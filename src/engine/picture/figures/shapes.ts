import type { BufferGeometry } from 'three';
import type { CopyShape } from '../../../core/figures';
import { sheet } from '../cut';
import { box, disc, type Point } from '../outline';

/** Radius of a copy at rest, in picture pixels. */
export const COPY_RADIUS = 16;

function outlines(shape: CopyShape): Point[][] {
  const r = COPY_RADIUS;
  switch (shape) {
    case 'block':
      return [box(-r * 0.72, -r, r * 1.44, r * 2)];
    case 'disc':
      return [disc(0, 0, r, 22)];
    case 'triangle':
      return [
        [
          [0, r],
          [-r * Math.sin(Math.PI / 3), -r / 2],
          [r * Math.sin(Math.PI / 3), -r / 2],
        ],
      ];
    case 'star':
      return [
        Array.from({ length: 10 }, (_, i): Point => {
          const a = Math.PI / 2 + (i * Math.PI) / 5,
            k = i % 2 ? r * 0.42 : r;
          return [k * Math.cos(a), k * Math.sin(a)];
        }),
      ];
    case 'drop':
      return [
        [
          [0, r],
          [r * 0.34, r * 0.26],
          [r * 0.6, -r * 0.32],
          [r * 0.42, -r * 0.82],
          [0, -r],
          [-r * 0.42, -r * 0.82],
          [-r * 0.6, -r * 0.32],
          [-r * 0.34, r * 0.26],
        ],
      ];
    case 'lantern':
      return [
        box(-r * 0.12, r * 0.6, r * 0.24, r * 0.4),
        [
          [-r * 0.42, r * 0.6],
          [r * 0.42, r * 0.6],
          [r * 0.74, 0],
          [r * 0.42, -r * 0.6],
          [-r * 0.42, -r * 0.6],
          [-r * 0.74, 0],
        ],
        box(-r * 0.3, -r * 0.86, r * 0.6, r * 0.18),
      ];
    case 'bird':
      return [
        [
          [0, -r * 0.1],
          [r * 0.4, r * 0.36],
          [r, r * 0.42],
          [r * 0.5, r * 0.06],
          [r * 0.16, -r * 0.5],
          [0, -r * 0.34],
          [-r * 0.16, -r * 0.5],
          [-r * 0.5, r * 0.06],
          [-r, r * 0.42],
          [-r * 0.4, r * 0.36],
        ],
      ];
  }
}
/** A small cut shape about its middle, of which many are drawn. */
export function copyShape(shape: CopyShape): BufferGeometry {
  return sheet(outlines(shape), 17 + shape.length, 0.5);
}
