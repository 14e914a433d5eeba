import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { type LaserSetting, USUAL_LASER, USUAL_LIMITS } from '../../core/laser';
import { decodeIdnScanned, encodeIdnScan, LASER_DARK, LASER_PLAYS } from '../../core/protocols';
import { seeded } from '../../core/random';
import { Projector } from '../simulated/projector';
import { type LaserEnd, LaserOut } from './laserOut';
import { until, upperRing } from './testKit';

/** A ring that stands is drawn over and over: with the usual dose it would be dimmed. */
const SETTING: LaserSetting = { ...USUAL_LASER, limits: { ...USUAL_LIMITS, most: 1, dose: 40 } };
let projector: Projector, out: LaserOut;
beforeEach(async () => {
  projector = await Projector.open(0);
  out = new LaserOut(place(), SETTING);
});
afterEach(async () => {
  await out.close();
  await projector.close();
});
const place = (): LaserEnd => ({ host: projector.host, port: projector.port });
const PLAYS = LASER_PLAYS;
/** Turns and frames as the sending thread has them, until it is stopped. @param frames - whether new ones come, and with which marks */
function runs(frames: () => boolean, marks: () => number = () => PLAYS): () => void {
  const { points, count } = upperRing();
  const timer = setInterval(() => {
    const now = performance.now();
    if (frames()) out.take(points, count, now, marks(), now);
    out.turn(now);
  }, 5);
  return () => clearInterval(timer);
}
/** Both acts, as far apart as people are. */
async function arm(): Promise<void> {
  out.act('ready', performance.now());
  await new Promise((r) => setTimeout(r, 300));
  out.act('arm', performance.now());
}
const rest = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

describe('a laser’s stream', () => {
  it.each([
    [8, 'wave'],
    [16, 'wave'],
    [16, 'frame'],
    [8, 'frame'],
  ] as const)(
    'in %d bits as a %s is decoded by code of its own: the ring where it is, thirty thousand points a second',
    async (bits, mode) => {
      await out.close();
      out = new LaserOut(place(), { ...SETTING, bits, mode });
      // Time goes on by steps here, never ahead of the real: a machine that is held up makes the stream no slower.
      const { points, count } = upperRing();
      let now = performance.now();
      const go = async (ms: number): Promise<void> => {
        for (const end = now + ms; now < end;) {
          now += 5;
          out.take(points, count, now, PLAYS, now);
          out.turn(now);
          await rest(5);
        }
      };
      await go(20);
      out.act('ready', now);
      await go(300);
      out.act('arm', now);
      await go(100);
      await until(() => projector.litAt > 0);
      const from = projector.points;
      await go(400);
      for (let was = -1; was !== projector.points; await rest(80)) was = projector.points;
      const rate = (projector.points - from) / 0.4;
      expect(projector.bad).toBe(0);
      expect(rate).toBeGreaterThan(26000);
      expect(rate).toBeLessThan(34000);
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
  it('is silent until it is armed by two acts, and dark within 60 ms of the last frame, for good until it is armed again', async () => {
    let frames = true;
    const stop = runs(() => frames);
    await rest(100);
    out.act('arm', performance.now());
    await rest(100);
    expect([projector.points, out.why]).toEqual([0, 'not armed']);
    await arm();
    await until(() => projector.litAt > 0);
    frames = false;
    const failed = performance.now();
    await until(() => out.why === 'old frame' || out.why === 'no driver');
    await rest(200);
    // Points carry their own time; a machine that is held up may send what was due a little later.
    expect(projector.litAt - failed).toBeLessThan(75);
    expect(projector.closed).toBe(1);
    frames = true;
    await rest(150);
    expect(performance.now() - projector.litAt).toBeGreaterThan(200);
    await arm();
    await until(() => performance.now() - projector.litAt < 30);
    stop();
  });
  it.each([
    ['dark', LASER_PLAYS | LASER_DARK],
    ['stopped', 0],
  ] as const)('is %s as soon as a frame says so, and stays so', async (why, marks) => {
    let now: number = PLAYS;
    const stop = runs(
      () => true,
      () => now,
    );
    await arm();
    await until(() => projector.litAt > 0);
    now = marks;
    const at = performance.now();
    await until(() => out.why === why);
    await rest(150);
    expect(projector.litAt - at).toBeLessThan(40);
    // Dark cannot be armed; what is only stopped can.
    await arm();
    expect(out.isOpen).toBe(why === 'stopped');
    now = PLAYS;
    await rest(60);
    expect(out.isOpen).toBe(why === 'stopped');
    stop();
  });
  it('is disarmed by hand, and when its driver leaves; a frame that was made long ago darkens it', async () => {
    const { points, count } = upperRing();
    let age = 0;
    const timer = setInterval(() => {
      const now = performance.now();
      out.take(points, count, now - age, PLAYS, now);
      out.turn(now);
    }, 5);
    for (const [end, why] of [
      [() => out.act('let go', performance.now()), 'let go'],
      [() => out.leave(), 'no driver'],
      [() => (age = 60), 'old frame'],
    ] as const) {
      await arm();
      await until(() => performance.now() - projector.litAt < 30);
      end();
      await until(() => !out.isOpen);
      expect(out.why).toBe(why);
    }
    clearInterval(timer);
  });
  it('comes back after a pause of its thread without catching up, and dark', async () => {
    const stop = runs(() => true);
    await arm();
    await until(() => projector.litAt > 0);
    stop();
    const before = projector.points;
    await rest(120);
    out.turn(performance.now());
    await rest(50);
    expect(out.why).toBe('fault');
    expect(projector.points - before).toBeLessThan(600);
    expect(performance.now() - projector.litAt).toBeGreaterThan(130);
  });
  it('is shut when its projector answers no more, and not lit again when that is back', async () => {
    const stop = runs(() => true);
    await arm();
    await until(() => projector.litAt > 0);
    await rest(250);
    const { port } = projector;
    await projector.close();
    await until(() => out.why === 'no projector');
    projector = await Projector.open(port);
    await rest(250);
    expect(projector.litAt).toBe(-Infinity);
    await arm();
    await until(() => projector.litAt > 0);
    stop();
  });
  it('begins anew for a projector that knew another sender', async () => {
    const other = new LaserOut(place(), SETTING),
      mine = out;
    for (const one of [other, mine]) {
      out = one;
      const stop = runs(() => true);
      await arm();
      await until(() => performance.now() - projector.litAt < 20);
      stop();
      await rest(60);
    }
    expect(projector.bad).toBe(0);
    await other.close();
  });
  it('takes other keep-outs while it is lit: nothing is lit there from then on', async () => {
    const stop = runs(() => true);
    await arm();
    await until(() => projector.litAt > 0);
    const right = [0.1, -1, 1, -1, 1, 1, 0.1, 1];
    out.setWhere({
      limits: { ...SETTING.limits, keepOuts: [...SETTING.limits.keepOuts, right] },
      field: SETTING.field,
    });
    await rest(60);
    const from = performance.now();
    await rest(200);
    stop();
    const lit = projector.seen.filter((p) => p.at > from && p.g > 0);
    expect(lit.length).toBeGreaterThan(200);
    expect(Math.max(...lit.map((p) => p.x))).toBeLessThan(0.1);
    expect(out.isOpen).toBe(true);
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
