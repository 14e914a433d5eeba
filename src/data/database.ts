import Dexie, { type EntityTable } from 'dexie';
import type { LogLine } from '../core/log';
import { type Edit, mediaOfInput, type Memory, type Show } from '../core/show';

/** A show as it is kept: with what can be undone, so that undo survives a reload. */
export interface KeptShow {
  readonly id: string;
  readonly name: string;
  readonly savedAt: number;
  readonly show: Show;
  readonly past: readonly Edit[];
  readonly future: readonly Edit[];
}
export interface KeptMemory {
  readonly id: string;
  readonly memory: Memory;
}
export interface KeptMedia {
  readonly hash: string;
  readonly name: string;
  readonly blob: Blob;
}
interface Setting {
  readonly key: string;
  readonly value: unknown;
}

/** A line of the night's log, and the night that it belongs to: the day on which that began. */
export interface KeptLine extends LogLine {
  readonly n?: number;
  readonly night: string;
}

class Database extends Dexie {
  declare shows: EntityTable<KeptShow, 'id'>;
  declare memories: EntityTable<KeptMemory, 'id'>;
  declare media: EntityTable<KeptMedia, 'hash'>;
  declare settings: EntityTable<Setting, 'key'>;
  declare log: EntityTable<KeptLine, 'n'>;
  constructor() {
    super('batucada');
    this.version(1).stores({ shows: 'id, savedAt', memories: 'id', media: 'hash', settings: 'key' });
    this.version(2).stores({ log: '++n, night, [night+n]' });
  }
}

let database: Database | null = null;
export function db(): Database {
  return (database ??= new Database());
}

/** The browser's store refused; the message says what to do. */
export class KeepError extends Error {
  override readonly name = 'KeepError';
}

/** Runs a write, and says in words why it could not be done. @throws KeepError */
export async function keep<T>(write: () => Promise<T>): Promise<T> {
  try {
    return await write();
  } catch (cause) {
    const name =
      cause instanceof Error ? `${cause.name} ${(cause as { inner?: Error }).inner?.name ?? ''}` : '';
    if (name.includes('Quota'))
      throw new KeepError(
        'The browser’s store is full. Save the show to a file now; then remove shows that you no longer need (Show menu, Shows in this browser), or free some disk space.',
        { cause },
      );
    throw new KeepError(
      'The browser would not save the show. Save it to a file now, so that nothing is lost.',
      { cause },
    );
  }
}

export async function getSetting<T>(key: string, otherwise: T): Promise<T> {
  try {
    return ((await db().settings.get(key))?.value as T | undefined) ?? otherwise;
  } catch {
    return otherwise;
  }
}
export async function setSetting(key: string, value: unknown): Promise<void> {
  await db().settings.put({ key, value });
}

export async function hashOf(bytes: ArrayBuffer | Uint8Array<ArrayBuffer>): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return [...digest].map((b) => b.toString(16).padStart(2, '0')).join('');
}

/** Keeps a file under its hash; the same file is kept once. @returns its hash */
export async function keepMedia(blob: Blob, name: string): Promise<string> {
  const hash = await hashOf(await blob.arrayBuffer());
  await keep(() => db().media.put({ hash, name, blob }));
  return hash;
}

export function mediaOf(show: Show): string[] {
  return [
    ...new Set([
      ...show.inputs.flatMap((i) => mediaOfInput(i)),
      ...show.overlays.flatMap((o) => (o.still ? [o.still] : [])),
      ...show.figures.flatMap((f) => ('media' in f.form && f.form.media ? [f.form.media] : [])),
    ]),
  ];
}

/** What the files of a show are called, for words about them. */
export function namesOfMedia(show: Show, hashes: readonly string[]): string[] {
  const names = new Map<string, string>();
  for (const input of show.inputs) {
    if (input.kind === 'files') for (const stem of input.stems) names.set(stem.media, stem.name);
    if (input.kind === 'notes' && input.from.kind === 'file')
      names.set(input.from.media, input.from.fileName);
  }
  for (const o of show.overlays) if (o.still) names.set(o.still, `the still behind ${o.name}`);
  for (const f of show.figures) if ('media' in f.form && f.form.media) names.set(f.form.media, f.name);
  return hashes.map((hash) => names.get(hash) ?? hash.slice(0, 8));
}
