import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import {
  DARK_REASONS,
  DARK_WORDS,
  DOSE_CELLS,
  doseCell,
  FRAME_OLD_MS,
  LaserGate,
  type LaserMoment,
} from './gate';
import { type LaserLimits, readLimits, USUAL_LIMITS } from './limits';
import { At, POINT } from './points';

const OPEN: LaserLimits = {
  keepOuts: [],
  zones: [],
  margin: 0,
  most: 1,
  leastSize: 0.02,
  leastSpeed: 2,
  dose: 50,
  doseMs: 250,
  pointsPerSecond: 30000,
};
const moment = (now: number, change: Partial<LaserMoment> = {}): LaserMoment => ({
  now,
  frameAge: 10,
  driverAge: 10,
  dark: false,
  ...change,
});
/** A circle in white, n points. */
function circle(n: number, radius = 0.5, cx = 0, cy = 0): Float32Array {
  const out = new Float32Array(n * POINT);
  for (let i = 0; i < n; i++)
    out.set(
      [cx + radius * Math.cos((2 * Math.PI * i) / n), cy + radius * Math.sin((2 * Math.PI * i) / n), 1, 1, 1],
      i * POINT,
    );
  return out;
}
const litOf = (p: Float32Array, i: number): number =>
  Math.max(p[i * POINT + At.Red]!, p[i * POINT + At.Green]!, p[i * POINT + At.Blue]!);
function run(
  limits: LaserLimits,
  points: Float32Array,
  change: Partial<LaserMoment> = {},
  arm = true,
): Float32Array {
  const gate = new LaserGate(limits),
    n = points.length / POINT,
    out = new Float32Array(points.length);
  if (arm) gate.arm();
  gate.look(points, n);
  gate.pass(points, n, moment(0, change), out);
  return out;
}
const count = (p: Float32Array): number => {
  let n = 0;
  for (let i = 0; i * POINT < p.length; i++) if (litOf(p, i) > 0) n++;
  return n;
};

describe('the gate of a laser', () => {
  it('is shut until it is armed, and lets a moving ring through then', () => {
    const ring = circle(600);
    expect(count(run(OPEN, ring, {}, false))).toBe(0);
    expect(count(run(OPEN, ring))).toBeGreaterThan(580);
  });
  it('is dark from the first point after a fault, and stays so until it is armed again', () => {
    for (const [what, change] of [
      ['old frame', { frameAge: FRAME_OLD_MS + 0.1 }],
      ['no driver', { driverAge: 51 }],
      ['dark', { dark: true }],
      ['fault', { now: NaN }],
      ['old frame', { frameAge: NaN }],
    ] as const) {
      const gate = new LaserGate(OPEN),
        ring = circle(300),
        out = new Float32Array(ring.length);
      gate.arm();
      gate.look(ring, 300);
      gate.pass(ring, 300, moment(0), out);
      expect(count(out)).toBeGreaterThan(280);
      gate.pass(ring, 300, { ...moment(10), ...change }, out);
      expect([count(out), gate.why]).toEqual([0, what]);
      gate.pass(ring, 300, moment(20), out);
      expect(count(out)).toBe(0);
      gate.arm();
      gate.pass(ring, 300, moment(30), out);
      expect(count(out)).toBeGreaterThan(280);
    }
  });
  it('of what is no number lights neither that point nor any that follows', () => {
    for (const place of [At.X, At.Y, At.Red, At.Green, At.Blue])
      for (const bad of [NaN, Infinity, -Infinity]) {
        const ring = circle(300);
        ring[150 * POINT + place] = bad;
        const out = run(OPEN, ring);
        expect(litOf(out, 149)).toBe(1);
        for (let i = 150; i < 300; i++) expect(litOf(out, i)).toBe(0);
        expect(out.every(Number.isFinite)).toBe(true);
      }
  });
  it('a beam that stands is dark within half a millisecond, and one that creeps is never lit', () => {
    const standing = new Float32Array(300 * POINT);
    for (let i = 0; i < 300; i++) standing.set([i < 100 ? i / 200 : 0.5, 0, 1, 1, 1], i * POINT);
    const out = run(OPEN, standing);
    expect(litOf(out, 99)).toBe(1);
    // At 30,000 points a second half a millisecond is 15 points.
    for (let i = 100 + 15; i < 300; i++) expect(litOf(out, i)).toBe(0);
    const creeping = new Float32Array(3000 * POINT);
    for (let i = 0; i < 3000; i++) creeping.set([-0.5 + (i / 3000) * 0.15, 0, 1, 1, 1], i * POINT);
    // 0.15 of the field in a tenth of a second is 1.5 a second; 2 is the least.
    // After the leap there it may stand as long as anywhere.
    expect(count(run(OPEN, creeping))).toBeLessThanOrEqual(15);
  });
  it('what is smaller than the least size is dark, also where a keep-out left it so', () => {
    const limits = { ...OPEN, leastSize: 0.2 };
    expect(count(run(limits, circle(600, 0.09)))).toBe(0);
    expect(count(run(limits, circle(600, 0.11)))).toBeGreaterThan(550);
    const cut = { ...limits, keepOuts: [[-1, -1, 1, -1, 1, 0.45, -1, 0.45]], leastSize: 0.6 };
    expect(count(run(cut, circle(600, 0.5)))).toBe(0);
  });
  it('a spot gets no more than its dose, and as much again when it has cooled', () => {
    // Between two neighbouring cells' middles and back, for ever.
    const limits = { ...OPEN, dose: 1, doseMs: 100 },
      gate = new LaserGate(limits),
      n = 3000,
      to = new Float32Array(n * POINT);
    for (let i = 0; i < n; i++) to.set([i % 2 ? 0.02 : -0.02, 0.5, 1, 1, 1], i * POINT);
    gate.arm();
    gate.look(to, n);
    const out = new Float32Array(to.length);
    gate.pass(to, n, moment(0), out);
    let sum = 0;
    for (let i = 0; i < 40; i++) sum += litOf(out, i) / 30;
    expect(sum).toBeGreaterThan(1);
    // Then no more than what cools away: dose/doseMs of full brightness for each of the two cells, of which half of the points are.
    let late = 0;
    for (let i = 2000; i < 3000; i++) late += litOf(out, i);
    expect(late / 1000).toBeCloseTo(2 / 100, 2);
    expect(gate.hottest).toBeLessThanOrEqual(1 + 1e-9);
  });
  it('a zone’s brightness is the most that is sent there, however it is asked for', () => {
    const limits = { ...OPEN, zones: [{ polygon: [-1, -1, 0, -1, 0, 1, -1, 1], most: 0.25 }] },
      out = run(limits, circle(600));
    for (let i = 1; i < 600; i++) {
      const x = out[i * POINT]!;
      if (x < -0.01) expect(litOf(out, i)).toBeLessThanOrEqual(0.25 + 1e-6);
      else if (x > 0.01) expect(litOf(out, i)).toBeGreaterThan(0.9);
    }
  });

  it('holds over a million points of random figures, zones and signals', () => {
    const random = seeded(1234),
      rate = 30000,
      chunk = 500;
    let lit = 0,
      total = 0;
    for (let round = 0; round < 50; round++) {
      const polygon = (): number[] => {
        const cx = random() * 2 - 1,
          cy = random() * 2 - 1,
          n = 3 + Math.floor(random() * 5);
        return Array.from({ length: n }, (_, i) => {
          const a = (2 * Math.PI * i) / n,
            r = 0.1 + random() * 0.6;
          return [
            Math.max(-1, Math.min(1, cx + r * Math.cos(a))),
            Math.max(-1, Math.min(1, cy + r * Math.sin(a))),
          ];
        }).flat();
      };
      const limits: LaserLimits = {
        keepOuts: Array.from({ length: Math.floor(random() * 3) }, polygon),
        zones: Array.from({ length: Math.floor(random() * 3) }, () => ({
          polygon: polygon(),
          most: random(),
        })),
        margin: random() * 0.05,
        most: 0.2 + random() * 0.8,
        leastSize: 0.05 + random() * 0.2,
        leastSpeed: 2 + random() * 40,
        dose: 0.3 + random() * 3,
        doseMs: 50 + random() * 200,
        pointsPerSecond: rate,
      };
      expect(readLimits(limits).why).toBeNull();
      const gate = new LaserGate(limits),
        points = new Float32Array(chunk * POINT),
        out = new Float32Array(chunk * POINT);
      const energy = new Float64Array(DOSE_CELLS * DOSE_CELLS),
        at = new Float64Array(DOSE_CELLS * DOSE_CELLS).fill(0),
        dwell = Math.ceil(0.5 / (1000 / rate)),
        steps: number[] = [];
      let px = NaN,
        py = NaN,
        phase = 0,
        faulted = false;
      gate.arm();
      for (let c = 0; c < 40; c++) {
        const kind = Math.floor(random() * 5),
          bad = random() < 0.03 ? Math.floor(random() * chunk) : -1,
          age = random() < 0.02 ? 60 : random() * 50;
        for (let i = 0; i < chunk; i++) {
          phase += 0.001 + (kind === 4 ? 0.05 : 0.02) * random();
          const [x, y] =
            kind === 0
              ? [random() * 2 - 1, random() * 2 - 1]
              : kind === 1
                ? [0.8 * Math.cos(phase * 7), 0.8 * Math.sin(phase * 5)]
                : kind === 2
                  ? [Math.sign(Math.sin(phase * 40)) * 0.6, Math.sin(phase)]
                  : kind === 3
                    ? [0.3, 0.3]
                    : [1.4 * Math.cos(phase), 1.4 * Math.sin(phase)];
          points.set([x!, y!, random() * 1.1, random(), random() < 0.2 ? 0 : random()], i * POINT);
        }
        if (bad >= 0) points[bad * POINT + Math.floor(random() * 5)] = NaN;
        gate.look(points, chunk);
        const now = c * chunk * (1000 / rate);
        if (faulted && random() < 0.5) {
          gate.arm();
          faulted = false;
        }
        gate.pass(points, chunk, moment(now, { frameAge: age }), out);
        if (age > 50) faulted = true;
        for (let i = 0; i < chunk; i++) {
          if (i === bad) faulted = true;
          const x = out[i * POINT]!,
            y = out[i * POINT + 1]!,
            b = litOf(out, i),
            t = now + (i * 1000) / rate;
          total++;
          if (!(Math.abs(x) <= 1 && Math.abs(y) <= 1)) throw new Error('beyond the field');
          if (px === px) steps.push(Math.hypot(x - px, y - py));
          if (b > 0) {
            lit++;
            if (faulted) throw new Error('lit after a fault');
            // By a geometry of its own: places along the way, and rays.
            for (let k = 0; k <= 8; k += 2) {
              const wx = px + ((x - px) * k) / 8,
                wy = py + ((y - py) * k) / 8;
              for (const p of limits.keepOuts) if (within(p, wx, wy)) throw new Error('lit in a keep-out');
              for (const z of limits.zones)
                if (within(z.polygon, wx, wy) && b > z.most + 1e-6) throw new Error('too bright in a zone');
            }
            if (b > limits.most + 1e-6) throw new Error('too bright');
            let long = 0;
            for (let k = Math.max(0, steps.length - dwell); k < steps.length; k++) long += steps[k]!;
            if (steps.length >= dwell && long < (limits.leastSpeed * dwell) / rate - 1e-6)
              throw new Error('too slow');
            const cell = doseCell(x, y),
              e = energy[cell]! * Math.exp(-(t - at[cell]!) / limits.doseMs) + (b * 1000) / rate;
            if (e > limits.dose + 1e-3) throw new Error('over its dose');
            energy[cell] = e;
            at[cell] = t;
          }
          for (const p of limits.keepOuts) if (within(p, x, y)) throw new Error('in a keep-out, though dark');
          px = x;
          py = y;
          if (steps.length > 2 * dwell) steps.splice(0, dwell);
        }
      }
    }
    expect(total).toBe(1000000);
    expect(lit).toBeGreaterThan(20000);
  });
});

describe('why a laser is dark', () => {
  it('is said in words for every reason', () => {
    for (const words of Object.values(DARK_WORDS)) expect(words).toMatch(/\.$/);
    expect(new Set(Object.values(DARK_WORDS)).size).toBe(DARK_REASONS.length);
  });
});

describe('limits', () => {
  it('are read from anywhere, and refused with the range where they make no sense', () => {
    expect(readLimits(USUAL_LIMITS).limits).toEqual(USUAL_LIMITS);
    for (const bad of [
      null,
      {},
      { ...USUAL_LIMITS, leastSpeed: 0 },
      { ...USUAL_LIMITS, keepOuts: [[0, 0, 1]] },
    ])
      expect(readLimits(bad).why).toMatch(/cannot be used/);
    expect(readLimits({ ...USUAL_LIMITS, pointsPerSecond: 90000 }).why).toMatch(/60000/);
  });
});

/** Whether a place is inside, by how often the edges wind about it. */
function within(p: readonly number[], x: number, y: number): boolean {
  let wound = 0;
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length,
      left = (p[j]! - p[i]!) * (y - p[i + 1]!) - (x - p[i]!) * (p[j + 1]! - p[i + 1]!);
    if (p[i + 1]! <= y && p[j + 1]! > y && left > 0) wound++;
    else if (p[i + 1]! > y && p[j + 1]! <= y && left < 0) wound--;
  }
  return wound !== 0;
}
