import { describe, expect, it } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { seeded } from '../random';
import { Kernels, kernels } from './kernels';

describe('the kernels', () => {
  it('are what their source compiles to', () => {
    const root = path.join(__dirname, '../../..');
    expect(readFileSync(path.join(__dirname, 'compiled.ts'), 'utf8')).toBe(
      execFileSync(process.execPath, [path.join(root, 'scripts/kernels.mjs'), '--print'], {
        encoding: 'utf8',
      }),
    );
  });

  it.each([2, 4, 8, 32, 64])('transform %d points as the definition does', (n) => {
    const k = kernels(),
      random = seeded(n),
      x = k.scratch / 8;
    const re = Float64Array.from({ length: n }, () => random() - 0.5),
      im = Float64Array.from({ length: n }, () => random() - 0.5);
    for (let i = 0; i < n; i++) {
      k.f64[x + 2 * i] = re[i]!;
      k.f64[x + 2 * i + 1] = im[i]!;
    }
    const at = k.call.transform(k.scratch, k.scratch + 16 * n, k.turns(n), n) / 8;
    for (let f = 0; f < n; f++) {
      let a = 0,
        b = 0;
      for (let i = 0; i < n; i++) {
        const c = Math.cos((2 * Math.PI * f * i) / n),
          s = Math.sin((2 * Math.PI * f * i) / n);
        a += re[i]! * c + im[i]! * s;
        b += im[i]! * c - re[i]! * s;
      }
      expect(k.f64[at + 2 * f]).toBeCloseTo(a, 12);
      expect(k.f64[at + 2 * f + 1]).toBeCloseTo(b, 12);
    }
  });

  it('keep what is the same for all once, and say when there is no room', () => {
    const k = new Kernels();
    expect(k.turns(64)).toBe(k.turns(64));
    expect(k.keep(20) % 16).toBe(0);
    expect(k.keep(16) % 16).toBe(0);
    expect(() => k.turns(48)).toThrow('got 48');
    expect(() => k.keep(1 << 24)).toThrow(/16777216 bytes wanted, \d+ left/);
  });

  it.each([16, 48])('sum %d rows of weights times what goes in', (count) => {
    const k = new Kernels(),
      random = seeded(count),
      width = 5,
      w = k.keep(4 * count * width),
      bias = k.keep(4 * count),
      x = k.scratch,
      out = k.scratch + 64;
    const weight = Array.from({ length: count * width }, () => Math.round(20 * (random() - 0.5))),
      add = Array.from({ length: count }, (_, i) => i),
      into = [1, -2, 3, 0.5, 4];
    weight.forEach((v, i) => {
      const row = Math.floor(i / width);
      k.f32[w / 4 + 16 * ((row >> 4) * width + (i % width)) + (row & 15)] = v;
    });
    k.f32.set(add, bias / 4);
    k.f32.set(into, x / 4);
    k.call.rows(w, bias, x, out, count, width);
    for (let row = 0; row < count; row++)
      expect(k.f32[out / 4 + row]).toBe(row + into.reduce((s, v, i) => s + v * weight[row * width + i]!, 0));
  });
});
