import { strFromU8, strToU8, Unzip, UnzipInflate, zip, type AsyncZippable } from 'fflate';
import { EMPTY_MEMORY, type Memory, parseMemory, parseShow, type Show, ShowError } from '../core/show';
import { isPlaylist } from '../core/media';
import { hashOf, mediaOf, namesOfMedia } from './database';

/**
 * The show file: a zip with `show.json` (the document), `memory.json` (what it has learned), `media.json` (names and types) and
 * `media/HASH` for every file the show needs. @see docs/show-file.md
 */
export const SHOW_FILE_ENDING = '.batucada';
export const MOST_FILE_BYTES = 2 ** 31 - 1;
const PART_BYTES = 4 << 20;
/** What is unpacked at one go: the best packed of it becomes a thousand times as much. */
const BITE_BYTES = 16 << 10;
const MOST_JSON_BYTES = 64 << 20;
/** A show is some ten levels deep; text that is nothing but brackets is none. */
const MOST_DEPTH = 60;
/** A show has a few hundred files at the most. */
const MOST_ENTRIES = 20000;

export interface ShowFile {
  readonly show: Show;
  /** Names of files that the show speaks of and that are not among its media. */
  readonly missing: readonly string[];
  readonly memory: Memory;
  readonly media: readonly { readonly hash: string; readonly name: string; readonly blob: Blob }[];
}

/** @param missing - names of files that the show speaks of and that could not be found */
export async function writeShowFile({
  show,
  memory,
  media,
  missing = [],
}: Omit<ShowFile, 'missing'> & Partial<Pick<ShowFile, 'missing'>>): Promise<Blob> {
  const files: AsyncZippable = {
    'show.json': strToU8(JSON.stringify(show, null, 1)),
    'memory.json': strToU8(JSON.stringify(memory)),
    ...(missing.length > 0 && { 'missing.json': strToU8(JSON.stringify(missing)) }),
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
 * Reads and checks a whole show file; nothing is kept by this. Unpacks no more than a show may hold, whatever the file says of itself.
 * It takes its time: see {@link readShowFileApart} for a window's way to it.
 * @throws ShowError with what is wrong and what to do
 */
export async function readShowFile(file: Blob): Promise<ShowFile> {
  if (file.size === 0) throw new ShowError('This file is empty. Choose a show file that ends in .batucada.');
  if (file.size > MOST_FILE_BYTES)
    throw new ShowError('This file is too large to be a show: 2 GB is the most. Choose another.');
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  if (head[0] !== 0x50 || head[1] !== 0x4b)
    throw new ShowError('This is not a Batucada show. Choose a file that ends in .batucada.');
  const texts = await unpack(file, (name) =>
    name === 'show.json' || name === 'memory.json' || name === 'media.json' ? MOST_JSON_BYTES : 0,
  );
  const text = texts.get('show.json');
  if (!text)
    throw new ShowError(
      'This is a zip file, but there is no show in it. Choose a file that ends in .batucada.',
    );
  const show = parseShow(json(text));
  const memoryText = texts.get('memory.json'),
    aboutText = texts.get('media.json');
  const memory = (memoryText && parseMemory(json(memoryText))) || EMPTY_MEMORY;
  const about = (aboutText ? (json(aboutText) ?? {}) : {}) as Record<
    string,
    { name?: unknown; type?: unknown } | undefined
  >;
  const wanted = new Set(mediaOf(show)),
    media: ShowFile['media'][number][] = [],
    missing: string[] = [];
  let total = 0;
  const files = await unpack(
    file,
    (name) => (name.startsWith('media/') && wanted.has(name.slice(6)) ? MOST_FILE_BYTES - total : 0),
    async (name, data) => {
      const hash = name.slice(6);
      total += data.length;
      if ((await hashOf(data)) !== hash)
        throw new ShowError(
          'This show file is damaged: one of its sounds or images was changed. Try another copy of it.',
        );
      const said = about[hash];
      media.push({
        hash,
        name: typeof said?.name === 'string' ? said.name.slice(0, 200) : 'file',
        blob: new Blob([data], { type: safeType(said?.type) }),
      });
    },
  );
  for (const hash of wanted) if (!files.has(`media/${hash}`)) missing.push(hash);
  return { show, memory, media, missing: namesOfMedia(show, missing) };
}

/** A media type under which nothing can run. */
const safeType = (type: unknown): string =>
  typeof type === 'string' &&
  /^(audio|image|video)\/[\w.+-]+$/.test(type) &&
  !isPlaylist(new Uint8Array(0), type)
    ? type
    : '';

/**
 * Unpacks a zip's entries bite by bite, and stops as soon as one becomes more than it may be: what the file says about its sizes is
 * not believed.
 * @param most - bytes that an entry may become; 0 leaves it packed
 * @param each - takes each entry as it is done, which is then not kept
 */
async function unpack(
  file: Blob,
  most: (name: string) => number,
  each?: (name: string, data: Uint8Array<ArrayBuffer>) => Promise<void>,
): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
  const done = new Map<string, Uint8Array<ArrayBuffer>>();
  const open = new Map<string, { readonly parts: Uint8Array[]; bytes: number }>();
  let entries = 0,
    wrong: ShowError | null = null,
    ready: [string, Uint8Array<ArrayBuffer>][] = [];
  const fail = (words: string, cause?: unknown): void => {
    wrong ??= new ShowError(words, { cause });
  };
  const zip = new Unzip((entry) => {
    const { name } = entry,
      limit = most(name);
    if (++entries > MOST_ENTRIES) fail('This zip holds more files than any show does. Choose another.');
    if (limit === 0 || done.has(name) || open.has(name) || wrong) return;
    const filling = { parts: [] as Uint8Array[], bytes: 0 };
    open.set(name, filling);
    entry.ondata = (error, data, final) => {
      if (error) return fail(DAMAGED, error);
      filling.parts.push(data);
      filling.bytes += data.length;
      if (filling.bytes > limit) {
        fail('This file unpacks to more than a show may hold (2 GB of sounds and images, 64 MB of text).');
        entry.terminate();
        return;
      }
      if (!final) return;
      open.delete(name);
      ready.push([name, joined(filling.parts, filling.bytes)]);
    };
    entry.start();
  });
  zip.register(UnzipInflate);
  const settle = async (): Promise<void> => {
    if (wrong) throw wrong as ShowError;
    const now = ready;
    ready = [];
    for (const [name, data] of now) {
      await each?.(name, data);
      done.set(name, each ? new Uint8Array(0) : data);
    }
  };
  for (let at = 0; at < file.size; at += PART_BYTES) {
    const part = new Uint8Array(await file.slice(at, at + PART_BYTES).arrayBuffer());
    for (let from = 0; from < part.length; from += BITE_BYTES) {
      try {
        zip.push(part.subarray(from, from + BITE_BYTES), at + from + BITE_BYTES >= file.size);
      } catch (cause) {
        fail(DAMAGED, cause);
      }
      await settle();
    }
  }
  if (open.size > 0) fail(DAMAGED);
  await settle();
  return done;
}
const DAMAGED = 'This show file is damaged: it cannot be unpacked. Try another copy of it.';

function joined(parts: readonly Uint8Array[], bytes: number): Uint8Array<ArrayBuffer> {
  const all = new Uint8Array(bytes);
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

function json(bytes: Uint8Array): unknown {
  try {
    if (depthOf(bytes) > MOST_DEPTH) throw new Error('too deep');
    return JSON.parse(strFromU8(bytes));
  } catch (cause) {
    throw new ShowError('This show file is damaged: its text cannot be read. Try another copy of it.', {
      cause,
    });
  }
}
/** How deep brackets lie in each other, at most. */
function depthOf(bytes: Uint8Array): number {
  let depth = 0,
    most = 0,
    inText = false;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i]!;
    if (inText) {
      if (c === 0x5c) i++;
      else if (c === 0x22) inText = false;
      continue;
    }
    if (c === 0x22) inText = true;
    else if (c === 0x5b || c === 0x7b) {
      if (++depth > most) most = depth;
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
  return most;
}
