import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { seeded } from '../random';
import { Hearing, takeChannel } from './hearing';
import { StrokeTrigger } from './hitListener';
import { noteName, noteOf } from './pitch';

const RATE = 48000;
function run(
  hearing: Hearing,
  seconds: number,
  left: (n: number) => number,
  right = left,
  each?: (known: number) => void,
): void {
  const hop = makeHop(256);
  hop.mono = left === right;
  for (let at = 0; at < seconds * RATE; at += 256) {
    for (let i = 0; i < 256; i++) {
      hop.left[i] = left(at + i);
      hop.right[i] = right(at + i);
    }
    hop.time = at / RATE;
    hearing.process(hop);
    each?.((at + 256) / RATE);
    hearing.finish(hop);
  }
}
const saw =
  (hz: number, a = 0.3) =>
  (n: number): number => {
    let y = 0;
    for (let k = 1; k < 12; k++) y += Math.sin((2 * Math.PI * hz * k * n) / RATE) / k;
    return a * y;
  };

describe('pitch', () => {
  it.each([41.2, 55, 82.4, 110, 220, 440, 880, 1175])(
    'is that of a saw at %d Hz within a cent, sure',
    (hz) => {
      const hearing = new Hearing(RATE, 256),
        { pitch } = hearing;
      run(hearing, 0.4, saw(hz));
      expect(Math.abs(1200 * Math.log2(pitch.hz / hz))).toBeLessThan(1);
      expect(pitch.confidence).toBeGreaterThan(0.9);
    },
  );
  it.each([1230, 1480, 1661, 2217, 2489, 3136, 3520, 4186, 4978])(
    'of a whistle at %d Hz is right within five cents, though breath is in it',
    (hz) => {
      const hearing = new Hearing(RATE, 256),
        { pitch } = hearing,
        random = seeded(hz);
      run(hearing, 0.3, (n) => 0.2 * Math.sin((2 * Math.PI * hz * n) / RATE) + 0.02 * (random() - 0.5));
      expect(Math.abs(1200 * Math.log2(pitch.hz / hz))).toBeLessThan(5);
      expect(pitch.confidence).toBeGreaterThan(0.6);
    },
  );
  it.each([110, 220, 370, 460])(
    'of a note at %d Hz is its own, though its fifth partial is the loudest by far',
    (hz) => {
      const hearing = new Hearing(RATE, 256),
        { pitch } = hearing;
      run(hearing, 0.4, (n) => 0.06 * saw(hz, 1)(n) + 0.15 * Math.sin((10 * Math.PI * hz * n) / RATE));
      expect(Math.abs(1200 * Math.log2(pitch.hz / hz))).toBeLessThan(5);
    },
  );
  it('is heard in antiphase, and known 60 ms after a note began', () => {
    const hearing = new Hearing(RATE, 256),
      { pitch } = hearing,
      note = saw(196),
      late = (n: number): number => (n > RATE / 4 ? note(n) : 0);
    let known = 0;
    run(
      hearing,
      0.6,
      late,
      (n) => -late(n),
      (t) => {
        if (!known && pitch.confidence > 0.4 && Math.abs(pitch.hz - 196) < 2) known = t;
      },
    );
    expect(known - 0.25).toBeLessThan(0.06);
  });
  it('has no confidence in noise, and none in silence', () => {
    const random = seeded(4),
      hearing = new Hearing(RATE, 256),
      { pitch } = hearing;
    let top = 0;
    run(
      hearing,
      2,
      () => random() - 0.5,
      undefined,
      () => {
        top = Math.max(top, pitch.confidence);
      },
    );
    expect(top).toBeLessThan(0.3);
    run(hearing, 0.3, () => 0);
    expect([pitch.hz, pitch.confidence]).toEqual([0, 0]);
  });
  it('is named as musicians do', () => {
    expect([noteName(440), noteName(442), noteName(261.6256), noteName(233.0819)]).toEqual([
      'A4',
      'A4 +8 c',
      'C4',
      'B♭3',
    ]);
    expect(noteOf(880)).toBe(81);
  });
});

describe('band frames', () => {
  it('do not depend on how loud the input is set, within what a reference can follow', () => {
    const quiet = new Hearing(RATE, 256),
      loud = new Hearing(RATE, 256);
    void quiet.frame;
    void loud.frame;
    const x = saw(130, 0.3);
    run(quiet, 0.5, (n) => 0.01 * x(n));
    run(loud, 0.5, x);
    quiet.frame.bands.forEach((v, i) => expect(v).toBeCloseTo(loud.frame.bands[i]!, 4));
  });
});

describe('channels', () => {
  it('left, right, mid and side are what they say', () => {
    const hop = makeHop(2),
      out = makeHop(2);
    hop.left.set([1, 0.5]);
    hop.right.set([0.5, -0.5]);
    const take = (c: Parameters<typeof takeChannel>[1]): number[] => {
      takeChannel(hop, c, out);
      return [...out.left];
    };
    expect([take('left'), take('right'), take('mid'), take('side')]).toEqual([
      [1, 0.5],
      [0.5, -0.5],
      [0.75, 0],
      [0.25, 0.5],
    ]);
  });
});

describe('StrokeTrigger', () => {
  const strokes = (p: number[], holdOff = 0.03): number[] => {
    const t = new StrokeTrigger('any', 0.5, holdOff);
    return p.flatMap((x, i) => (t.step(x, 0.005) ? [i] : []));
  };
  it('fires once for each time the likelihood rises past its threshold', () => {
    expect(strokes([0, 0.2, 0.6, 0.9, 0.8, 0.3, 0.1, 0, 0, 0.7, 0.2])).toEqual([2, 9]);
  });
  it('tells the strokes of a roll apart that never falls to nothing, and holds off what comes too soon', () => {
    expect(strokes([0.9, 0.9, 0.9, 0.7, 0.5, 0.45, 0.46, 0.49, 0.9, 0.9])).toEqual([0, 8]);
    expect(strokes([0.9, 0, 0.9, 0, 0.9, 0, 0.9, 0.9])).toEqual([0, 6]);
  });
});
