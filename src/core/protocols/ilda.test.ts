import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { ILDA_PALETTE, ILDA_WRITTEN, IldaError, readIlda, writeIlda } from './ilda';

/** A section by the standard's table: "ILDA", three of reserve, format, name, company, records, number, total, projector, reserve. */
function section(format: number, count: number, body: readonly number[], name = 'RIVER'): number[] {
  const text = (s: string): number[] => Array.from({ length: 8 }, (_, i) => s.charCodeAt(i) || 0);
  return [
    0x49,
    0x4c,
    0x44,
    0x41,
    0,
    0,
    0,
    format,
    ...text(name),
    ...text('US'),
    count >> 8,
    count & 255,
    0,
    0,
    0,
    1,
    0,
    0,
    ...body,
  ];
}
const END = section(0, 0, []);
const at = (points: Float32Array, i: number): number[] => [...points.subarray(5 * i, 5 * i + 5)];

describe('ILDA files', () => {
  it.each([
    [
      '0, three dimensions and a palette',
      0,
      [0x40, 0, 0x80, 1, 0, 5, 0, 24],
      [0x7f, 0xff, 0, 0, 0, 0, 0xc0, 56],
    ],
    ['1, two dimensions and a palette', 1, [0x40, 0, 0x80, 1, 0, 24], [0x7f, 0xff, 0, 0, 0xc0, 56]],
    [
      '4, three dimensions in true colour',
      4,
      [0x40, 0, 0x80, 1, 0, 5, 0, 0, 255, 0],
      [0x7f, 0xff, 0, 0, 0, 0, 0xc0, 9, 9, 9],
    ],
    [
      '5, two dimensions in true colour',
      5,
      [0x40, 0, 0x80, 1, 0, 0, 255, 0],
      [0x7f, 0xff, 0, 0, 0xc0, 9, 9, 9],
    ],
  ] as const)('of format %s are read by their table', (_, format, first, last) => {
    const [frame, ...more] = readIlda(Uint8Array.from([...section(format, 2, [...first, ...last]), ...END]));
    expect(more).toEqual([]);
    expect(frame!.name).toBe('RIVER');
    // Number 24 of the palette is pure green; the second point is blanked.
    expect(at(frame!.points, 0)).toEqual([expect.closeTo(0.5, 4), -1, 0, 1, 0]);
    expect(at(frame!.points, 1)).toEqual([1, 0, 0, 0, 0]);
  });
  it('take the palette that they bring', () => {
    const file = [...section(2, 1, [10, 20, 30]), ...section(1, 1, [0, 0, 0, 0, 0x80, 0]), ...END];
    const [frame] = readIlda(Uint8Array.from(file));
    expect(at(frame!.points, 0).slice(2)).toEqual([10, 20, 30].map((x) => expect.closeTo(x / 255, 6)));
  });
  it.each(ILDA_WRITTEN)('of format %d are written and read again the same, to its last bit', (format) => {
    const random = seeded(3);
    const frames = [3, 1, 500].map((n, k) => ({
      name: `F${k}`,
      points: Float32Array.from({ length: 5 * n }, (_, i) =>
        i % 5 < 2
          ? Math.round((random() * 2 - 1) * 32767) / 32767
          : (format < 2 ? 85 * Math.floor(1 + random() * 3) : 1 + Math.floor(random() * 254)) / 255,
      ),
    }));
    const again = readIlda(writeIlda(frames, format));
    expect(again.map((f) => f.name)).toEqual(['F0', 'F1', 'F2']);
    again.forEach((f, k) => f.points.forEach((x, i) => expect(x).toBeCloseTo(frames[k]!.points[i]!, 5)));
    expect(writeIlda(again, format)).toEqual(writeIlda(frames, format));
  });
  it('with more colours than a palette has room for take the nearest of the standard’s', () => {
    const points = Float32Array.from(
      Array.from({ length: 300 }, (_, i) => [0, 0, (i % 256) / 255, i > 255 ? 0.5 : 1, 0.01]).flat(),
    );
    const file = writeIlda([{ name: 'MANY', points }], 1);
    expect(file[7]).toBe(1);
    const [frame] = readIlda(file);
    for (let i = 0; i < 300; i += 37) {
      const [, , r, g, b] = at(frame!.points, i) as [number, number, number, number, number];
      expect(ILDA_PALETTE).toContainEqual([r, g, b].map((x) => Math.round(x * 255)));
    }
  });
  it('have 64 colours of their own, in the order of the appendix', () => {
    expect(ILDA_PALETTE.length).toBe(64);
    for (const [i, colour] of [
      [0, [255, 0, 0]],
      [16, [255, 255, 0]],
      [24, [0, 255, 0]],
      [31, [0, 255, 255]],
      [40, [0, 0, 255]],
      [48, [255, 0, 255]],
      [56, [255, 255, 255]],
      [63, [255, 32, 32]],
    ] as const)
      expect(ILDA_PALETTE[i]).toEqual(colour);
  });
  it.each([
    ['another file', [1, 2, 3, 4, ...END], 'At byte 0 no ILDA section begins'],
    [
      'another format',
      [...section(3, 1, [0, 0, 0]), ...END],
      'a section of format 3; 0, 1, 2, 4 and 5 can be read',
    ],
    ['one that is cut short', section(5, 9, [0, 0, 0, 0]), 'says that it has 9 records, and is cut short'],
    ['half a head', END.slice(0, 20), 'ends in the middle of a section'],
  ])('are refused in words where it is %s', (_, bytes, words) => {
    expect(() => readIlda(Uint8Array.from(bytes))).toThrow(IldaError);
    expect(() => readIlda(Uint8Array.from(bytes))).toThrow(words);
  });
  it('that were damaged at random are refused or read, and nothing else is thrown', () => {
    const random = seeded(8),
      good = writeIlda([{ name: 'A', points: new Float32Array(100) }]);
    for (let i = 0; i < 20000; i++) {
      const bytes = good.slice(0, random() < 0.3 ? Math.floor(random() * good.length) : good.length);
      for (let k = 0; k < 3; k++) bytes[Math.floor(random() * bytes.length)] = Math.floor(random() * 256);
      try {
        readIlda(bytes);
      } catch (e) {
        expect(e).toBeInstanceOf(IldaError);
      }
    }
  });
});
