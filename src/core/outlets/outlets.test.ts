import { describe, expect, it } from '@jest/globals';
import { DelayedBytes } from './delayedBytes';
import { levelled } from './lineUp';
import { Pace } from './pace';
import { type Ends, Fate, liveShare, towardsSafe } from './stream';
import { makeStreamMemory, StreamReader, StreamWriter } from './streamMemory';

describe('a stream’s pace', () => {
  /** Sends whenever it is due, looking every millisecond. @returns when it sent */
  const sent = (pace: Pace, from: number, to: number, change: (now: number) => boolean): number[] => {
    const out: number[] = [];
    for (let now = from; now < to; now++) {
      if (change(now)) pace.change();
      if (pace.wait(now) <= 0) {
        pace.sent(now);
        out.push(now);
      }
    }
    return out;
  };
  it('sends nothing before there is anything, and the first at once', () => {
    const pace = new Pace(40, 800);
    expect(pace.wait(0)).toBe(Infinity);
    pace.change();
    expect(pace.wait(1e9)).toBeLessThanOrEqual(0);
  });
  it('never sends more than two in two intervals, however fast values come, and ends on the last', () => {
    const pace = new Pace(40, null);
    const at = sent(pace, 0, 1000, () => true);
    for (let i = 2; i < at.length; i++) expect(at[i]! - at[i - 2]!).toBeGreaterThanOrEqual(50);
    expect(at.length).toBeGreaterThan(36);
    expect(at.length).toBeLessThanOrEqual(41);
    expect(pace.wait(2000)).toBeLessThanOrEqual(0); // the change after the last is still to go out
  });
  it('after a rest lets two go close upon each other', () => {
    const pace = new Pace(40, null);
    const at = sent(pace, 0, 600, (now) => now === 0 || now === 500 || now === 505);
    expect(at).toEqual([0, 500, 505]);
  });
  it('sends again when nothing changes for the keep-alive, and only then', () => {
    const pace = new Pace(40, 800);
    expect(sent(pace, 0, 2000, (now) => now === 100)).toEqual([100, 900, 1700]);
  });
});

describe('a stream’s safe state', () => {
  it('hold: the last values, for ever', () => {
    expect(liveShare({ then: 'hold' }, 1e12)).toBe(1);
  });
  it('rest or dark: the last values for a while, and then less and less of them', () => {
    const safe = { then: 'dark', afterMs: 4000, overMs: 1000 } as const;
    expect([0, 4000, 4250, 4500, 5000, 1e9].map((ms) => liveShare(safe, ms))).toEqual([
      1, 1, 0.75, 0.5, 0, 0,
    ]);
    expect(liveShare({ then: 'rest', afterMs: 4000, overMs: 0 }, 4001)).toBe(0);
  });
  it('a silence that is no number counts as none', () => {
    expect(liveShare({ then: 'dark', afterMs: 10, overMs: 0 }, NaN)).toBe(1);
  });
  it('goes straight from what was to what is safe, byte by byte', () => {
    const out = new Uint8Array(3);
    towardsSafe(Uint8Array.of(200, 100, 0), { ...LIGHT, rest: Uint8Array.of(100, 100, 50) }, 0.5, false, out);
    expect([...out]).toEqual([150, 100, 25]);
    towardsSafe(Uint8Array.of(200, 100, 0), LIGHT, 0, false, out);
    expect([...out]).toEqual([0, 0, 0]);
  });
});

/** Everything is light, and goes dark. */
const LIGHT: Ends = { rest: null, fates: null, calm: null };

describe('what becomes of a lamp that nobody drives', () => {
  const fates = Uint8Array.of(Fate.Light, Fate.Held, Fate.Calm, Fate.LightPair, Fate.Light),
    ends: Ends = { rest: null, fates, calm: Uint8Array.of(9, 9, 32, 9, 9) },
    live = Uint8Array.of(200, 77, 220, 0x80, 0x40);
  const sent = (share: number, calm: boolean, to: Ends = ends): number[] => {
    const out = new Uint8Array(5);
    towardsSafe(live, to, share, calm, out);
    return [...out];
  };
  it('while it is held its light stays, and so does what turns; what flashes ends', () => {
    expect(sent(1, false)).toEqual([200, 77, 220, 0x80, 0x40]);
    expect(sent(1, true)).toEqual([200, 77, 32, 0x80, 0x40]);
  });
  it('in the dark its light is out, and what turns is where it was', () => {
    expect(sent(0, true)).toEqual([0, 77, 32, 0, 0]);
  });
  it('light of two bytes fades as one number: half of 0x8040 is 0x4020', () => {
    expect(sent(0.5, true).slice(3)).toEqual([0x40, 0x20]);
    const rest = Uint8Array.of(0, 0, 0, 0x10, 0x00);
    expect(sent(0, true, { ...ends, rest }).slice(3)).toEqual([0x10, 0x00]);
    for (let share = 1, last = Infinity; share >= 0; share -= 0.001) {
      const [coarse, fine] = sent(share, true).slice(3),
        x = coarse! * 256 + fine!;
      expect(x).toBeLessThanOrEqual(last);
      last = x;
    }
  });
});

describe('an output that is held back', () => {
  it('shows each value as much later as it was told, and in the end the last', () => {
    const ring = new DelayedBytes(2),
      out = new Uint8Array(2);
    expect(ring.read(0, out)).toBe(false);
    for (let now = 0; now <= 2000; now += 5) {
      ring.put(now, Uint8Array.of((now / 5) & 255, now & 255));
      if (now < 300) {
        expect(ring.read(now - 300, out)).toBe(false);
        continue;
      }
      expect(ring.read(now - 300, out)).toBe(true);
      expect(out[0]).toBe(((now - 300) / 5) & 255);
    }
    ring.read(9999, out);
    expect(out[0]).toBe((2000 / 5) & 255);
  });
  it('lands with the slowest: outputs of known lags, levelled', () => {
    const lags = [0, 40, 120, 400].map((lagMs) => ({ lagMs })),
      delays = levelled(lags);
    expect(delays.map((d, i) => d + lags[i]!.lagMs)).toEqual([400, 400, 400, 400]);
    expect(levelled([{ lagMs: 3000 }, { lagMs: 0 }])).toEqual([0, 1000]);
    expect(levelled([])).toEqual([]);
  });
});

describe('stream memory', () => {
  it('gives each new value once, the newest of them, and says when there is none', () => {
    const memory = makeStreamMemory([3, 512]);
    const writer = new StreamWriter(memory),
      reader = new StreamReader(memory),
      out = new Uint8Array(3);
    expect(reader.read(0, out)).toBe(false);
    writer.write(0, Uint8Array.of(1, 2, 3));
    writer.write(0, Uint8Array.of(4, 5, 6));
    expect(reader.read(0, out)).toBe(true);
    expect([...out]).toEqual([4, 5, 6]);
    expect(reader.read(0, out)).toBe(false);
    expect(reader.read(1, new Uint8Array(512))).toBe(false);
  });
  it('takes nothing of another size, and nothing for a stream that is not there', () => {
    const memory = makeStreamMemory([3]),
      writer = new StreamWriter(memory);
    expect(writer.write(0, new Uint8Array(4))).toBe(false);
    expect(writer.write(1, new Uint8Array(3))).toBe(false);
    expect(new StreamReader(memory).read(0, new Uint8Array(3))).toBe(false);
  });
});
