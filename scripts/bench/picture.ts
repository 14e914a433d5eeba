import path from 'node:path';
import { build } from 'esbuild';
import { EXAMPLES } from '../../src/core/ferry/examples';
import { ferryShow } from '../../src/core/ferry/show';
import { visit, type Server } from '../../e2e/support';
import type { HalfHour } from './halfHour.page';
import type { PictureBench } from './picture.page';

/** Runs one of the files beside this in a page of its own. */
async function inPage<T>(
  server: Server,
  file: string,
  run: (call: <R>(name: string, ...given: unknown[]) => Promise<R>) => Promise<T>,
): Promise<T> {
  const { outputFiles } = await build({
    entryPoints: [path.join(process.cwd(), 'scripts/bench', file)],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    logLevel: 'error',
  });
  const v = await visit(server.url, { autoplay: true, heap: true, card: true });
  try {
    const devices = await v.page.createCDPSession();
    await v.page.exposeFunction('collect', () => devices.send('HeapProfiler.collectGarbage'));
    await v.page.goto(`${server.url}screen`);
    await v.page.addScriptTag({ content: outputFiles[0]!.text });
    return await run(
      <R>(name: string, ...given: unknown[]) =>
        v.page.evaluate(
          (n, g) => (globalThis as unknown as Record<string, (...x: unknown[]) => unknown>)[n]!(...g),
          name,
          given,
        ) as Promise<R>,
    );
  } finally {
    await v.close();
  }
}

/** The picture's own measurements: see picture.page.ts. */
export const measurePicture = (server: Server): Promise<PictureBench> =>
  inPage(server, 'picture.page.ts', async (call) => ({
    ...(await call<Pick<PictureBench, 'ratio' | 'ratioComposed' | 'parameters' | 'bytes' | 'bareBytes'>>(
      'pictureFrames',
    )),
    ...(await call<Pick<PictureBench, 'copies' | 'particles' | 'finishes'>>('pictureGrowth')),
  }));

/** Half an hour of the demo, and of the example with most that lives for a while, under a fast clock: see halfHour.page.ts. */
export async function measureHalfHour(
  server: Server,
  minutes = 30,
  losses = 10,
): Promise<readonly HalfHour[]> {
  const media = {
      stems: { lowDrum: '', snareDrum: '', shaker: '', bell: '', voice: '' },
      badge: '',
      tune: '',
      buoy: '',
      film: '',
    },
    all: HalfHour[] = [];
  for (const show of [ferryShow(media), EXAMPLES[3]!.make(media)])
    all.push(
      await inPage(server, 'halfHour.page.ts', (call) => call<HalfHour>('halfHour', show, minutes, losses)),
    );
  return all;
}
