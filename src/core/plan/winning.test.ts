import { describe, expect, it } from '@jest/globals';
import { Winning } from './winning';

/** One value with something to say in every column, each by itself or all together. */
function settled(set: (w: Winning) => void, frozen = 0, darkness = 0): number {
  const w = new Winning(1),
    out = new Float32Array(1);
  w.rest[0] = 1;
  w.low[0] = 0;
  w.high[0] = 100;
  set(w);
  w.begin(1);
  return (w.settle(out, 0, 1, frozen, darkness), out[0]!);
}

describe('what wins', () => {
  it('is, one over the other: rest, look, routes, hand, masters, limits, freeze, dark', () => {
    const columns: ((w: Winning) => void)[] = [
      () => undefined,
      (w) => {
        w.look[0] = 2;
        w.lookShare[0] = 1;
      },
      (w) => {
        w.hand[0] = 4;
        w.handShare[0] = 1;
      },
      (w) => {
        w.still[0] = 0;
        w.master[0] = 0.5;
      },
      (w) => {
        w.high[0] = 1.5;
      },
      (w) => {
        w.frozenAt[0] = 30;
        w.dark[0] = 40;
      },
    ];
    const upTo = (n: number, frozen = 0, darkness = 0): number =>
      settled((w) => columns.slice(0, n + 1).forEach((c) => c(w)), frozen, darkness);
    expect([0, 1, 2, 3, 4].map((n) => upTo(n))).toEqual([1, 2, 4, 2, 1.5]);
    expect(upTo(5)).toBe(1.5);
    expect(upTo(5, 1)).toBe(30); // what was held went through its limits when it went out
    expect(upTo(5, 1, 1)).toBe(40);
    expect(upTo(5, 0, 0.5)).toBe((1.5 + 40) / 2);
  });
  it('a look that is half in lies between rest and look, and routes move from there', () => {
    const w = new Winning(1),
      out = new Float32Array(1);
    w.rest[0] = 10;
    w.look[0] = 20;
    w.lookShare[0] = 0.5;
    w.begin(1);
    w.live[0]! += 5;
    w.settle(out, 0, 1, 0, 0);
    expect(out[0]).toBe(20);
  });
  it('what has no dark stays as it is in the dark', () => {
    expect(settled(() => undefined, 0, 1)).toBe(1);
  });
  it('touches no row beside those that are settled', () => {
    const w = new Winning(4),
      out = Float32Array.of(9, 9, 9, 9);
    w.begin(4);
    w.settle(out, 1, 3, 0, 0);
    expect([...out]).toEqual([9, 0, 0, 9]);
  });
  it('moves whole rows, every column of them', () => {
    const a = new Winning(2),
      b = new Winning(3);
    a.rest[1] = 3;
    a.hand[1] = 7;
    a.handShare[1] = 1;
    a.low[1] = -1;
    a.dark[1] = 5;
    b.take(a, 1, 2, 1);
    expect([b.rest[2], b.hand[2], b.handShare[2], b.low[2], b.high[2], b.dark[2]]).toEqual([
      3,
      7,
      1,
      -1,
      Infinity,
      5,
    ]);
  });
});
