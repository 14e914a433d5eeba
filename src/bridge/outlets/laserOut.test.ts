import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { addRing, LaserPaths, type LaserLimits, POINT, PointMaker, USUAL_LIMITS } from '../../core/laser';
import { decodeIdnScanned, encodeIdnScan } from '../../core/protocols';
import { seeded } from '../../core/random';
import { Projector } from '../simulated/projector';
import { LaserOut } from './laserOut';
import { until } from './testKit';

/** A ring that stands is drawn over and over: with the usual dose it would be dimmed. */
const LIMITS: LaserLimits = { ...USUAL_LIMITS, most: 1, dose: 40 };
/** A ring in the upper half of the field. */
function ring(): PointMaker {
  const paths = new LaserPaths(),
    maker = new PointMaker();
  addRing(paths, [1, 1, 1]);
  for (let i = 0; i < paths.starts[1]!; i++) {
    paths.corners[i * POINT] = paths.corners[i * POINT]! * 0.5;
    paths.corners[i * POINT + 1] = paths.corners[i * POINT + 1]! * 0.4 + 0.3;
  }
  maker.make(paths);
  return maker;
}

let projector: Projector, out: LaserOut;
beforeEach(async () => {
  projector = await Projector.open(0);
  out = new LaserOut(projector, LIMITS);
});
afterEach(async () => {
  await out.close();
  await projector.close();
});
/** Turns and frames as the sending thread has them, until it is stopped. @param frames - whether new ones come */
function runs(frames: () => boolean, driver: () => number = () => 5): () => void {
  const { points, count } = ring();
  const timer = setInterval(() => {
    const now = performance.now();
    if (frames()) out.take(points, count, now);
    out.turn(now, driver(), false);
  }, 5);
  return () => clearInterval(timer);
}

describe('a laser’s stream', () => {
  it.each([8, 16] as const)(
    'in %d bits is decoded by code of its own: the ring where it is, thirty thousand points a second',
    async (bits) => {
      await out.close();
      out = new LaserOut(projector, LIMITS, bits);
      const stop = runs(() => true);
      out.gate.arm();
      await until(() => projector.litAt > 0);
      const from = projector.points,
        at = performance.now();
      await new Promise((r) => setTimeout(r, 400));
      const rate = ((projector.points - from) * 1000) / (performance.now() - at);
      stop();
      expect(projector.bad).toBe(0);
      expect(rate).toBeGreaterThan(27000);
      expect(rate).toBeLessThan(33000);
      const lit = projector.seen.filter((p) => p.g > 0).slice(-500);
      expect(lit.length).toBe(500);
      for (const p of lit) {
        // The ring is an ellipse of 0.5 by 0.4 about (0, 0.3).
        const far = Math.hypot(p.x / 0.5, (p.y - 0.3) / 0.4);
        expect(Math.abs(far - 1)).toBeLessThan(0.06);
        expect(p.g).toBeGreaterThan(0.99);
      }
    },
  );
  it('is dark until it is armed, and within 60 ms of the last frame, for good until it is armed again', async () => {
    let frames = true;
    const stop = runs(() => frames);
    await until(() => projector.points > 3000);
    expect(projector.litAt).toBe(-Infinity);
    out.gate.arm();
    await until(() => projector.litAt > 0);
    frames = false;
    const failed = performance.now();
    await until(() => out.gate.why === 'old frame');
    await new Promise((r) => setTimeout(r, 200));
    // A machine that is held up may send what was due a little later; its points carry their own time.
    expect(projector.litAt - failed).toBeLessThan(90);
    frames = true;
    await new Promise((r) => setTimeout(r, 150));
    expect(performance.now() - projector.litAt).toBeGreaterThan(200);
    out.gate.arm();
    await until(() => performance.now() - projector.litAt < 30);
    stop();
  });
  it('is dark when its driver is not heard of, and when dark is pressed', async () => {
    let driver = 5;
    const stop = runs(
      () => true,
      () => driver,
    );
    out.gate.arm();
    await until(() => projector.litAt > 0);
    driver = 51;
    await until(() => out.gate.why === 'no driver');
    const at = performance.now();
    await new Promise((r) => setTimeout(r, 100));
    expect(projector.litAt - at).toBeLessThan(30);
    stop();
  });
  it('comes back after a pause without catching up', async () => {
    const { points, count } = ring();
    out.gate.arm();
    out.take(points, count, 1000);
    out.turn(1000, 5, false);
    await until(() => projector.points > 0);
    const before = projector.points;
    out.take(points, count, 9000);
    out.turn(9000, 5, false);
    await until(() => projector.points > before);
    await new Promise((r) => setTimeout(r, 50));
    expect(projector.points - before).toBeLessThan(500);
  });
});

describe('a projector that ships with us', () => {
  it('says who it is', async () => {
    const socket = createSocket('udp4'),
      answers: Buffer[] = [];
    socket.on('message', (m) => answers.push(m));
    socket.send(encodeIdnScan(7), projector.port, projector.host);
    await until(() => answers.length > 0);
    socket.close();
    expect(answers[0]!.readUInt16BE(2)).toBe(7);
    expect(decodeIdnScanned(answers[0]!)).toMatchObject({
      name: 'Awning laser',
      occupied: false,
      offline: false,
    });
  });
  it('counts what is not what it should be, and draws nothing by it', async () => {
    const socket = createSocket('udp4'),
      random = seeded(6);
    for (let i = 0; i < 2000; i++) {
      const m = Buffer.alloc(Math.floor(random() * 200));
      for (let k = 0; k < m.length; k++) m[k] = Math.floor(random() * 256);
      if (m.length > 0) m[0] = [0x40, 0x40, 0x40, 0x10, 0x77][i % 5]!;
      await new Promise<void>((done) => socket.send(m, projector.port, projector.host, () => done()));
      if (i % 40 === 0) await new Promise((r) => setImmediate(r));
    }
    await until(() => projector.bad > 1000);
    socket.close();
    expect(projector.points).toBe(0);
  });
});
