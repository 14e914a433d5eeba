import { expect, it } from '@jest/globals';
import { makeDance } from '../material/dance';
import type { FormOf, PlannedBar } from '../material/form';
import type { Section } from '../material/song';
import { drawTreatment, record } from '../material/record';
import { listenToStructure } from './structure';

const plan: FormOf = (least) =>
  (
    [
      ['main', 6],
      ['break', 2],
      ['build', 4],
      ['main', Math.max(2, least - 12)],
    ] as [Section, number][]
  ).flatMap(([what, bars]) =>
    Array.from({ length: bars }, (_, bar): PlannedBar => ({
      what,
      bar,
      bars,
      roll: true,
      rise: true,
      thin: false,
      swell: false,
      kickTo: 0,
      silentFrom: 1,
    })),
  );

it('a planned drop is told at its stroke, with its build before it, and neither is told elsewhere', () => {
  const song = makeDance(70006, 'known', 28, plan),
    { turns, progress } = listenToStructure(
      record(song, { ...drawTreatment(70006, 'known'), peakDb: -3 }, 1),
      false,
    ),
    build = song.passages!.find((p) => p.what === 'build')!,
    beat = song.beats[1]! - song.beats[0]!;
  expect(song.passages!.map((p) => p.what)).toEqual(['main', 'break', 'build', 'main']);
  expect(turns.drop).toHaveLength(1);
  expect(Math.abs(turns.drop[0]![0] - build.to)).toBeLessThan(0.25);
  expect(turns.build).toHaveLength(1);
  expect(turns.build[0]![1]).toBeGreaterThan(build.from);
  expect(turns.build[0]![1]).toBeLessThan(build.to - 4 * beat);
  // How far it has come rises, and is nothing once it is over.
  const at = (t: number): number => progress[Math.floor(t * 10)]!;
  expect(at(build.to - 0.3)).toBeGreaterThan(at(turns.build[0]![1] + 0.5));
  expect(at(build.to + 1)).toBe(0);
});
