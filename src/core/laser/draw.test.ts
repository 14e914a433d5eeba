import { describe, expect, it } from '@jest/globals';
import { toLinear } from '../parameters/colour';
import { acceptsValue } from '../parameters/description';
import { addFigure, type FigureRows, NO_ROWS, pathsOfForm } from './draw';
import { FieldMap, WHOLE_FIELD } from './field';
import { Do, LASER_LABELS, LASER_ROWS, LASER_VALUES, type LaserForm, laserParameters } from './kinds';
import { LaserPaths } from './paths';
import { POINT } from './points';
import { DrawingError, readDrawing } from './svg';

/** A figure at rest, with some of its values other ones. */
function values(change: Partial<Record<keyof typeof LASER_VALUES, number>> = {}): Float64Array {
  const v = new Float64Array(Do.Length);
  for (const p of laserParameters()) {
    const [at, by] = LASER_VALUES[p.id]!;
    if (p.kind === 'colour') toLinear(String(p.rest), v, at);
    else v[at] = (change[p.id] ?? Number(p.rest)) / by;
  }
  v[Do.Mirror] = 1;
  return v;
}
function drawn(form: LaserForm, v: Float64Array, rows: Partial<FigureRows> = {}): LaserPaths {
  const out = new LaserPaths();
  addFigure(out, pathsOfForm(form), v, { ...NO_ROWS, ...rows });
  return out;
}
const at = (paths: LaserPaths, i: number): [number, number] => [
  paths.corners[i * POINT]!,
  paths.corners[i * POINT + 1]!,
];

describe('a figure of a laser', () => {
  it('has parameters that accept what they rest at, each with a place of its own', () => {
    const places = laserParameters().map((p) => LASER_VALUES[p.id]![0]);
    expect(new Set(places).size).toBe(places.length);
    for (const p of laserParameters()) expect([p.id, acceptsValue(p, p.rest)]).toEqual([p.id, true]);
    expect(
      LASER_ROWS.every((id) =>
        laserParameters().some((p) => p.id === id && p.kind === 'number' && p.takesRow),
      ),
    ).toBe(true);
  });
  it('stands where it is put, as large as it is told', () => {
    const ring = drawn({ kind: 'ring' }, values({ size: 50, across: 20, height: -10, rise: 0 }));
    for (let i = 0; i < ring.starts[1]!; i++) {
      const [x, y] = at(ring, i);
      expect(Math.hypot(x - 0.2, y + 0.1)).toBeCloseTo(0.5, 5);
    }
  });
  it('turns; leans back into a smaller half; swings round to a line from the side', () => {
    const beam: LaserForm = { kind: 'wave', points: 2 };
    const turned = drawn(beam, values({ size: 100, height: 0, turn: 90 }));
    expect(at(turned, 0)[1]).toBeCloseTo(-1, 5);
    expect(at(turned, 1)[1]).toBeCloseTo(1, 5);
    const square: LaserForm = { kind: 'polygon', corners: 4, star: false };
    const leant = drawn(square, values({ size: 50, height: 0, lean: 60 }));
    const high = Math.max(...Array.from({ length: 5 }, (_, i) => at(leant, i)[1]));
    // Its top is cos 60° as high, and as far behind as sin 60°: seen from 3 away, 0.25 · 3 / (3 + 0.866 · 0.5).
    expect(high).toBeCloseTo((0.25 * 3) / (3 + Math.sin(Math.PI / 3) * 0.5), 4);
    const swung = drawn(beam, values({ size: 100, height: 0, swing: 90 }));
    expect(at(swung, 0)[0]).toBeCloseTo(0, 5);
  });
  it('is drawn from its beginning, as much as it is told, and dashed', () => {
    const line: LaserForm = { kind: 'wave', points: 2 };
    expect(drawn(line, values({ size: 50, drawn: 25 })).length).toBeCloseTo(0.25, 5);
    const dashed = drawn(line, values({ size: 50, dashes: 40 }));
    expect(dashed.paths).toBe(10);
    expect(dashed.length).toBeCloseTo(0.4, 4);
    for (const off of [{ drawn: 0 }, { brightness: 0 }, { dashes: 0 }])
      expect(drawn(line, values(off)).paths).toBe(0);
  });
  it('is bent outwards by one number, and each part of it by its own of a row', () => {
    const ring = drawn({ kind: 'ring' }, values({ size: 50, height: 0, rise: 20 }));
    expect(Math.hypot(...at(ring, 7))).toBeCloseTo(0.6, 5);
    const wave = drawn({ kind: 'wave', points: 3 }, values({ size: 100, height: 0 }), {
      rise: Float32Array.of(0, 0.5, -0.5),
    });
    expect([at(wave, 0)[1], at(wave, 1)[1], at(wave, 2)[1]]).toEqual([
      expect.closeTo(0, 5),
      expect.closeTo(0.5, 5),
      expect.closeTo(-0.5, 5),
    ]);
  });
  it('as dots stands where each belongs, as loops of its thickness, and a fan is bent upwards', () => {
    const dots = drawn({ kind: 'points', count: 4 }, values({ size: 50, height: 0, thick: 100 }));
    expect(dots.paths).toBe(4);
    // The first stands above, 0.5 from the middle; a loop of it is 0.088 wide.
    expect(at(dots, 0)).toEqual([expect.closeTo(0.088, 5), expect.closeTo(0.5, 5)]);
    const thin = drawn({ kind: 'points', count: 4 }, values({ size: 50, height: 0, thick: 0 }));
    expect(thin.length / dots.length).toBeCloseTo(0.008 / 0.088, 4);
    const fan = drawn({ kind: 'fan', beams: 3 }, values({ size: 100, height: 0, thick: 0 }), {
      rise: Float32Array.of(0, 0.4, 0),
    });
    const middle = at(fan, fan.starts[1]!);
    expect(middle).toEqual([expect.closeTo(0.008, 5), expect.closeTo(0.4, 5)]);
    expect(drawn({ kind: 'points', count: 8 }, values({ drawn: 50 })).paths).toBe(4);
  });
  it('runs over to its far colour by its way, by a share or by a row; a row of brightness darkens parts', () => {
    const line: LaserForm = { kind: 'wave', points: 2 },
      red = (paths: LaserPaths, i: number): number => paths.corners[i * POINT + 2]!;
    const v = values({ brightness: 100 });
    v.set([0, 1, 0], Do.Red);
    v.set([1, 0, 0], Do.FarRed);
    expect([0, 1].map((i) => red(drawn(line, v), i))).toEqual([0, 1]);
    v[Do.Run] = 0.5;
    expect([0, 1].map((i) => red(drawn(line, v), i))).toEqual([0.5, 1]);
    const rows = { run: Float32Array.of(1, 0), brightness: Float32Array.of(0.5, 1) };
    expect([0, 1].map((i) => red(drawn(line, v, rows), i))).toEqual([0.5, 0]);
  });
  it('as a mirrored twin is the same on the other side; copies stand round as well as in a row', () => {
    const v = values({ size: 20, across: 30, height: 0 });
    const plain = drawn({ kind: 'polygon', corners: 3, star: false }, v);
    v[Do.Mirror] = -1;
    const mirrored = drawn({ kind: 'polygon', corners: 3, star: false }, v);
    for (let i = 0; i < 4; i++)
      expect(at(mirrored, i)).toEqual([
        expect.closeTo(-at(plain, i)[0], 6),
        expect.closeTo(at(plain, i)[1], 6),
      ]);
    const round = drawn({ kind: 'ring' }, values({ size: 10, height: 0, copies: 4, apart: 50, round: 100 }));
    // The first corner of a ring is at its top, turned as far as it has gone round.
    const first = [0, 1, 2, 3].map((k) => at(round, round.starts[k]!));
    expect(first.map(([x, y]) => Math.hypot(x, y))).toEqual(Array(4).fill(expect.closeTo(0.6, 5)));
    expect(first[1]).toEqual([expect.closeTo(0.6, 5), expect.closeTo(0, 5)]);
  });
  it('dashes run along it by its phase', () => {
    const v = values({ size: 50, dashes: 40, height: 0 });
    const start = (phase: number): number => {
      v[Do.Phase] = phase;
      return at(drawn({ kind: 'wave', points: 2 }, v), 0)[0];
    };
    // A tenth of its way is 0.1 long; half a phase further on the next dash begins half of that later.
    expect(start(0)).toBeCloseTo(-0.5, 5);
    expect(start(0.5)).toBeCloseTo(-0.45, 5);
    expect(start(1)).toBeCloseTo(-0.5, 5);
  });
  it('stands in copies side by side, about its middle', () => {
    const three = drawn({ kind: 'wave', points: 2 }, values({ size: 10, copies: 3, apart: 40, height: 0 }));
    expect(three.paths).toBe(3);
    expect([0, 2, 4].map((i) => at(three, i)[0])).toEqual([-0.5, -0.1, 0.3].map((x) => expect.closeTo(x, 5)));
  });
  it('of every form is something, within its circle', () => {
    const forms: LaserForm[] = [
      { kind: 'ring' },
      { kind: 'polygon', corners: 5, star: true },
      { kind: 'wave', points: 32 },
      { kind: 'fan', beams: 7 },
      { kind: 'grid', across: 3, up: 3 },
      { kind: 'tunnel', rings: 4 },
      { kind: 'text', text: 'GULL' },
      { kind: 'points', count: 6 },
      { kind: 'drawing', fileName: 'a.svg', strokes: [[-1, 0, 0, 1, 1, 0]] },
    ];
    // Those of a file and of the picture have their paths from there.
    expect([...forms.map((f) => f.kind), 'frames', 'figure'].sort()).toEqual(
      Object.keys(LASER_LABELS).sort(),
    );
    for (const form of forms) {
      const out = drawn(form, values({ height: 0 }));
      expect([form.kind, out.paths > 0, out.leftOut]).toEqual([form.kind, true, 0]);
      for (let i = 0; i < out.starts[out.paths]!; i++)
        expect(Math.hypot(...at(out, i))).toBeLessThan(0.4 * 1.5);
    }
  });
});

describe('the field', () => {
  it('takes the drawing’s corners to where they are hung, mirrored or not', () => {
    const points = Float32Array.of(-1, -1, 0, 0, 0, 1, -1, 0, 0, 0, 1, 1, 0, 0, 0, -1, 1, 0, 0, 0);
    const whole = points.slice();
    new FieldMap(WHOLE_FIELD).apply(whole, 4);
    whole.forEach((x, i) => expect(x).toBeCloseTo(points[i]!, 6));
    const hung = points.slice();
    new FieldMap({
      corners: [
        [0.1, 0.2],
        [0.9, 0.2],
        [0.8, 0.7],
        [0.2, 0.8],
      ],
      mirrorX: false,
      mirrorY: false,
    }).apply(hung, 4);
    expect([...hung].filter((_, i) => i % 5 < 2)).toEqual(
      [-0.8, -0.6, 0.8, -0.6, 0.6, 0.4, -0.6, 0.6].map((x) => expect.closeTo(x, 5)),
    );
    const mirrored = points.slice();
    new FieldMap({ ...WHOLE_FIELD, mirrorX: true }).apply(mirrored, 4);
    expect([mirrored[0], mirrored[1], mirrored[5]]).toEqual([1, -1, -1].map((x) => expect.closeTo(x, 6)));
  });
});

describe('a drawing', () => {
  const svg = (body: string): string =>
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">${body}</svg>`;
  it('is its strokes, in its middle and upright', () => {
    const [line, more] = readDrawing(svg('<path d="M0 0 L100 50"/>'));
    expect(more).toBeUndefined();
    expect(line).toEqual([-1, 0.5, 1, -0.5].map((x) => expect.closeTo(x, 9)));
    const all = readDrawing(
      svg(
        '<g transform="translate(10 0)"><rect x="0" y="0" width="20" height="10"/><circle cx="50" cy="50" r="20"/></g><polyline points="0,0 10,10 20,0"/>',
      ),
    );
    expect(all.length).toBe(3);
    // A closed stroke ends where it began.
    expect(all[0]!.slice(0, 2)).toEqual(all[0]!.slice(-2));
    const circle = all[1]!,
      cx =
        (Math.min(...circle.filter((_, i) => i % 2 === 0)) +
          Math.max(...circle.filter((_, i) => i % 2 === 0))) /
        2,
      cy = (Math.min(...circle.filter((_, i) => i % 2)) + Math.max(...circle.filter((_, i) => i % 2))) / 2,
      radii = circle.flatMap((x, i) => (i % 2 === 0 ? [Math.hypot(x - cx, circle[i + 1]! - cy)] : []));
    expect(Math.max(...radii) / Math.min(...radii)).toBeLessThan(1.01);
  });
  it.each([
    ['a script', svg('<script>x</script><path d="M0 0L1 1"/>'), 'would run or be fetched'],
    [
      'what reaches outside',
      svg('<use href="http://a/b.svg#c"/><path d="M0 0L1 1"/>'),
      'would run or be fetched',
    ],
    ['an act', svg('<path onclick="x()" d="M0 0L1 1"/>'), 'would run or be fetched'],
    ['an image', svg('<image href="a.png"/>'), 'would run or be fetched'],
    ['a document type', `<!DOCTYPE svg [<!ENTITY a "b">]>${svg('')}`, 'would run or be fetched'],
    ['no drawing', '<html/>', 'no SVG'],
    ['no line', svg('<text>hi</text>'), 'no line'],
    [
      'too many places',
      svg(
        `<path d="M0 0${Array.from({ length: 9000 }, (_, i) => `L${(i * 37) % 100} ${(i * 53) % 97}`).join('')}"/>`,
      ),
      '4000 at most',
    ],
    ['too many strokes', svg('<path d="M0 0L1 9"/>'.repeat(500)), 'more than 400 strokes'],
  ])('with %s is refused in words', (_, text, words) => {
    expect(() => readDrawing(text)).toThrow(DrawingError);
    expect(() => readDrawing(text)).toThrow(words);
  });
});
