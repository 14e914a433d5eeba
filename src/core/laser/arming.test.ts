import { describe, expect, it } from '@jest/globals';
import { Arming, READY_MS } from './arming';
import { USUAL_LASER, onlyWhere, pointsFor, readLaserSetting } from './setting';

describe('arming', () => {
  it('takes two acts, apart by a moment and no more than a while', () => {
    const a = new Arming();
    expect([a.act('arm', 0), a.act('ready', 1000), a.act('arm', 1001)]).toEqual([false, false, false]);
    a.act('ready', 2000);
    expect(a.isReady(2000 + READY_MS)).toBe(true);
    expect(a.act('arm', 2000 + READY_MS)).toBe(true);
    a.act('ready', 50000);
    expect([a.act('arm', 50001 + READY_MS), a.isReady(50001 + READY_MS)]).toEqual([false, false]);
  });
  it.each(['let go', 'dark'] as const)('is forgotten by “%s”, and after it was used', (end) => {
    const a = new Arming();
    a.act('ready', 0);
    a.act(end, 500);
    expect(a.act('arm', 1000)).toBe(false);
    a.act('ready', 2000);
    expect([a.act('arm', 3000), a.act('arm', 3500)]).toEqual([true, false]);
    a.act('ready', 4000);
    a.forget();
    expect(a.act('arm', 5000)).toBe(false);
  });
});

describe('a laser’s setting', () => {
  it('is read as it is written, and refused with the range where it is beyond sense', () => {
    expect(readLaserSetting(JSON.parse(JSON.stringify(USUAL_LASER))).setting).toEqual(USUAL_LASER);
    for (const [change, words] of [
      [{ scanner: { ...USUAL_LASER.scanner, angle: 400 } }, 'less than or equal to 120'],
      [{ limits: { ...USUAL_LASER.limits, pointsPerSecond: 100 } }, 'greater than or equal to 5000'],
      [{ to: { kind: 'network', host: 'no host!', port: 1 } }, 'to'],
      [{ shutter: { universe: 0, address: 513 } }, 'less than or equal to 512'],
    ] as const)
      expect(readLaserSetting({ ...USUAL_LASER, ...change }).why).toContain(words);
    expect(readLaserSetting(null).why).toContain('cannot be set');
  });
  it('tells what only moves where it may shine from all else', () => {
    const { limits } = USUAL_LASER;
    expect(onlyWhere(USUAL_LASER, { ...USUAL_LASER, limits: { ...limits, keepOuts: [] } })).toBe(true);
    expect(onlyWhere(USUAL_LASER, { ...USUAL_LASER, field: { ...USUAL_LASER.field, mirrorX: true } })).toBe(
      true,
    );
    expect(onlyWhere(USUAL_LASER, { ...USUAL_LASER, limits: { ...limits, most: 1 } })).toBe(false);
    expect(onlyWhere(USUAL_LASER, { ...USUAL_LASER, to: { kind: 'network', host: 'a', port: 1 } })).toBe(
      false,
    );
  });
  it('gives no two points further apart than slow mirrors go', () => {
    const slow = { ...USUAL_LASER, scanner: { ...USUAL_LASER.scanner, speed: 300 } };
    expect(pointsFor(slow).spacing).toBeCloseTo(300 / 30000, 9);
    expect(pointsFor(slow).darkSpacing).toBeCloseTo(300 / 30000, 9);
    const heavy = { ...USUAL_LASER, scanner: { ...USUAL_LASER.scanner, acceleration: 3e7 / 4 } };
    expect([pointsFor(USUAL_LASER).dwell, pointsFor(heavy).dwell]).toEqual([6, 12]);
  });
});
