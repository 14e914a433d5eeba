import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { type LaserSetting, POINT, USUAL_LASER } from '../../core/laser';
import { LASER_PLAYS } from '../../core/protocols';
import { Projector } from '../simulated/projector';
import { LaserReader, LaserWriter, makeLaserMemory, STEADY } from './laserMemory';
import { LaserWire } from './laserWire';
import { until, upperRing } from './testKit';

let projector: Projector, wire: LaserWire, writer: LaserWriter, timer: NodeJS.Timeout;
const rest = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
function ring(): Uint8Array {
  const { points, count } = upperRing();
  return new Uint8Array(points.slice(0, POINT * count).buffer);
}
beforeEach(async () => {
  projector = await Projector.open(0);
  const memory = makeLaserMemory(),
    points = ring();
  writer = new LaserWriter(memory);
  wire = new LaserWire(memory, projector, () => undefined);
  timer = setInterval(() => {
    const now = performance.now();
    writer.write(points, now + STEADY, LASER_PLAYS);
    wire.turn(now);
  }, 5);
});
afterEach(async () => {
  clearInterval(timer);
  await wire.close();
  await projector.close();
});
async function arm(): Promise<void> {
  await rest(30);
  wire.act('ready', performance.now());
  await rest(300);
  wire.act('arm', performance.now());
}
const shuttered = (setting: LaserSetting): LaserSetting => ({
  ...setting,
  shutter: { universe: 3, address: 512 },
});

describe('what a laser’s setting becomes', () => {
  it('opens its shutter on its own universe while light may leave it, and shuts it at once', async () => {
    wire.set(shuttered(USUAL_LASER), performance.now());
    const channel = (universe: number): number => {
      const channels = new Uint8Array(512).fill(7);
      wire.shutter(universe, channels);
      return channels[511]!;
    };
    expect([channel(3), channel(2)]).toEqual([0, 7]);
    await arm();
    expect([channel(3), channel(2)]).toEqual([255, 7]);
    wire.leave();
    expect(channel(3)).toBe(0);
  });
  it('goes to another machine only where packets may leave this one, and says why not', async () => {
    const far: LaserSetting = { ...USUAL_LASER, to: { kind: 'network', host: '192.0.2.9', port: 7255 } };
    wire.set(far, performance.now());
    expect(wire.state(performance.now()).trouble).toContain('Arm the outputs');
    expect(wire.state(performance.now()).state).toBeNull();
    wire.mayLeave(true, performance.now());
    expect(wire.state(performance.now())).toMatchObject({ trouble: null, address: '192.0.2.9:7255' });
    wire.mayLeave(false, performance.now());
    expect(wire.state(performance.now()).state).toBeNull();
    // To this machine it may go by itself.
    const own: LaserSetting = { ...far, to: { kind: 'network', host: projector.host, port: projector.port } };
    wire.set(own, performance.now());
    await arm();
    await until(() => projector.litAt > 0);
  });
  it('is disarmed by every change but of where it may shine', async () => {
    wire.set(USUAL_LASER, performance.now());
    await arm();
    const step = (): string | undefined => wire.state(performance.now()).state?.step;
    expect(step()).toBe('armed');
    wire.set({ ...USUAL_LASER, limits: { ...USUAL_LASER.limits, keepOuts: [] } }, performance.now());
    expect(step()).toBe('armed');
    wire.set({ ...USUAL_LASER, bits: 8 }, performance.now());
    expect(step()).toBe('dark');
  });
});

describe('frames between two threads', () => {
  it('are read whole and once, the newest of them', () => {
    const memory = makeLaserMemory(),
      w = new LaserWriter(memory),
      r = new LaserReader(memory);
    expect(r.read()).toBe(false);
    w.write(new Uint8Array(Float32Array.of(1, 2, 3, 4, 5).buffer), 10, 1);
    w.write(new Uint8Array(Float32Array.of(6, 7, 8, 9, 10, 0, 0, 0, 0, 0).buffer), 20, 2);
    expect(r.read()).toBe(true);
    expect([r.count, r.madeAt, r.marks, ...r.points.subarray(0, 5)]).toEqual([2, 20, 2, 6, 7, 8, 9, 10]);
    expect(r.read()).toBe(false);
  });
});
