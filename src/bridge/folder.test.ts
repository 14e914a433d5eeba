import { afterEach, beforeEach, expect, describe, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { PageDocument } from '../core/protocols';
import { BridgeFolder } from './folder';
import { serverIn } from './outlets/testKit';
import type { RunningServer } from './server';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-folder-'));
});
afterEach(() => {
  rmSync(folder, { recursive: true, force: true });
});
const page = (version: number, change: Partial<PageDocument> = {}): PageDocument => ({
  id: 'overlay/a',
  version,
  show: { overlays: [{ id: 'a' }] },
  map: { parameters: { 'a/swell': 0 }, vectors: {} },
  numbers: 1,
  points: 0,
  rest: [4],
  media: [],
  kept: true,
  ...change,
});
const kept = (): string => path.join(folder, 'bridge.json');

describe('what the bridge keeps on disk', () => {
  it.each([
    ['null', 'null'],
    ['cut off', '{"key":"0123456789abcdef01'],
    ['a list', '[1,2]'],
    ['broken pages', '{"pages":[null,{"id":3}]}'],
    [
      'a map that is none',
      JSON.stringify({ pages: [page(1, { map: { parameters: { a: -1 }, vectors: {} } })] }),
    ],
    ['types with a line break', `{"types":{"${'a'.repeat(64)}":"image/png\\r\\nX: y"}}`],
    ['types that are no object', '{"types":7,"key":5}'],
  ])('is begun anew where it is %s', (_, text) => {
    writeFileSync(kept(), text);
    const opened = new BridgeFolder(folder);
    expect(opened.page('overlay/a')).toBeNull();
    expect(opened.key).toMatch(/^[0-9a-f]{24}$/);
    expect(opened.driveKey).toMatch(/^[0-9a-f]{24}$/);
    expect(opened.driveKey).not.toBe(opened.key);
  });
  it('is there again after a restart, keys and pages, but for those that are not to be kept', async () => {
    const opened = new BridgeFolder(folder),
      all = ['overlay/a', 'picture'];
    opened.setPages(all, [page(5), page(6, { id: 'picture', kept: false })]);
    expect(opened.page('picture')?.version).toBe(6);
    await opened.close();
    const again = new BridgeFolder(folder);
    expect([again.key, again.driveKey, again.phoneKey]).toEqual([
      opened.key,
      opened.driveKey,
      opened.phoneKey,
    ]);
    expect(new Set([again.key, again.driveKey, again.phoneKey]).size).toBe(3);
    expect(again.page('overlay/a')).toEqual(page(5));
    expect(again.page('picture')).toBeNull();
  });
  it('forgets a page that there is no more', () => {
    const opened = new BridgeFolder(folder);
    opened.setPages(['overlay/a'], [page(5)]);
    opened.setPages(['picture'], []);
    expect(opened.page('overlay/a')).toBeNull();
  });
  it('is written once for many changes, the last of them', async () => {
    const opened = new BridgeFolder(folder),
      written = (): readonly { version: number }[] =>
        (JSON.parse(readFileSync(kept(), 'utf8')) as { pages: { version: number }[] }).pages;
    for (let i = 1; i <= 500; i++) opened.setPages(['overlay/a'], [page(i)]);
    expect(written()).toEqual([]);
    await opened.close();
    expect(written().map((p) => p.version)).toEqual([500]);
  });
  it('takes away what was cut off on its way in, and files that nothing names', async () => {
    const media = path.join(folder, 'media'),
      named = 'b'.repeat(64),
      stray = 'c'.repeat(64);
    mkdirSync(media);
    for (const name of [named, stray, `${named}.12345678.part`]) writeFileSync(path.join(media, name), 'x');
    writeFileSync(
      kept(),
      JSON.stringify({
        pages: [page(1, { media: [named] })],
        types: { [named]: 'image/png' },
      }),
    );
    new BridgeFolder(folder);
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
    expect(() => new BridgeFolder(file)).toThrow('BATUCADA_DATA');
  });
});

describe('an upload', () => {
  let server: RunningServer;
  beforeEach(async () => {
    server = await serverIn(folder);
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
