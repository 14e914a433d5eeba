import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { aimAt, beamOf, type Hung, reachOf } from './aim';
import { kindOf } from './builtin';
import { FlashCount, FlashGuard } from './flashes';
import { LampGate } from './gate';
import { Lit, makeValues } from './values';

const HEAD = kindOf({ mode: 'head' }),
  STROBE = kindOf({ mode: 'strobe' });
const DT = 0.005;

/** Steps a gate to where it is told, for so long. @returns where it is sent after every step */
function path(gate: LampGate, pan: number, tilt: number, seconds: number): [number, number][] {
  const v = makeValues();
  return Array.from({ length: Math.round(seconds / DT) }, () => {
    v[Lit.Pan] = pan;
    v[Lit.Tilt] = tilt;
    gate.step(v, DT, false);
    return [v[Lit.Pan]!, v[Lit.Tilt]!];
  });
}

describe('the gate of a head', () => {
  it('lets nothing past its limits, whatever is asked, and keeps to its speed', () => {
    const random = seeded(11),
      aim = { pan: { from: -90, to: 60 }, tilt: { from: 10, to: 70 }, speed: 100 },
      gate = new LampGate(HEAD, aim),
      v = makeValues();
    let pan = NaN,
      tilt = NaN;
    for (let i = 0; i < 20000; i++) {
      v[Lit.Pan] = random() < 0.01 ? NaN : (random() - 0.5) * 2000;
      v[Lit.Tilt] = random() < 0.01 ? Infinity : (random() - 0.5) * 2000;
      v[Lit.Dimmer] = 1;
      const dt = random() * 0.02;
      gate.step(v, dt, random() < 0.5);
      expect(v[Lit.Pan]! >= -90 && v[Lit.Pan]! <= 60).toBe(true);
      expect(v[Lit.Tilt]! >= 10 && v[Lit.Tilt]! <= 70).toBe(true);
      if (i > 0) {
        expect(Math.abs(v[Lit.Pan]! - pan)).toBeLessThanOrEqual(100 * dt + 1e-9);
        expect(Math.abs(v[Lit.Tilt]! - tilt)).toBeLessThanOrEqual(100 * dt + 1e-9);
      }
      pan = v[Lit.Pan]!;
      tilt = v[Lit.Tilt]!;
    }
  });
  it('gets there, in the time that its speed asks for', () => {
    const gate = new LampGate(HEAD, { speed: 90 });
    path(gate, 0, 0, DT);
    const way = path(gate, 90, 0, 1.2);
    expect(way[Math.round(0.5 / DT) - 1]![0]).toBeCloseTo(45, 6);
    expect(way.at(-1)![0]).toBe(90);
  });
  it('takes the shorter way round, where a whole turn is the same place', () => {
    const gate = new LampGate(HEAD, { speed: 90 });
    path(gate, 170, 0, DT);
    // −170° is 190°: twenty degrees on, and not 340 back.
    expect(path(gate, -170, 0, 1).at(-1)![0]).toBeCloseTo(190, 6);
    // Where 190° is not allowed, it has to go all the way.
    const held = new LampGate(HEAD, { speed: 1000, pan: { from: -180, to: 180 } });
    path(held, 170, 0, DT);
    expect(path(held, -170, 0, 2).at(-1)![0]).toBe(-170);
  });
  it('turns what is hung the other way round, or on its side', () => {
    expect(path(new LampGate(HEAD, { invertPan: true }), 40, 10, DT)[0]).toEqual([-40, 10]);
    expect(path(new LampGate(HEAD, { invertTilt: true }), 40, 10, DT)[0]).toEqual([40, -10]);
    expect(path(new LampGate(HEAD, { swap: true }), 40, 10, DT)[0]).toEqual([10, 40]);
  });
  it('what is no number is dark, and stays where it was', () => {
    const gate = new LampGate(HEAD);
    path(gate, 30, 20, DT);
    const v = makeValues();
    v[Lit.Pan] = NaN;
    v[Lit.Tilt] = 20;
    v[Lit.Dimmer] = 1;
    gate.step(v, DT, false);
    expect([v[Lit.Pan], v[Lit.Tilt], v[Lit.Dimmer]]).toEqual([30, 20, 0]);
    v[Lit.Dimmer] = NaN;
    v[Lit.Haze] = v[Lit.Uv] = 1;
    gate.step(v, DT, false);
    expect([v[Lit.Dimmer], v[Lit.Haze], v[Lit.Uv]]).toEqual([0, 0, 0]);
  });
});

/** Flashes in any one second, counted another way: highs and lows that are a tenth apart. */
function mostInASecond(light: readonly number[]): number {
  const at: number[] = [];
  let low = 0,
    high = 0,
    rising = false;
  light.forEach((x, i) => {
    if (rising) {
      high = Math.max(high, x);
      if (x <= high - 0.1) {
        rising = false;
        low = x;
      }
    } else {
      low = Math.min(low, x);
      if (x >= low + 0.1) {
        rising = true;
        high = x;
        at.push(i * DT);
      }
    }
  });
  return Math.max(0, ...at.map((t) => at.filter((u) => u >= t && u < t + 1 - 1e-9).length));
}

describe('flashes', () => {
  it('are counted by the second: a square of five a second is five', () => {
    const count = new FlashCount();
    for (let i = 0; i < 400; i++) count.step((i * DT * 5) % 1 < 0.5 ? 1 : 0, DT);
    expect(count.lately()).toBe(5);
    for (let i = 0; i < 400; i++) count.step(1, DT);
    expect(count.lately()).toBe(0);
  });
  it('a ripple of less than a tenth is none', () => {
    const count = new FlashCount();
    count.step(0.5, DT);
    for (let i = 0; i < 1000; i++) count.step(0.5 + 0.045 * (i % 2), DT);
    expect(count.lately()).toBe(0);
  });
  it('no more than three in any second pass the guard, whatever comes', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const random = seeded(seed),
        guard = new FlashGuard(),
        hz = 1 + random() * 40;
      let x = 0;
      const out = Array.from({ length: 3000 }, (_, i) => {
        if (seed % 3 === 0) x = (i * DT * hz) % 1 < 0.5 ? 1 : 0;
        else if (seed % 3 === 1) x = random();
        else x = Math.min(1, Math.max(0, x + (random() - 0.5) * 0.4));
        return guard.step(i % 997 === 0 ? NaN : x, DT);
      });
      expect([seed, mostInASecond(out) <= 3]).toEqual([seed, true]);
      expect(out.every((y) => y >= 0 && y <= 1)).toBe(true);
    }
  });
  it('what is slow enough is let through as it is, and so is steady light', () => {
    const guard = new FlashGuard();
    for (let i = 0; i < 2000; i++) {
      const x = (i * DT * 2.5) % 1 < 0.5 ? 1 : 0;
      expect(guard.step(x, DT)).toBe(x);
    }
  });
  it('an edit does not begin the count of a strobe anew', () => {
    const v = makeValues();
    let gate = new LampGate(STROBE);
    const light = Array.from({ length: 800 }, (_, i) => {
      if (i % 20 === 0) {
        const next = new LampGate(STROBE);
        next.follow(gate);
        gate = next;
      }
      v[Lit.Dimmer] = (i * DT * 10) % 1 < 0.5 ? 1 : 0;
      gate.step(v, DT, false);
      return v[Lit.Dimmer]!;
    });
    expect(mostInASecond(light)).toBeLessThanOrEqual(3);
  });
  it('a strobe is held by the gate until quick flashes are allowed on purpose', () => {
    const gate = new LampGate(STROBE),
      v = makeValues();
    const run = (quick: boolean): { light: number[]; strobe: number } => {
      const light = Array.from({ length: 800 }, (_, i) => {
        v[Lit.Dimmer] = (i * DT * 10) % 1 < 0.5 ? 1 : 0;
        v[Lit.Strobe] = 18;
        gate.step(v, DT, quick);
        return v[Lit.Dimmer]!;
      });
      return { light, strobe: v[Lit.Strobe]! };
    };
    const held = run(false);
    expect([mostInASecond(held.light) <= 3, held.strobe]).toEqual([true, 3]);
    const allowed = run(true);
    expect([mostInASecond(allowed.light), allowed.strobe]).toEqual([10, 18]);
  });
});

describe('aiming', () => {
  const PAN = { from: -270, to: 270 },
    TILT = { from: -135, to: 135 };
  it('points at the spot, from anywhere to anywhere, hanging or standing', () => {
    const random = seeded(9);
    for (let i = 0; i < 500; i++) {
      const lamp: Hung = {
          x: random() * 12 - 6,
          y: random() * 5,
          z: random() * 8,
          turn: random() * 360 - 180,
          hangs: random() < 0.5,
        },
        spot = { x: random() * 12 - 6, y: random() * 5, z: random() * 8 },
        now = { pan: random() * 500 - 250, tilt: random() * 200 - 100 },
        aim = aimAt(lamp, spot, PAN, TILT, now);
      const far = Math.hypot(spot.x - lamp.x, spot.y - lamp.y, spot.z - lamp.z);
      if (!aim) {
        // Only what is behind its foot is out of reach: more than 135° from straight.
        const up = (lamp.hangs ? -1 : 1) * (spot.y - lamp.y);
        expect((Math.acos(up / far) * 180) / Math.PI).toBeGreaterThan(135);
        continue;
      }
      const way = [0, 0, 0];
      beamOf(lamp, aim.pan, aim.tilt, way);
      expect(
        Math.hypot(
          lamp.x + way[0]! * far - spot.x,
          lamp.y + way[1]! * far - spot.y,
          lamp.z + way[2]! * far - spot.z,
        ),
      ).toBeLessThan(1e-6);
    }
  });
  it('takes the aim that is nearest to where the lamp is', () => {
    const lamp: Hung = { x: 0, y: 4, z: 4, turn: 0, hangs: true },
      spot = { x: 0, y: 0, z: 6 };
    expect(aimAt(lamp, spot, PAN, TILT, { pan: 0, tilt: 20 })!.pan).toBeCloseTo(0, 9);
    expect(aimAt(lamp, spot, PAN, TILT, { pan: 170, tilt: -20 })!.pan).toBeCloseTo(180, 9);
    expect(aimAt(lamp, spot, PAN, TILT, { pan: -190, tilt: -20 })!.pan).toBeCloseTo(-180, 9);
  });
  it('a lamp that hangs points straight down at rest, and a beam ends at the floor', () => {
    const way = [0, 0, 0],
      lamp: Hung = { x: 1, y: 4, z: 2, turn: 0, hangs: true };
    beamOf(lamp, 77, 0, way);
    expect(way.map((x) => Math.round(x * 1e9) / 1e9)).toEqual([0, -1, 0]);
    expect(reachOf(lamp, way, 8, 12, 5)).toBeCloseTo(4, 9);
    beamOf(lamp, 0, 45, way);
    expect(reachOf(lamp, way, 8, 12, 5)).toBeCloseTo(4 * Math.SQRT2, 9);
    beamOf(lamp, 180, 80, way);
    expect(lamp.z + way[2]! * reachOf(lamp, way, 8, 12, 5)).toBeCloseTo(0, 9);
  });
});
