import { describe, expect, it } from '@jest/globals';
import { DevicePace, type Fences } from './devicePace';

const DEPTH = 3;

/** A device that does its work when it is told to, and counts what it is asked for. */
class Device implements Fences {
  readonly SYNC_GPU_COMMANDS_COMPLETE = 0x9117;
  readonly SYNC_STATUS = 0x9114;
  readonly SIGNALED = 0x9119;
  open: WebGLSync[] = [];
  done = new Set<WebGLSync>();
  asked = 0;
  lost = false;
  fenceSync(): WebGLSync {
    const s = {} as WebGLSync;
    this.open.push(s);
    this.asked++;
    return s;
  }
  getSyncParameter(s: WebGLSync): number {
    return this.done.has(s) ? this.SIGNALED : 0x9118;
  }
  deleteSync(s: WebGLSync | null): void {
    this.open = this.open.filter((o) => o !== s);
  }
  flush(): void {
    /* nothing is kept back */
  }
  isContextLost(): boolean {
    return this.lost;
  }
  finish(n = Infinity): void {
    for (const s of this.open.slice(0, n)) this.done.add(s);
  }
}

describe('the pace of a graphics device', () => {
  it('gives it so many pictures and no more, until the oldest is done', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH, DEPTH);
    for (let i = 0; i < DEPTH; i++) {
      expect(pace.ready(device, i)).toBe(true);
      pace.gave(device, i);
    }
    expect([pace.ready(device, 20), pace.ready(device, 40)]).toEqual([false, false]);
    device.finish(1);
    expect(pace.ready(device, 80)).toBe(true);
    pace.gave(device, 80);
    expect(pace.ready(device, 81)).toBe(false);
    expect(device.open.length).toBe(DEPTH);
    device.finish();
    expect(pace.ready(device, 90)).toBe(true);
    expect(device.open.length).toBe(0);
  });
  it('does not take for slow what somebody else waited for', () => {
    const device = new Device(),
      pace = new DevicePace(1);
    pace.gave(device, 0);
    expect(pace.ready(device, 20)).toBe(false);
    device.finish();
    pace.waitedFor(device);
    expect([pace.ready(device, 1000), pace.took, device.open.length]).toEqual([true, 0, 0]);
  });
  it('waits for each picture where only one may be under way', () => {
    const device = new Device(),
      pace = new DevicePace(1);
    pace.gave(device, 0);
    expect(pace.ready(device, 50)).toBe(false);
    device.finish();
    expect(pace.ready(device, 60)).toBe(true);
    // Two fifths of its 60 ms.
    expect(pace.took).toBeCloseTo(24, 6);
  });
  it('gives an unknown device one at a time until it has kept up, and again once it falls behind', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH);
    for (let i = 0; i < 8; i++) {
      expect(pace.ready(device, i * 16)).toBe(true);
      pace.gave(device, i * 16);
      device.finish();
    }
    for (let i = 0; i < DEPTH; i++) {
      expect(pace.ready(device, 200)).toBe(true);
      pace.gave(device, 200);
    }
    expect(pace.ready(device, 300)).toBe(false);
    device.finish();
    expect(pace.ready(device, 500)).toBe(true);
    pace.gave(device, 500);
    expect(pace.ready(device, 501)).toBe(false);
  });
  it('says how long a picture takes a device that cannot follow', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH, DEPTH);
    let now = 0;
    // One picture is done every 30 ms, and always as many as may be are waiting.
    for (let i = 0; i < DEPTH; i++) {
      pace.ready(device, now);
      pace.gave(device, now);
    }
    for (let i = 0; i < 60; i++) {
      now += 15;
      pace.ready(device, now);
      now += 15;
      device.finish(1);
      expect(pace.ready(device, now)).toBe(true);
      pace.gave(device, now);
    }
    // Smoothed by two fifths, within 0.6^60 of it.
    expect(pace.took).toBeCloseTo(30, 1);
  });
  it('asks a fast device ever more rarely, and takes no time for late that was only looked at late', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH, DEPTH);
    for (let i = 0; i < 60 + 80; i++) {
      expect(pace.ready(device, i * 16)).toBe(true);
      pace.gave(device, i * 16);
      device.finish();
    }
    expect(device.asked).toBe(60 + 10);
    expect(pace.took).toBe(0);
  });
  it('asks at every picture again once one was late', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH, DEPTH);
    for (let i = 0; i < 100; i++) {
      pace.ready(device, i);
      pace.gave(device, i);
      device.finish();
    }
    device.done.clear();
    let held = false;
    for (let i = 0; i < DEPTH * 8 + 8 && !held; i++) {
      held = !pace.ready(device, 200 + i);
      if (!held) pace.gave(device, 200 + i);
    }
    expect(held).toBe(true);
    device.finish();
    expect(pace.ready(device, 300)).toBe(true);
    const before = device.asked;
    for (let i = 0; i < 10; i++) {
      pace.gave(device, 400 + i);
      device.finish();
      pace.ready(device, 400 + i);
    }
    expect(device.asked).toBe(before + 10);
  });
  it('does not wait for a device that was lost', () => {
    const device = new Device(),
      pace = new DevicePace(DEPTH, DEPTH),
      fill = (): void => {
        for (let i = 0; i < DEPTH; i++) {
          pace.ready(device, i);
          pace.gave(device, i);
        }
      };
    fill();
    device.lost = true;
    expect(pace.ready(device, 1)).toBe(true);
    device.lost = false;
    fill();
    expect(pace.ready(device, 3)).toBe(false);
    pace.forget(); // regained meanwhile: its old fences would never be passed
    expect(pace.ready(device, 4)).toBe(true);
  });
});
