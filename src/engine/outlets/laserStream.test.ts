import { describe, expect, it } from '@jest/globals';
import { FERRY_FIGURES } from '../../core/ferry';
import { At, Do, LASER_VALUES, laserParameters, POINT, packFrames, USUAL_LASER } from '../../core/laser';
import { toLinear } from '../../core/parameters';
import type { PlanMap } from '../../core/plan';
import type { LaserFigure } from '../../core/show';
import { LaserViewReader, LaserViewWriter, makeLaserView, SEEN_KEPT } from '../memory/laserView';
import { LaserStream } from './laserStream';

const ring: LaserFigure = {
  id: 'ring',
  name: 'Ring',
  form: { kind: 'ring' },
  off: false,
  rest: {},
  twin: null,
};
/** Numbers of figures at rest, as a frame has them. */
class Frames {
  readonly map: PlanMap;
  readonly parameters: Float32Array;
  readonly vectors = new Float32Array(8);
  time = 0;
  constructor(figures: readonly LaserFigure[], rows: PlanMap['vectors'] = {}) {
    const parameters: Record<string, number> = {},
      numbers: number[] = [];
    for (const f of figures)
      for (const p of laserParameters()) {
        parameters[`${f.id}/${p.id}`] = numbers.length;
        const rest = f.rest[p.id] ?? p.rest,
          own = [0, 0, 0];
        if (typeof rest === 'string') toLinear(rest, own);
        numbers.push(...(typeof rest === 'string' ? own : [rest]));
      }
    this.parameters = Float32Array.from(numbers);
    this.map = { parameters, vectors: rows } as unknown as PlanMap;
  }
  readVectors(): boolean {
    return true;
  }
  set(key: string, value: number): void {
    this.parameters[this.map.parameters[key]!] = value;
  }
}
function streamOf(figures: readonly LaserFigure[], frames: Frames): LaserStream {
  const s = new LaserStream();
  s.set(figures, FERRY_FIGURES);
  s.place(frames.map);
  return s;
}
/** Of what is lit: left, right, low, high. */
function bounds({ maker }: LaserStream): number[] {
  const b = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < maker.count; i++) {
    const at = i * POINT;
    if (!(maker.points[at + At.Green]! > 0)) continue;
    b[0] = Math.min(b[0]!, maker.points[at]!);
    b[1] = Math.max(b[1]!, maker.points[at]!);
    b[2] = Math.min(b[2]!, maker.points[at + 1]!);
    b[3] = Math.max(b[3]!, maker.points[at + 1]!);
  }
  return b.map((x) => Math.round(x * 100) / 100);
}

describe('what a laser is to draw', () => {
  it('follows the numbers of every frame: size and place in the field', () => {
    const frames = new Frames([ring]),
      s = streamOf([ring], frames);
    expect(s.fill(frames)).toBeGreaterThan(40);
    expect(bounds(s)).toEqual([-0.4, 0.4, -0.1, 0.7]);
    frames.set('ring/size', 20);
    frames.set('ring/across', 50);
    s.fill(frames);
    expect(bounds(s)).toEqual([0.3, 0.7, 0.1, 0.5]);
  });
  it('is nothing of what is off, dark or of a figure that is gone', () => {
    const frames = new Frames([ring]);
    expect(streamOf([{ ...ring, off: true }], frames).fill(frames)).toBe(0);
    const s = streamOf([ring], frames);
    frames.set('ring/brightness', 0);
    expect(s.fill(frames)).toBe(0);
    const gone = { ...ring, form: { kind: 'figure', of: 'nobody' } } as const;
    expect(streamOf([gone], frames).fill(frames)).toBe(0);
  });
  it('bends by a row, as its parameter reads it', () => {
    const line: LaserFigure = { ...ring, form: { kind: 'wave', points: 3 }, rest: { size: 50, height: 0 } },
      frames = new Frames([line], { 'ring/rise': [2, 3] });
    frames.vectors.set([0, 80, 0], 2);
    const s = streamOf([line], frames);
    s.fill(frames);
    // 80 % of half the field.
    expect(bounds(s)[3]).toBeCloseTo(0.4, 1);
  });
  it('of a twin is on the other side; of the picture stands where its figure is', () => {
    const aside: LaserFigure = { ...ring, rest: { size: 10, across: 60, height: 0 } },
      twin: LaserFigure = { ...aside, id: 'twin', twin: { of: 'ring', mirrored: true } };
    const frames = new Frames([aside, twin]),
      s = streamOf([aside, twin], frames);
    s.fill(frames);
    expect(bounds(s)).toEqual([-0.7, 0.7, -0.1, 0.1]);
    const moon = FERRY_FIGURES.find((f) => f.id === 'moon')!,
      of: LaserFigure = { ...ring, form: { kind: 'figure', of: 'moon' }, rest: { size: 100, height: 0 } };
    const shown = new Frames([of]),
      m = streamOf([of], shown);
    expect(m.fill(shown)).toBeGreaterThan(20);
    const [left, right, low, high] = bounds(m) as [number, number, number, number];
    // Half of the picture's width is half of the field.
    expect((left + right) / 2).toBeCloseTo((moon.at.x - 640) / 640, 1);
    expect((low + high) / 2).toBeCloseTo((moon.at.y - 360) / 640, 1);
  });
  it('goes through a file’s frames by its speed, over and over', () => {
    const square = (r: number): Float32Array =>
      Float32Array.from(
        [0, 1, 2, 3, 0].flatMap((k) => {
          const a = (Math.PI / 2) * k;
          return [r * Math.cos(a), r * Math.sin(a), 1, 1, 1];
        }),
      );
    const file: LaserFigure = {
      ...ring,
      form: { kind: 'frames', frames: packFrames([square(0.2), square(0.6)]), fileName: 'a.ild' },
      rest: { size: 100, height: 0, colour: '#ffffff', far: '#ffffff', speed: 10 },
    };
    const frames = new Frames([file]),
      s = streamOf([file], frames),
      wide = (time: number): number => {
        frames.time = time;
        s.fill(frames);
        return bounds(s)[1]!;
      };
    expect([wide(0), wide(0.05), wide(0.15), wide(0.25), wide(0.35)]).toEqual([0.2, 0.2, 0.6, 0.2, 0.6]);
  });
  it('suits its scanner: fewer points a second make fewer points a picture', () => {
    const frames = new Frames([ring]),
      s = streamOf([ring], frames);
    frames.set('ring/size', 100);
    s.suit({ ...USUAL_LASER, limits: { ...USUAL_LASER.limits, pointsPerSecond: 5000 } });
    expect(s.fill(frames)).toBeLessThanOrEqual(Math.floor(5000 / 30));
    expect(s.maker.cost.spacing).toBeGreaterThan(1);
    expect(LASER_VALUES.size![0]).toBe(Do.Size);
  });
});

describe('what the window sees of a laser', () => {
  it('is the newest frame, whole, and what mirrors drew, over and over', () => {
    const memory = makeLaserView(),
      writer = new LaserViewWriter(memory),
      reader = new LaserViewReader(memory);
    expect(reader.read()).toBe(false);
    const points = Float32Array.from({ length: 3 * POINT }, (_, i) => i);
    writer.want(points, 3, { spacing: 1.25, repeats: 1, leftOut: 2 }, 7, 3);
    expect(reader.read()).toBe(true);
    expect([reader.count, reader.cost, reader.litWay, reader.darkWay]).toEqual([
      3,
      { spacing: 1.25, repeats: 1, leftOut: 2 },
      7,
      3,
    ]);
    expect([...reader.wanted.subarray(0, 3 * POINT)]).toEqual([...points]);
    expect(reader.read()).toBe(false);
    const frame = new Uint8Array(4 + 7),
      view = new DataView(frame.buffer);
    view.setUint16(2, 1, true);
    view.setInt16(4, 13500, true);
    view.setInt16(6, -27000, true);
    frame.set([255, 0, 51], 8);
    for (let i = 0; i <= SEEN_KEPT; i++) writer.see(frame);
    expect(reader.seenCount).toBe(SEEN_KEPT + 1);
    expect([...reader.seen.subarray(0, POINT)]).toEqual([0.5, -1, 1, 0, expect.closeTo(0.2, 5)]);
    // Cut short: what it says it has is not there.
    view.setUint16(2, 40, true);
    writer.see(frame);
    expect(reader.seenCount).toBe(SEEN_KEPT + 2);
  });
});
