import type { PrintForm } from '../../../core/figures';
import { seeded } from '../../../core/random';
import { box, disc, type Point } from '../outline';

/** Ink of a layer: `main` follows the figure's ink, `lit` its glow; the others are the press's own. */
export type LayerInk = 'main' | 'lit' | 'paper' | 'night' | 'black' | 'maize' | 'shade' | 'wood' | 'bark';
export interface Layer {
  readonly ink: LayerInk;
  readonly outlines: readonly (readonly Point[])[];
  readonly holes?: readonly (readonly Point[])[];
  readonly stray?: number;
}

/** Outlines of the printed shapes, back to front, about their anchor, y up, in picture pixels. */
export function layersOf(form: PrintForm): Layer[] {
  switch (form) {
    case 'ferry':
      return ferry();
    case 'hills':
      return hills();
    case 'moon':
      return moon();
    case 'sail':
      return sail(0, 0);
    case 'block':
      return [{ ink: 'main', outlines: [box(-60, 0, 120, 120)] }];
    case 'triangle':
      // As wide as a block; its three sides are equal.
      return [
        {
          ink: 'main',
          outlines: [
            [
              [-60, 0],
              [60, 0],
              [0, 60 * Math.sqrt(3)],
            ],
          ],
        },
      ];
  }
}

function sail(x: number, y: number): Layer[] {
  return [
    {
      ink: 'wood',
      outlines: [
        [
          [x, y + 12],
          [x + 8, y + 190],
          [x + 70, y + 120],
          [x + 196, y + 16],
          [x + 110, y + 4],
        ],
      ],
    },
    {
      ink: 'bark',
      outlines: [
        [
          [x + 14, y + 150],
          [x + 46, y + 144],
          [x + 47, y + 147],
          [x + 14, y + 154],
        ],
        [
          [x + 12, y + 112],
          [x + 84, y + 104],
          [x + 84, y + 107],
          [x + 12, y + 116],
        ],
        [
          [x + 12, y + 76],
          [x + 116, y + 70],
          [x + 116, y + 73],
          [x + 12, y + 80],
        ],
        [
          [x + 12, y + 42],
          [x + 150, y + 36],
          [x + 150, y + 39],
          [x + 12, y + 46],
        ],
      ],
      stray: 0.6,
    },
  ];
}

function ferry(): Layer[] {
  const windows = Array.from({ length: 9 }, (_, i) => box(-234 + i * 52, 138, 32, 42));
  const drummer = (x: number): { body: Point[][]; drum: Point[] } => ({
    body: [disc(x, 244, 8, 12), box(x - 10, 204, 20, 32), box(x + 4, 222, 22, 6)],
    drum: disc(x + 22, 212, 13, 14, 0.72),
  });
  const band = [-190, -96, -20, 74, 164].map(drummer);
  return [
    { ink: 'paper', outlines: [box(-124, 262, 8, 168)], stray: 0.8 },
    ...sail(-112, 272),
    {
      ink: 'main',
      outlines: [
        [
          [148, 262],
          [210, 262],
          [202, 352],
          [158, 352],
        ],
      ],
    },
    {
      ink: 'paper',
      outlines: [
        [
          [154, 300],
          [206, 300],
          [204, 322],
          [156, 322],
        ],
        [
          [154, 350],
          [206, 350],
          [206, 360],
          [154, 360],
        ],
      ],
    },
    { ink: 'black', outlines: [box(-232, 194, 464, 62)] },
    { ink: 'paper', outlines: band.flatMap((d) => d.body), stray: 0.7 },
    { ink: 'maize', outlines: band.filter((_, i) => i % 2 === 0).map((d) => d.drum), stray: 0.7 },
    { ink: 'main', outlines: band.filter((_, i) => i % 2 === 1).map((d) => d.drum), stray: 0.7 },
    {
      ink: 'paper',
      outlines: [
        [
          [-252, 252],
          [252, 254],
          [252, 266],
          [-252, 264],
        ],
        box(-256, 118, 512, 78),
      ],
    },
    { ink: 'night', outlines: windows.filter((_, i) => i % 2 === 1) },
    { ink: 'lit', outlines: windows.filter((_, i) => i % 2 === 0) },
    {
      ink: 'main',
      outlines: [
        [
          [-322, 104],
          [322, 104],
          [292, 12],
          [-280, 12],
        ],
      ],
    },
    {
      ink: 'black',
      outlines: [
        [
          [-292, 40],
          [301, 40],
          [292, 8],
          [-280, 8],
        ],
      ],
    },
    {
      ink: 'paper',
      outlines: [
        [
          [-344, 122],
          [-300, 116],
          [300, 116],
          [346, 124],
          [330, 98],
          [-328, 98],
        ],
      ],
    },
  ];
}

function hills(): Layer[] {
  const ridge: Point[] = [
    [-930, 0],
    [-930, 70],
    [-860, 104],
    [-770, 76],
    [-700, 96],
    [-650, 66],
    [-590, 92],
    [-545, 70],
    [-470, 128],
    [-400, 176],
    [-352, 128],
    [-300, 96],
    [-236, 118],
    [-160, 84],
    [-70, 100],
    [20, 70],
    [120, 104],
    [196, 80],
    [300, 130],
    [372, 164],
    [438, 118],
    [500, 92],
    [560, 120],
    [650, 78],
    [720, 108],
    [800, 84],
    [880, 110],
    [930, 72],
    [930, 0],
  ];
  const random = seeded(31);
  const strokes: Point[][] = [];
  for (let x = -925; x < 925; x += 15) {
    const top = heightAt(ridge, x) - 16 - 26 * random();
    const foot = 4 + 20 * random();
    if (top > foot + 14)
      strokes.push([
        [x, top],
        [x + 2.4, top - 2],
        [x + 7, foot],
        [x + 4.5, foot],
      ]);
  }
  return [
    { ink: 'main', outlines: [ridge] },
    { ink: 'shade', outlines: strokes, stray: 0.8 },
  ];
}

function heightAt(ridge: readonly Point[], x: number): number {
  for (let i = 1; i < ridge.length; i++) {
    const [ax, ay] = ridge[i - 1]!,
      [bx, by] = ridge[i]!;
    if (x >= ax && x <= bx && bx > ax) return ay + ((by - ay) * (x - ax)) / (bx - ax);
  }
  return 0;
}

function moon(): Layer[] {
  const random = seeded(8);
  const rays = Array.from({ length: 30 }, (_, i): Point[] => {
    const a = (i / 30) * 2 * Math.PI + (random() - 0.5) * 0.05;
    const length = (i % 2 ? 116 : 132) - 8 * random();
    const w = 0.045;
    return [
      [88 * Math.cos(a - w), 88 * Math.sin(a - w)],
      [length * Math.cos(a), length * Math.sin(a)],
      [88 * Math.cos(a + w), 88 * Math.sin(a + w)],
    ];
  });
  const arc = (cx: number, cy: number, r: number, from: number, to: number, width: number): Point[] => {
    const n = 9;
    const at = (k: number, rr: number): Point => {
      const a = from + ((to - from) * k) / n;
      return [cx + rr * Math.cos(a), cy + rr * Math.sin(a)];
    };
    return [
      ...Array.from({ length: n + 1 }, (_, k) => at(k, r)),
      ...Array.from({ length: n + 1 }, (_, k) =>
        at(n - k, r - width * Math.sin((Math.PI * (n - k)) / n) - 0.6),
      ),
    ];
  };
  return [
    { ink: 'lit', outlines: rays, stray: 0.6 },
    { ink: 'main', outlines: [disc(0, 0, 82, 30)] },
    {
      ink: 'night',
      outlines: [arc(-26, 2, 22, 0.5, 2.5, 6), arc(34, 2, 20, 0.7, 2.6, 6), arc(6, -12, 34, 3.6, 5.6, 7)],
      stray: 0.5,
    },
  ];
}
