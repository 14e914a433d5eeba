import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { kindOf } from './builtin';
import { ByteGate } from './byteGate';
import { makeSeen, seenLamp } from './seen';

describe('the gate of bytes that others gave', () => {
  it.each(['head', 'head8'])('lets no %s past its limits nor over its speed, whatever comes', (mode) => {
    const kind = kindOf({ mode }),
      aim = { pan: { from: -90, to: 60 }, tilt: { from: 10, to: 70 }, speed: 100 },
      gate = new ByteGate(kind, 5, aim),
      random = seeded(4),
      seen = makeSeen(kind),
      universe = new Uint8Array(512);
    // A coarse step of eight bits may be as wide as this.
    const step = mode === 'head8' ? 540 / 255 : 0.02;
    let pan = NaN,
      tilt = NaN;
    for (let i = 0; i < 20000; i++) {
      for (let c = 0; c < 40; c++) universe[c] = random() * 256;
      const dt = random() * 0.02;
      gate.step(universe, dt, false);
      seenLamp(kind, (c) => universe[4 + c]!, seen);
      const fine =
        seen.pan >= -90 - step &&
        seen.pan <= 60 + step &&
        seen.tilt >= 10 - step &&
        seen.tilt <= 70 + step &&
        seen.strobe <= 3.2 &&
        (i === 0 ||
          (Math.abs(seen.pan - pan) <= 100 * dt + 2 * step &&
            Math.abs(seen.tilt - tilt) <= 100 * dt + 2 * step));
      if (!fine) throw new Error(`at ${i}: ${seen.pan}, ${seen.tilt}, ${seen.strobe} Hz`);
      pan = seen.pan;
      tilt = seen.tilt;
    }
  });
  it('lets a strobe flash three times a second, and as it likes where that is allowed', () => {
    const kind = kindOf({ mode: 'strobe' }),
      dimmer = kind.channels.find((c) => c.use === 'dimmer')!.at;
    for (const [quick, least, most] of [
      [false, 3, 4],
      [true, 12, 13],
    ] as const) {
      const gate = new ByteGate(kind, 1),
        universe = new Uint8Array(512);
      let flashes = 0,
        before = 0;
      // Twelve flashes in one second.
      for (let i = 0; i < 200; i++) {
        universe[dimmer] = (i * 0.005 * 12) % 1 < 0.5 ? 255 : 0;
        gate.step(universe, 0.005, quick);
        if (universe[dimmer]! > 128 && before <= 128) flashes++;
        before = universe[dimmer]!;
      }
      expect(flashes).toBeGreaterThanOrEqual(least);
      expect(flashes).toBeLessThanOrEqual(most);
    }
  });
  it('changes nothing of other lamps, and nothing that is allowed', () => {
    const gate = new ByteGate(kindOf({ mode: 'head' }), 100),
      random = seeded(8),
      universe = Uint8Array.from({ length: 512 }, () => random() * 256),
      before = universe.slice();
    universe[106] = before[106] = 0; // its shutter
    gate.step(universe, 0.005, false);
    expect(universe).toEqual(before);
  });
});
