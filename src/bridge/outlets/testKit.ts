import { startServer, type RunningServer } from '../server';
import { addRing, LaserPaths, POINT, PointMaker } from '../../core/laser';
import type { StreamDeclaration } from '../../core/outlets';
import type { WireSetup } from '../../core/protocols';

/** What tests of the ways out share. */

/** Waits for something to become true. @throws Error when it does not */
export async function until(what: () => boolean, ms = 15000): Promise<void> {
  const end = performance.now() + ms;
  while (!what()) {
    if (performance.now() > end) throw new Error(`waited ${ms} ms for: ${what}`);
    await new Promise((r) => setTimeout(r, 2));
  }
}
export const wire = (more: Partial<WireSetup> = {}): WireSetup => ({
  id: 'w',
  protocol: 'artnet',
  target: { kind: 'simulated' },
  priority: 100,
  sync: false,
  ...more,
});
export const stream = (at: number, change: Partial<StreamDeclaration> = {}): StreamDeclaration => ({
  id: `lamps w ${at}`,
  to: { kind: 'wire', wire: 'w', universe: at },
  size: 512,
  mostPerSecond: 40,
  mode: 'latest',
  keepAlive: 300,
  safe: { then: 'hold' },
  rest: null,
  fates: null,
  calm: null,
  ...change,
});
export function universe(...channels: number[]): Uint8Array {
  const u = new Uint8Array(512);
  u.set(channels);
  return u;
}

/** A ring in the upper half of the field, as points: an ellipse of 0.5 by 0.4 about (0, 0.3). */
export function upperRing(): PointMaker {
  const paths = new LaserPaths(),
    maker = new PointMaker();
  addRing(paths, [1, 1, 1]);
  for (let i = 0; i < paths.starts[1]!; i++) {
    paths.corners[i * POINT] = paths.corners[i * POINT]! * 0.5;
    paths.corners[i * POINT + 1] = paths.corners[i * POINT + 1]! * 0.4 + 0.3;
  }
  maker.make(paths);
  return maker;
}

/** A whole server on free ports, with data in a folder of its own, and no pages. */
export const serverIn = (folder: string, listen = '127.0.0.1'): Promise<RunningServer> =>
  startServer({
    port: 0,
    listen,
    artnetPort: 0,
    sacnPort: 0,
    idnPort: 0,
    oscPort: 0,
    folder,
    pages: null,
  });
