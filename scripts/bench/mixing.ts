import { kindOf } from '../../src/core/lights/builtin';
import { LampGate } from '../../src/core/lights/gate';
import { writeLamp } from '../../src/core/lights/mix';
import { sheetAt, SHEET_VALUES, spotsOnSheet } from '../../src/core/lights/sheet';
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

/** Median milliseconds in which the picture is sampled for 512 cells of four bars, and these are written. */
export function sampling(): number {
  const kind = kindOf({ mode: 'bar', cells: { columns: 128, rows: 1 } }),
    sheet = Float32Array.from({ length: SHEET_VALUES }, (_, i) => (i % 97) / 97),
    values = makeValues(),
    universe = new Uint8Array(512),
    times: number[] = [];
  const bars = Array.from({ length: 4 }, (_, y) => ({
    spots: spotsOnSheet(kind, { x: 0, y }, { width: 12, depth: 8, height: 5 }),
    colours: new Float32Array(3 * 128),
  }));
  values[Lit.Dimmer] = 1;
  for (let tick = 0; tick < 1200; tick++) {
    const from = performance.now();
    for (const { spots, colours } of bars) {
      for (let cell = 0; cell < 128; cell++)
        sheetAt(sheet, spots[2 * cell]!, spots[2 * cell + 1]!, colours, 3 * cell);
      writeLamp(universe, 1, kind, values, null, colours);
    }
    if (tick >= 200) times.push(performance.now() - from);
  }
  return times.sort((a, b) => a - b)[times.length >> 1]!;
}
