import { describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { ferryShow } from '../core/ferry';
import { EMPTY_MEMORY } from '../core/show';
import { MOST_FILE_BYTES, readShowFile, writeShowFile } from './showFile';

const sound = Uint8Array.from({ length: 3000 }, (_, i) => i * 7);
const hash = createHash('sha256').update(sound).digest('hex');
const show = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const media = [{ hash, name: 'drum.wav', blob: new Blob([sound], { type: 'audio/wav' }) }];
const zipped = (files: Record<string, Uint8Array>): Blob =>
  new Blob([zipSync(files) as Uint8Array<ArrayBuffer>]);

describe('the show file', () => {
  it('carries show, memory and media there and back', async () => {
    const memory = {
      ...EMPTY_MEMORY,
      fits: { 'route-1': { low: 0.1, high: 0.4 } },
      dark: true,
      position: 12.5,
    };
    const back = await readShowFile(await writeShowFile({ show, memory, media, missing: [] }));
    expect(back.show).toEqual(show);
    expect(back.memory).toEqual(memory);
    expect(back.media.map((m) => [m.hash, m.name, m.blob.type, m.blob.size])).toEqual([
      [hash, 'drum.wav', 'audio/wav', 3000],
    ]);
  });
  it('refuses an oversized file before it is read', async () => {
    await expect(readShowFile({ size: MOST_FILE_BYTES + 1 } as Blob)).rejects.toThrow('2 GB is the most');
  });
  it('believes nothing that a file says about its sizes: what becomes too much is stopped at once', async () => {
    // 80 MB of nothing in 80 kB, said to be ten bytes.
    const nothing = new Uint8Array(80 << 20);
    const bytes = zipSync({ 'show.json': nothing });
    const view = new DataView(bytes.buffer);
    for (let at = 0; at + 46 < bytes.length; at++) {
      if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, 10, true);
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 10, true);
    }
    expect(bytes.length).toBeLessThan(1 << 20);
    await expect(readShowFile(new Blob([bytes as Uint8Array<ArrayBuffer>]))).rejects.toThrow(
      'more than a show may hold',
    );
  });
  it('unpacks nothing that the show does not speak of', async () => {
    const nothing = new Uint8Array(20 << 20);
    const files: Record<string, Uint8Array> = {
      'show.json': strToU8(JSON.stringify(show)),
      [`media/${hash}`]: sound,
    };
    for (let i = 0; i < 3; i++) files[`media/${String(i).repeat(64)}`] = nothing;
    const back = await readShowFile(zipped(files));
    expect(back.media.map((m) => m.hash)).toEqual([hash]);
  });
  it.each([
    ['brackets without end', '['.repeat(5 << 20)],
    ['brackets that close again', '['.repeat(100000) + ']'.repeat(100000)],
  ])('refuses %s', async (_, text) => {
    await expect(readShowFile(zipped({ 'show.json': strToU8(text) }))).rejects.toThrow('cannot be read');
  });
  it('refuses one that was cut off', async () => {
    const whole = new Uint8Array(
      await (await writeShowFile({ show, memory: EMPTY_MEMORY, media, missing: [] })).arrayBuffer(),
    );
    await expect(readShowFile(new Blob([whole.subarray(0, 900)]))).rejects.toThrow('damaged');
  });
  it('with files missing is written and read with what it has, and says which', async () => {
    const two = ferryShow({
      stems: { lowDrum: 'a'.repeat(64), snareDrum: hash, shaker: hash, bell: hash, voice: hash },
      badge: hash,
      tune: hash,
    });
    const back = await readShowFile(
      await writeShowFile({ show: two, memory: EMPTY_MEMORY, media, missing: ['Low drum'] }),
    );
    expect(back.show).toEqual(two);
    expect(back.media.map((m) => m.hash)).toEqual([hash]);
    expect(back.missing).toEqual([two.inputs.flatMap((i) => (i.kind === 'files' ? i.stems : []))[0]!.name]);
  });
  it('refuses a zip without a show, and a media file that was changed', async () => {
    await expect(readShowFile(zipped({ 'other.txt': strToU8('x') }))).rejects.toThrow('no show in it');
    await expect(
      readShowFile(
        zipped({ 'show.json': strToU8(JSON.stringify(show)), [`media/${hash}`]: sound.map((x) => x + 1) }),
      ),
    ).rejects.toThrow('changed');
    await expect(readShowFile(zipped({ 'show.json': strToU8('{') }))).rejects.toThrow('cannot be read');
  });
  it("plays with an empty memory when the file's is damaged, and gives media no type that could run", async () => {
    const back = await readShowFile(
      zipped({
        'show.json': strToU8(JSON.stringify(show)),
        'memory.json': strToU8('{"dark":1}'),
        'media.json': strToU8(JSON.stringify({ [hash]: { name: 3, type: 'text/html' } })),
        [`media/${hash}`]: sound,
      }),
    );
    expect(back.memory).toEqual(EMPTY_MEMORY);
    expect(back.media[0]).toMatchObject({ name: 'file' });
    expect(back.media[0]!.blob.type).toBe('');
  });
});
