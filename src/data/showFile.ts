import { strFromU8, strToU8, unzip, zip, type AsyncZippable } from 'fflate';
import { parseMemory, parseShow, ShowError } from '../core/show/schema';
import { EMPTY_MEMORY, type Memory, type Show } from '../core/show/types';
import { hashOf, mediaOf } from './database';

/**
 * The show file: a zip with `show.json` (the document), `memory.json` (what it has learned), `media.json` (names and types) and
 * `media/HASH` for every file the show needs. @see docs/show-file.md
 */
export const SHOW_FILE_ENDING = '.batucada';
export const MOST_FILE_BYTES = 2 ** 31 - 1;
const PART_BYTES = 4 << 20;
const MOST_JSON_BYTES = 64 << 20;

export interface ShowFile {
  readonly show: Show;
  readonly memory: Memory;
  readonly media: readonly { readonly hash: string; readonly name: string; readonly blob: Blob }[];
}

export async function writeShowFile({ show, memory, media }: ShowFile): Promise<Blob> {
  const files: AsyncZippable = {
    'show.json': strToU8(JSON.stringify(show, null, 1)),
    'memory.json': strToU8(JSON.stringify(memory)),
    'media.json': strToU8(
      JSON.stringify(Object.fromEntries(media.map((m) => [m.hash, { name: m.name, type: m.blob.type }]))),
    ),
  };
  // Sound hardly shrinks: it is stored as it is, which is quick.
  for (const m of media)
    files[`media/${m.hash}`] = [new Uint8Array(await m.blob.arrayBuffer()), { level: 0 }];
  const bytes = await new Promise<Uint8Array>((resolve, reject) =>
    zip(files, (e, out) => (e ? reject(e) : resolve(out))),
  );
  return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/zip' });
}

/**
 * Reads and checks a whole show file; nothing is kept by this.
 * @throws ShowError with what is wrong and what to do
 */
export async function readShowFile(file: Blob): Promise<ShowFile> {
  if (file.size === 0) throw new ShowError('This file is empty. Choose a show file that ends in .batucada.');
  if (file.size > MOST_FILE_BYTES)
    throw new ShowError('This file is too large to be a show: 2 GB is the most. Choose another.');
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  if (head[0] !== 0x50 || head[1] !== 0x4b)
    throw new ShowError('This is not a Batucada show. Choose a file that ends in .batucada.');
  const bytes = await readSlowly(file);
  let total = 0;
  const files = await new Promise<Record<string, Uint8Array>>((resolve, reject) => {
    unzip(
      bytes,
      {
        filter: ({ name, originalSize }) => {
          const wanted =
            name === 'show.json' ||
            name === 'memory.json' ||
            name === 'media.json' ||
            /^media\/[0-9a-f]{64}$/.test(name);
          if (!wanted) return false;
          total += originalSize;
          // A small file may unpack to a huge one; it is refused before it is unpacked.
          return total <= MOST_FILE_BYTES && (name.startsWith('media/') || originalSize <= MOST_JSON_BYTES);
        },
      },
      (e, out) =>
        e
          ? reject(
              new ShowError('This show file is damaged: it cannot be unpacked. Try another copy of it.', {
                cause: e,
              }),
            )
          : resolve(out),
    );
  });
  if (total > MOST_FILE_BYTES)
    throw new ShowError('This file unpacks to more than 2 GB, which no show does.');
  const text = files['show.json'];
  if (!text)
    throw new ShowError(
      'This is a zip file, but there is no show in it. Choose a file that ends in .batucada.',
    );
  const show = parseShow(json(text));
  const memory = (files['memory.json'] && parseMemory(json(files['memory.json']))) || EMPTY_MEMORY;
  const about = (files['media.json'] ? json(files['media.json']) : {}) as Record<
    string,
    { name?: unknown; type?: unknown } | undefined
  >;
  const media: { hash: string; name: string; blob: Blob }[] = [];
  // One after the other: all at once they would take every core from the show that is playing.
  for (const hash of mediaOf(show)) {
    const data = files[`media/${hash}`] as Uint8Array<ArrayBuffer> | undefined;
    if (!data)
      throw new ShowError(
        'This show file is damaged: one of its sounds or images is missing. Try another copy of it.',
      );
    if ((await hashOf(data)) !== hash)
      throw new ShowError(
        'This show file is damaged: one of its sounds or images was changed. Try another copy of it.',
      );
    const name = typeof about[hash]?.name === 'string' ? about[hash].name : 'file';
    const type =
      typeof about[hash]?.type === 'string' && /^(audio|image|video)\/[\w.+-]+$/.test(about[hash].type)
        ? about[hash].type
        : '';
    media.push({ hash, name, blob: new Blob([data], { type }) });
  }
  return { show, memory, media };
}

/** Reads a large file in parts: taken at once it would crowd out the packets that leave by the same door. */
async function readSlowly(file: Blob): Promise<Uint8Array> {
  const bytes = new Uint8Array(file.size);
  for (let at = 0; at < file.size; at += PART_BYTES)
    bytes.set(new Uint8Array(await file.slice(at, at + PART_BYTES).arrayBuffer()), at);
  return bytes;
}

function json(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(strFromU8(bytes));
  } catch (cause) {
    throw new ShowError('This show file is damaged: its text cannot be read. Try another copy of it.', {
      cause,
    });
  }
}
