import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeWav } from '../src/core/audio/wav';
import { EXAMPLES, type ExampleMedia } from '../src/core/ferry/examples';
import { buoyModel } from '../src/core/ferry/buoy';
import { ferryShow, type FerryMedia } from '../src/core/ferry/show';
import { figureParameters } from '../src/core/figures/kinds';
import { finishParameters } from '../src/core/finishes/kinds';
import type { ParameterDescription } from '../src/core/parameters/description';
import { newInput } from '../src/core/show/inputs';
import { parseShow } from '../src/core/show/schema';
import { idsOnSurface, onSurface } from '../src/core/show/surfaces';
import { EMPTY_MEMORY, type Input, type Show, WHOLE_PICTURE } from '../src/core/show/types';
import { hashOf } from '../src/data/database';
import { writeShowFile } from '../src/data/showFile';
import { shotOf, stillPng, type Shot } from './board';
import { withFerry } from './stage';
import { openShowFile, press, textOf, until, type Visit } from './support';

let v: Visit, media: ExampleMedia, nothing: string, kept: { hash: string; name: string; blob: Blob }[];
withFerry(async (server, first) => {
  v = first;
  const get = async (name: string): Promise<Response> => fetch(new URL(`/demo/${name}`, server.url)),
    manifest = (await (await get('manifest.json')).json()) as FerryMedia;
  const files = [
    ...Object.entries(manifest.stems).map(([name, hash]) => [hash, `${name}.wav`] as const),
    [manifest.badge, 'badge.svg'] as const,
    [manifest.tune, 'bell.mid'] as const,
  ];
  kept = await Promise.all(
    files.map(async ([hash, name]) => ({ hash, name, blob: await (await get(name)).blob() })),
  );
  const buoy = new Blob([buoyModel()], { type: 'model/gltf-binary' });
  media = { ...manifest, buoy: await hashOf(await buoy.arrayBuffer()), film: '' };
  const second = new Blob([writeWav([new Float32Array(48000)], 48000)], { type: 'audio/wav' });
  nothing = await hashOf(await second.arrayBuffer());
  kept.push(
    { hash: media.buoy, name: 'buoy.glb', blob: buoy },
    { hash: nothing, name: 'nothing.wav', blob: second },
  );
});

/** The show with all that goes on by itself, sound or none, at a stand: drifts, births, makers; without films and cameras, whose pictures go on, and without trails, which keep what was there before. */
function still(show: Show): Show {
  const drifts = (list: readonly ParameterDescription[]): Record<string, number> =>
    Object.fromEntries(list.filter((p) => p.kind === 'number' && p.wrap).map((p) => [p.id, 0]));
  const drawn = onSurface(show, WHOLE_PICTURE),
    others = show.overlays.flatMap((o) => [...idsOnSurface(show, o.id)]);
  const gone = new Set([
    ...others,
    ...show.figures.filter((f) => f.form.kind === 'video' || f.form.kind === 'camera').map((f) => f.id),
    ...show.finishes.filter((f) => f.form.kind === 'trails').map((f) => f.id),
  ]);
  return {
    ...show,
    makers: [],
    overlays: [],
    fixtures: [],
    wires: [],
    figureGroups: drawn.figureGroups,
    figures: drawn.figures
      .filter((f) => !gone.has(f.id))
      .map((f) => ({ ...f, rest: { ...f.rest, ...drifts(figureParameters(f.form.kind)) } })),
    finishes: drawn.finishes
      .filter((f) => !gone.has(f.id) && !gone.has(f.on))
      .map((f) => ({ ...f, rest: { ...f.rest, ...drifts(finishParameters(f.form.kind)) } })),
    routes: show.routes.filter(
      (r) =>
        !show.makers.some((m) => m.id === r.signal) &&
        !gone.has(r.target.thing) &&
        !show.finishes.some((f) => f.id === r.target.thing && gone.has(f.on)),
    ),
  };
}
async function transport(button: 'Play' | 'Pause'): Promise<void> {
  await v.page.keyboard.press('1');
  await press(v.page, 'button', button);
  await v.page.keyboard.press('3');
}
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-silence-'));
let n = 0;
/** @param sound - with the demo's sounds; else with an input that never gives any */
async function open(show: Show, sound: boolean): Promise<void> {
  const file = path.join(folder, `${++n}.batucada`),
    name = `${show.name} ${n}`;
  writeFileSync(
    file,
    new Uint8Array(
      await (
        await writeShowFile({
          show: parseShow({
            ...show,
            id: `silence-${n}`,
            name,
            ...(!sound && {
              inputs: show.inputs.map(({ id, name }): Input => ({
                ...newInput(id, name, false),
                kind: 'files',
                stems: [{ name: 'nothing', media: nothing, gainDb: 0 }],
                loop: true,
                part: null,
              })),
            }),
          }),
          memory: EMPTY_MEMORY,
          media: sound ? kept : kept.filter((k) => k.hash === nothing || !k.name.endsWith('.wav')),
        })
      ).arrayBuffer(),
    ),
  );
  await openShowFile(v.page, file);
  await until('it open', async () => (await textOf(v.page, 'body')).includes(name));
  await v.page.keyboard.press('3');
}
/** The picture once it has come to rest: two stills in a row are the same. */
async function rested(): Promise<Shot> {
  let before: Shot | null = null;
  return until(
    'the picture at rest',
    async () => {
      const now = await shotOf(v.page, await stillPng(v.page)),
        same = before !== null && apart(before, now) === 0;
      before = now;
      return same ? now : null;
    },
    150000,
  );
}
/** Numbers that are more than a rounding apart. */
function apart(a: Shot, b: Shot): number {
  let count = 0;
  for (let i = 0; i < a.bytes.length; i++) if (Math.abs(a.bytes[i]! - b.bytes[i]!) > 2) count++;
  return count;
}

describe('the resting picture', () => {
  // Between them: dials, meters, rows over copies and bars, lights, models, groups, and finishes on figures and on the whole.
  it.each(['night-ferry', 'example-engine', 'example-whirlpool', 'example-pier'])(
    'of %s in silence is that of its resting values',
    async (id) => {
      const ferry = id === 'night-ferry',
        show = still(ferry ? ferryShow(media) : EXAMPLES.find((e) => e.id === id)!.make(media));
      expect(show.routes.length).toBeGreaterThan(3);
      await open({ ...show, routes: [] }, ferry);
      const rest = await rested();
      await open(show, ferry);
      const silent = await rested();
      // Smoothing comes near to rest, and never quite there: an edge may fall on the other side of a pixel.
      expect(apart(rest, silent)).toBeLessThan(rest.bytes.length * 2e-5);
      if (!ferry) return;
      // And it is the routes that were silent: with sound it is another.
      await transport('Play');
      await until(
        'another picture',
        async () => apart(rest, await shotOf(v.page, await stillPng(v.page))) > 1000,
        150000,
      );
      await transport('Pause');
    },
    480000,
  );
});
