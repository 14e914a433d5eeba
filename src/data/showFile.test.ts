import { describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { ferryShow } from '../core/ferry/show';
import { EMPTY_MEMORY } from '../core/show/types';
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
    const back = await readShowFile(await writeShowFile({ show, memory, media }));
    expect(back.show).toEqual(show);
    expect(back.memory).toEqual(memory);
    expect(back.media.map((m) => [m.hash, m.name, m.blob.type, m.blob.size])).toEqual([
      [hash, 'drum.wav', 'audio/wav', 3000],
    ]);
  });
  it('refuses an oversized file before it is read', async () => {
    await expect(readShowFile({ size: MOST_FILE_BYTES + 1 } as Blob)).rejects.toThrow('2 GB is the most');
  });
  it('refuses what unpacks to more than a show may hold, before it is unpacked', async () => {
    // The directory says that a small entry is large when unpacked: a zip made to fill the disk.
    const bytes = zipSync({ 'show.json': strToU8(JSON.stringify(show)), [`media/${hash}`]: sound });
    const view = new DataView(bytes.buffer);
    for (let at = 0; at + 46 < bytes.length; at++)
      if (view.getUint32(at, true) === 0x02014b50 && view.getUint16(at + 28, true) === 70)
        view.setUint32(at + 24, 0xfffffff0, true);
    await expect(readShowFile(new Blob([bytes as Uint8Array<ArrayBuffer>]))).rejects.toThrow(/2 GB|missing/);
  });
  it('refuses a zip without a show, a media file that was changed, and one that is missing', async () => {
    await expect(readShowFile(zipped({ 'other.txt': strToU8('x') }))).rejects.toThrow('no show in it');
    await expect(
      readShowFile(
        zipped({ 'show.json': strToU8(JSON.stringify(show)), [`media/${hash}`]: sound.map((x) => x + 1) }),
      ),
    ).rejects.toThrow('changed');
    await expect(readShowFile(zipped({ 'show.json': strToU8(JSON.stringify(show)) }))).rejects.toThrow(
      'missing',
    );
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
