import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ferryShow } from '../src/core/ferry/show';
import type { Making } from '../src/core/makers/making';
import { newInput } from '../src/core/show/inputs';
import { EMPTY_MEMORY, type Route, type Show } from '../src/core/show/types';
import { writeShowFile } from '../src/data/showFile';

/** Every embankment of the river lit: so many routes from eight waves to half as many lamps. Needs no sounds. */
export function crowdShow(routes: number): Show {
  const base = ferryShow({
    stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
    badge: 'a',
    tune: 'a',
  });
  const wave = (i: number): Making => ({
    kind: 'oscillator',
    shape: 'sine',
    every: { unit: 'hz', value: 0.2 + i / 20 },
    phase: i / 8,
  });
  // Nowhere in particular: they share a rail.
  const { mode } = base.fixtures[0]!;
  const lamps = Array.from({ length: Math.ceil(routes / 2) }, (_, i) => ({
    mode,
    id: `lamp-${i + 1}`,
    name: `Lamp ${i + 1}`,
    universe: Math.floor(i / 120),
    address: (i % 120) * 4 + 1,
    rest: {},
  }));
  return {
    ...base,
    id: 'embankment',
    name: 'Embankment',
    ears: [],
    fixtures: lamps,
    wires: [{ ...base.wires[0]!, universes: null }],
    groups: [],
    // Without the image, which is in no file of the crowd.
    figures: base.figures.filter((f) => f.id !== 'frame-badge'),
    inputs: [{ ...newInput('tone', 'Tone', false), kind: 'tone', wave: 'sine', hz: 220, db: -20 }],
    makers: Array.from({ length: 8 }, (_, i) => ({
      id: `wave-${i}`,
      name: `Wave ${i + 1}`,
      making: wave(i),
    })),
    routes: Array.from({ length: routes }, (_, i): Route => ({
      ...base.routes[0]!,
      id: `r${i}`,
      signal: `wave-${(i * 5) % 8}`,
      target: { thing: `lamp-${Math.floor(i / 2) + 1}`, parameter: 'dimmer' },
      combine: i % 2 ? 'average' : 'add',
      shaping: { smooth: { attackMs: 8, releaseMs: 140 }, amount: 1 },
      reach: 100,
    })),
  };
}

/** @returns the path of a show file */
export async function crowdFile(routes: number): Promise<string> {
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-crowd-')), 'embankment.batucada');
  writeFileSync(
    file,
    new Uint8Array(
      await (await writeShowFile({ show: crowdShow(routes), memory: EMPTY_MEMORY, media: [] })).arrayBuffer(),
    ),
  );
  return file;
}
