import { describe, expect, it } from '@jest/globals';
import type { PlanMap } from '../../core/plan';
import { decodeOsc } from '../../core/protocols';
import type { OscForm } from '../../core/messages';
import type { FrameReader } from '../memory/frames';
import { MessageStream } from './messageStream';

const make = (change: Partial<OscForm> = {}): MessageStream => {
  const form: OscForm = {
    kind: 'osc',
    target: { kind: 'simulated' },
    address: '/deck/level',
    type: 'float',
    low: 10,
    high: 20,
    ...change,
  };
  return new MessageStream({ id: 'm', name: 'M', rest: {}, form }, form);
};
const MAP: PlanMap = {
  epoch: 0,
  version: 0,
  signals: {},
  parameters: { 'm/value': 0, 'm/strike': 1 },
  vectors: {},
};
const frame = (value: number): FrameReader => ({ parameters: Float32Array.of(value, 0), time: 3 }) as never;
const said = (s: MessageStream): number => decodeOsc(s.packet)![0]!.numbers[0]!;

describe('what is said to another program', () => {
  it('is its value, between the numbers that were set, when it changes and no more than sixty times a second', () => {
    const s = make();
    s.place(MAP);
    expect(s.next(frame(50), 0)).toBe(true);
    expect([decodeOsc(s.packet)![0]!.address, said(s)]).toEqual(['/deck/level', 15]);
    expect(s.next(frame(50), 1000)).toBe(false);
    let sent = 0;
    for (let now = 2000; now < 3000; now += 5) if (s.next(frame((now / 10) % 100), now)) sent++;
    expect(sent).toBeLessThanOrEqual(62);
    expect(sent).toBeGreaterThan(50);
    expect(s.next(frame(NaN), 9000)).toBe(true);
    expect(said(s)).toBe(10);
  });
  it('is each hit at once, in its order, and those of others are passed over', () => {
    const s = make({ type: 'int', low: 0, high: 127 });
    s.place(MAP);
    s.next(frame(0), 0);
    for (const strength of [100, 50, 0]) s.take(1, 0, strength);
    s.take(7, 0, 100);
    const all: number[] = [];
    while (s.next(frame(0), 1)) all.push(said(s));
    expect(all).toEqual([127, 64, 0]);
  });
  it('says nothing while its thing is not there', () => {
    const s = make();
    s.place({ ...MAP, parameters: {} });
    s.take(1, 0, 100);
    expect(s.next(frame(50), 0)).toBe(false);
  });
  it('goes as a bundle whose time tag is that of the hit, and so long after it as was set', () => {
    const s = make({ bundle: { afterMs: 80 } });
    s.place(MAP);
    s.next(frame(0), 0);
    s.take(1, 2.9875, 100); // the frame is of second 3
    expect(s.next(frame(0), 500)).toBe(true);
    expect(new TextDecoder().decode(s.packet.subarray(0, 8))).toBe('#bundle\0');
    const view = new DataView(s.packet.buffer),
      // RFC 868: the time 2,208,988,800 is 1970.
      due = (view.getUint32(8) - 2208988800 + view.getUint32(12) / 2 ** 32) * 1000;
    expect(due - performance.timeOrigin).toBeCloseTo(500 - 12.5 + 80, 0);
    expect(view.getUint32(16)).toBe(s.packet.length - 20);
    expect(said(s)).toBe(20);
  });
  it('goes as a bundle that is followed at once: 63 zeros and a one', () => {
    const s = make({ bundle: { afterMs: null } });
    s.place(MAP);
    s.next(frame(50), 0);
    expect([...s.packet.subarray(8, 16)]).toEqual([0, 0, 0, 0, 0, 0, 0, 1]);
    expect(said(s)).toBe(15);
  });
});
