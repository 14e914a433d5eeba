import { EMPTY_MEMORY, type History, type Memory, parseMemory, parseShow, type Show } from '../core/show';
import { buoyModel, EXAMPLES, type FerryMedia, ferryShow } from '../core/ferry';
import { db, keep, keepMedia } from './database';
import { withUnsaved } from './journal';
import type { ShowFile } from './showFile';

/** @returns when it was saved, in ms since 1970 */
export async function saveShow({ show, past, future }: History): Promise<number> {
  const savedAt = Date.now();
  await keep(() => db().shows.put({ id: show.id, name: show.name, savedAt, show, past, future }));
  return savedAt;
}
export async function saveMemory(id: string, memory: Memory): Promise<void> {
  await keep(() => db().memories.put({ id, memory }));
}

/** A kept show with its memory, checked like one from outside: a store can be damaged too. What was done to it after it was last saved is in it. Null when there is none. */
export async function loadShow(
  id: string,
): Promise<{ history: History; memory: Memory; savedAt: number } | null> {
  const kept = await db().shows.get(id);
  if (!kept) return null;
  const show = parseShow(kept.show);
  const memory = parseMemory((await db().memories.get(id))?.memory) ?? EMPTY_MEMORY;
  // Old edits speak of the old form: what was upgraded begins with nothing to undo.
  const same = (kept.show as { version?: unknown }).version === show.version;
  const history = { show, past: same ? kept.past : [], future: same ? kept.future : [] };
  return {
    history: same ? checked(withUnsaved(history, kept.savedAt), history) : history,
    memory,
    savedAt: kept.savedAt,
  };
}

/** What was noted beside is checked like everything else; what is damaged there is left out. */
function checked(history: History, otherwise: History): History {
  try {
    return history === otherwise ? history : { ...history, show: parseShow(history.show) };
  } catch {
    return otherwise;
  }
}

/** @param savedAt - milliseconds since 1970 */
export interface Listed {
  readonly id: string;
  readonly name: string;
  readonly savedAt: number;
}
/** The kept shows, newest first. */
export async function listShows(): Promise<Listed[]> {
  return (await db().shows.orderBy('savedAt').reverse().toArray()).map(({ id, name, savedAt }) => ({
    id,
    name,
    savedAt,
  }));
}

/** The files that something speaks of, what can be undone included. */
const filesIn = (what: unknown): Set<string> => new Set(JSON.stringify(what).match(/\b[0-9a-f]{64}\b/g));
/**
 * Takes kept shows away for good, with the files that only they had.
 * @param open - what is open now: its files stay, also those that are not saved yet
 * @returns how many bytes of files went
 */
export async function removeShows(ids: readonly string[], open: History): Promise<number> {
  return keep(() =>
    db().transaction('rw', db().shows, db().memories, db().media, async () => {
      const kept = await db().shows.toArray(),
        stays = filesIn([open, kept.filter((k) => !ids.includes(k.id))]),
        gone = [...filesIn(kept.filter((k) => ids.includes(k.id)))].filter((hash) => !stays.has(hash));
      const files = await db().media.bulkGet(gone);
      await db().shows.bulkDelete([...ids]);
      await db().memories.bulkDelete([...ids]);
      await db().media.bulkDelete(gone);
      return files.reduce((sum, f) => sum + (f?.blob.size ?? 0), 0);
    }),
  );
}

/** Takes a show file's content in, whole or not at all. @returns the show's id, a new one when it is taken */
export async function takeIn({ show, memory, media }: ShowFile): Promise<string> {
  const taken = await db().shows.get(show.id);
  const id = taken ? `show-${crypto.randomUUID().slice(0, 8)}` : show.id;
  const named: Show = { ...show, id };
  await keep(() =>
    db().transaction('rw', db().shows, db().memories, db().media, async () => {
      await db().media.bulkPut(media.map((m) => ({ ...m })));
      await db().shows.put({ id, name: named.name, savedAt: Date.now(), show: named, past: [], future: [] });
      await db().memories.put({ id, memory });
    }),
  );
  return id;
}

/** One of the example shows, with what it needs beside the demo's files. */
export async function loadExample(id: string): Promise<Show> {
  const example = EXAMPLES.find((e) => e.id === id);
  if (!example) throw new Error('There is no such example.');
  await loadFerry();
  const manifest = (await (await fetch('/demo/manifest.json')).json()) as FerryMedia;
  const film = await fetch('/examples/wake.webm');
  if (!film.ok) throw new Error('The examples’ film is missing on the server. Install Batucada again.');
  const [buoy, wake] = await Promise.all([
    keepMedia(new Blob([buoyModel()], { type: 'model/gltf-binary' }), 'buoy.glb'),
    keepMedia(new Blob([await film.arrayBuffer()], { type: 'video/webm' }), 'wake.webm'),
  ]);
  return example.make({ ...manifest, buoy, film: wake });
}

/** The demo show, with its files fetched from the server when this browser has not got them. */
export async function loadFerry(): Promise<Show> {
  const manifest = (await (await fetch('/demo/manifest.json')).json()) as FerryMedia;
  const files: [string, string, string][] = [
    ...Object.entries(manifest.stems).map(([name, hash]): [string, string, string] => [
      hash,
      `${name}.wav`,
      'audio/wav',
    ]),
    [manifest.badge, 'badge.svg', 'image/svg+xml'],
    [manifest.tune, 'bell.mid', 'audio/midi'],
  ];
  await Promise.all(
    files.map(async ([hash, name, type]) => {
      if (await db().media.get(hash)) return;
      const response = await fetch(`/demo/${name}`);
      if (!response.ok)
        throw new Error(`The demo’s ${name} is missing on the server. Run “npm run demo” again.`);
      await keepMedia(new Blob([await response.arrayBuffer()], { type }), name);
    }),
  );
  return ferryShow(manifest);
}
