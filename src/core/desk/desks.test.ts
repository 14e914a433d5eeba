import { describe, expect, it } from '@jest/globals';
import { type DeskPacket, Desks } from './desks';

const packet = (change: Partial<DeskPacket> = {}, ...levels: number[]): DeskPacket => ({
  protocol: 'sacn',
  desk: 'a',
  name: 'A',
  address: '10.0.0.1',
  universe: 0,
  priority: 100,
  sequence: null,
  ended: false,
  channels: Uint8Array.from(levels),
  ...change,
});
/** What is told in one turn: universe, first two channels, whether heard. */
function told(desks: Desks, now: number): [number, number, number, boolean][] {
  const out: [number, number, number, boolean][] = [];
  desks.turn(now, (u, c, _, heard) => out.push([u, c[0]!, c[1]!, heard]));
  return out;
}

describe('what desks send', () => {
  it('is told when it changes, and only then', () => {
    const desks = new Desks();
    desks.take(packet({}, 10, 20), 0);
    expect(told(desks, 0)).toEqual([[0, 10, 20, true]]);
    desks.take(packet({}, 10, 20), 20);
    expect(told(desks, 20)).toEqual([]);
    desks.take(packet({}, 10, 21), 40);
    expect(told(desks, 40)).toEqual([[0, 10, 21, true]]);
    desks.tellAgain();
    expect(told(desks, 41)).toEqual([[0, 10, 21, true]]);
  });
  it('tells which channels are others than before; those that are first heard are none', () => {
    const desks = new Desks(),
      changes: number[][] = [];
    const turn = (now: number): void =>
      desks.turn(now, (_, c, before) => changes.push([...c.keys()].filter((i) => c[i] !== before[i])));
    desks.take(packet({}, 10, 20), 0);
    turn(0);
    desks.take(packet({}, 10, 30), 10);
    turn(10);
    expect(changes).toEqual([[], [1]]);
  });
  it('of several desks is the highest priority, and of equals the higher channel', () => {
    const desks = new Desks();
    desks.take(packet({}, 10, 20), 0);
    desks.take(packet({ desk: 'b' }, 30, 5), 0);
    expect(told(desks, 0)).toEqual([[0, 30, 20, true]]);
    desks.take(packet({ desk: 'c', priority: 150 }, 1, 2), 10);
    expect(told(desks, 10)).toEqual([[0, 1, 2, true]]);
  });
  it('is lost after two and a half seconds of silence, or when it says that it has ended', () => {
    const desks = new Desks();
    desks.take(packet({}, 10, 20), 0);
    told(desks, 0);
    expect(told(desks, 2500)).toEqual([]);
    expect(told(desks, 2501)).toEqual([[0, 0, 0, false]]);
    expect(desks.seen.map((d) => d.live)).toEqual([false]);
    desks.take(packet({}, 7, 8), 3000);
    expect(told(desks, 3000)).toEqual([[0, 7, 8, true]]);
    desks.take(packet({ ended: true }), 3010);
    expect(told(desks, 3010)).toEqual([[0, 0, 0, false]]);
    told(desks, 90000);
    expect(desks.seen).toEqual([]);
  });
  it('passes over packets that were overtaken, as each standard says', () => {
    const desks = new Desks();
    const send = (sequence: number, level: number, protocol: 'sacn' | 'artnet' = 'sacn'): void =>
      desks.take(
        packet({ sequence, protocol, desk: protocol, universe: protocol === 'sacn' ? 0 : 1 }, level),
        0,
      );
    send(250, 1);
    send(2, 2); // round the corner
    send(255, 3); // three behind
    expect(told(desks, 0)[0]![1]).toBe(2);
    send(200, 4); // far behind: the desk was started anew (E1.31 6.7.2)
    expect(told(desks, 1)[0]![1]).toBe(4);
    send(10, 1, 'artnet');
    send(9, 2, 'artnet');
    expect(told(desks, 2)).toEqual([[1, 1, 0, true]]);
    expect(desks.passedOver).toBe(2);
  });
  it('is heard of so many at most', () => {
    const desks = new Desks();
    for (let i = 0; i < 1000; i++) desks.take(packet({ desk: `d${i}`, universe: i }, 1), 0);
    expect(desks.seen.length).toBe(256);
    expect(desks.passedOver).toBe(744);
  });
});
