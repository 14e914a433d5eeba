import { kindOf } from '../../src/core/lights/builtin';
import { LampGate } from '../../src/core/lights/gate';
import { writeLamp } from '../../src/core/lights/mix';
import { Lit, makeValues } from '../../src/core/lights/values';

/** Median milliseconds in which a thousand lamps of many kinds are gated, mixed and written. */
export function mixing(): number {
  const modes = ['rgb', 'rgbw', 'drgbwauv', 'dcmy', 'white2', 'wash', 'head', 'bar'],
    lamps = Array.from({ length: 1000 }, (_, i) => {
      const kind = kindOf({ mode: modes[i % modes.length]!, cells: { columns: 8, rows: 1 } });
      return { kind, gate: new LampGate(kind), values: makeValues() };
    });
  const universe = new Uint8Array(512),
    times: number[] = [];
  for (let tick = 0; tick < 600; tick++) {
    const from = performance.now();
    for (let i = 0; i < lamps.length; i++) {
      const { kind, gate, values } = lamps[i]!,
        way = ((tick * 7 + i * 13) % 100) / 100;
      values[Lit.Dimmer] = way;
      values[Lit.Red] = way;
      values[Lit.Green] = 1 - way;
      values[Lit.Blue] = (way * 3) % 1;
      values[Lit.Pan] = way * 300 - 150;
      gate.step(values, 0.005, false);
      writeLamp(universe, 1 + (i % 400), kind, values);
    }
    if (tick >= 100) times.push(performance.now() - from);
  }
  return times.sort((a, b) => a - b)[times.length >> 1]!;
}
