import { afterEach, beforeEach, expect, describe, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Held } from './held';
import { startServer, type RunningServer } from './server';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-held-'));
});
afterEach(() => {
  rmSync(folder, { recursive: true, force: true });
});
const kept = (): string => path.join(folder, 'bridge.json');

describe('what the bridge keeps on disk', () => {
  it.each([
    ['null', 'null'],
    ['cut off', '{"key":"0123456789abcdef01'],
    ['a list', '[1,2]'],
    ['broken overlays', '{"overlays":[null,{"id":3}],"version":"x"}'],
    ['types with a line break', `{"types":{"${'a'.repeat(64)}":"image/png\\r\\nX: y"}}`],
    ['types that are no object', '{"types":7,"key":5}'],
  ])('is begun anew where it is %s', (_, text) => {
    writeFileSync(kept(), text);
    const held = new Held(folder);
    expect(held.overlays).toEqual([]);
    expect(held.key).toMatch(/^[0-9a-f]{24}$/);
    expect(held.driveKey).toMatch(/^[0-9a-f]{24}$/);
    expect(held.driveKey).not.toBe(held.key);
  });
  it('is there again after a restart, keys and overlays', async () => {
    const held = new Held(folder);
    held.setOverlays(5, [{ id: 'a', name: 'A', kind: 'frame', badge: null, parameters: [] }]);
    await held.close();
    const again = new Held(folder);
    expect([again.key, again.driveKey, again.version]).toEqual([held.key, held.driveKey, 5]);
    expect(again.overlays).toEqual(held.overlays);
  });
  it('is written once for many changes, the last of them', async () => {
    const held = new Held(folder);
    for (let i = 1; i <= 500; i++) held.setOverlays(i, []);
    expect((JSON.parse(readFileSync(kept(), 'utf8')) as { version: number }).version).toBe(0);
    await held.close();
    expect((JSON.parse(readFileSync(kept(), 'utf8')) as { version: number }).version).toBe(500);
  });
  it('takes away what was cut off on its way in, and images that nothing names', async () => {
    const media = path.join(folder, 'media'),
      named = 'b'.repeat(64),
      stray = 'c'.repeat(64);
    mkdirSync(media);
    for (const name of [named, stray, `${named}.12345678.part`]) writeFileSync(path.join(media, name), 'x');
    writeFileSync(
      kept(),
      JSON.stringify({
        version: 1,
        overlays: [{ id: 'a', name: 'A', kind: 'frame', badge: named, parameters: [] }],
        types: { [named]: 'image/png' },
      }),
    );
    new Held(folder);
    const end = performance.now() + 5000;
    while (existsSync(path.join(media, `${named}.12345678.part`)) || existsSync(path.join(media, stray))) {
      if (performance.now() > end) throw new Error('they are still there');
      await new Promise((r) => setTimeout(r, 5));
    }
    expect(existsSync(path.join(media, named))).toBe(true);
  });
  it('says what to do when something else is in the folder’s place', () => {
    const file = path.join(folder, 'file');
    writeFileSync(file, '');
    expect(() => new Held(file)).toThrow('BATUCADA_DATA');
  });
});

describe('an upload', () => {
  let server: RunningServer;
  beforeEach(async () => {
    server = await startServer({
      port: 0,
      listen: '127.0.0.1',
      artnetPort: 0,
      oscPort: 0,
      folder,
      pages: null,
    });
  });
  afterEach(() => server.close());
  it('with a folder in its place is refused, and the bridge goes on', async () => {
    const png = Buffer.from('89504e470d0a1a0a0000', 'hex'),
      hash = createHash('sha256').update(png).digest('hex'),
      at = `http://127.0.0.1:${server.port}/media/${hash}`;
    mkdirSync(path.join(folder, 'media', hash, 'inside'), { recursive: true });
    const put = await fetch(at, {
      method: 'PUT',
      body: new Uint8Array(png),
      headers: { Origin: `http://127.0.0.1:${server.port}`, 'Content-Type': 'image/png' },
    });
    expect(put.status).toBe(507);
    expect((await fetch(at)).status).toBe(404);
  });
});
