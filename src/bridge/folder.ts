import { createHash, randomBytes } from 'node:crypto';
import { createReadStream, createWriteStream, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import path from 'node:path';
import { type LaserSetting, readLaserSetting, USUAL_LASER } from '../core/laser';
import {
  type BrokerSetting,
  MEDIA_MOST_BYTES,
  type PageDocument,
  parseDocuments,
  readBrokerSetting,
} from '../core/protocols';

interface Saved {
  readonly key: string;
  readonly driveKey: string;
  readonly phoneKey: string;
  readonly pages: readonly PageDocument[];
  readonly types: Readonly<Record<string, string>>;
  readonly laser: SavedLaser;
  readonly house: string;
  readonly brokerKey: string;
  readonly relayKey: string;
  readonly broker: BrokerSetting;
}
/** The laser's setting as it was last set, and the code that opens it, as salt and hash; null where none was chosen. */
export interface SavedLaser {
  readonly setting: LaserSetting;
  readonly lock: { readonly salt: string; readonly hash: string } | null;
}

/** What a page may be made of; a model's type is often not known. */
const MEDIA_TYPES = new Set([
  'image/png',
  'image/jpeg',
  'image/webp',
  'image/gif',
  'image/svg+xml',
  'image/avif',
  'video/mp4',
  'video/webm',
  'video/quicktime',
  'model/gltf-binary',
  'model/gltf+json',
  'application/octet-stream',
]);
const HASH = /^[0-9a-f]{64}$/;
/** Changes that come within this time are written once. */
const SAVE_AFTER_MS = 300;

/** The folder cannot be used; the message says what to do. */
export class FolderError extends Error {
  override readonly name = 'FolderError';
}

/**
 * What the bridge keeps on disk, so that a page opened first, late, or after a restart shows the right thing: the documents of
 * pages, the files that they name by hash, and the keys. Written beside, never in the way of a packet; what is damaged there is
 * begun anew.
 */
export class BridgeFolder {
  readonly key: string;
  readonly driveKey: string;
  readonly phoneKey: string;
  /** Names this server among others that publish to the same broker. */
  readonly house: string;
  /** Opens the broker that ships with us, for reading; and pages on relays. */
  readonly brokerKey: string;
  readonly relayKey: string;
  /** Of us, who publish: another at every start. */
  readonly publishKey = randomBytes(16).toString('hex');
  #broker: BrokerSetting;
  /** Told of each file that was taken in. */
  onTaken: ((hash: string) => void) | null = null;
  readonly #pages = new Map<string, PageDocument>();
  #types: Record<string, string> = {};
  #laser: SavedLaser;
  readonly #folder: string;
  #timer: NodeJS.Timeout | null = null;
  #saving: Promise<void> = Promise.resolve();

  /** @throws FolderError when the folder cannot be written */
  constructor(folder: string) {
    this.#folder = folder;
    const saved = readSaved(path.join(folder, 'bridge.json'));
    const word = (known: unknown): string =>
      typeof known === 'string' && /^[0-9a-zA-Z_-]{16,64}$/.test(known)
        ? known
        : randomBytes(12).toString('hex');
    this.key = word(saved.key);
    this.driveKey = word(saved.driveKey);
    this.phoneKey = word(saved.phoneKey);
    this.house = word(saved.house).slice(0, 16);
    this.brokerKey = word(saved.brokerKey);
    this.relayKey = word(saved.relayKey);
    this.#broker = readBrokerSetting(saved.broker);
    for (const page of parseDocuments(saved.pages) ?? []) this.#pages.set(page.id, page);
    this.#laser = laserOf(saved.laser);
    this.#types = Object.fromEntries(
      Object.entries(typeof saved.types === 'object' && saved.types !== null ? saved.types : {}).filter(
        ([hash, type]) => HASH.test(hash) && MEDIA_TYPES.has(type as string),
      ),
    ) as Record<string, string>;
    try {
      mkdirSync(path.join(folder, 'media'), { recursive: true });
      // The keys are there before anybody is told them.
      writeFileSync(path.join(folder, 'bridge.json'), this.#text());
    } catch (cause) {
      throw new FolderError(
        `The folder “${folder}” cannot be written (${(cause as NodeJS.ErrnoException).code ?? 'unknown'}). Make it writable, or name another: BATUCADA_DATA=/some/folder npm run demo`,
        { cause },
      );
    }
    void this.#tidy();
  }

  #text(): string {
    const saved: Saved = {
      key: this.key,
      driveKey: this.driveKey,
      phoneKey: this.phoneKey,
      pages: [...this.#pages.values()].filter((p) => p.kept),
      types: this.#types,
      laser: this.#laser,
      house: this.house,
      brokerKey: this.brokerKey,
      relayKey: this.relayKey,
      broker: this.#broker,
    };
    return JSON.stringify(saved);
  }

  get laser(): SavedLaser {
    return this.#laser;
  }
  setLaser(laser: SavedLaser): void {
    this.#laser = laser;
    this.#saveSoon();
  }

  get broker(): BrokerSetting {
    return this.#broker;
  }
  setBroker(broker: BrokerSetting): void {
    this.#broker = broker;
    this.#saveSoon();
  }

  page(id: string): PageDocument | null {
    return this.#pages.get(id) ?? null;
  }
  /** @param all - the pages that there are now: what is known of others is forgotten @param documents - those that are new */
  setPages(all: readonly string[], documents: readonly PageDocument[]): void {
    for (const page of documents) this.#pages.set(page.id, page);
    for (const id of this.#pages.keys()) if (!all.includes(id)) this.#pages.delete(id);
    this.#saveSoon();
  }
  /** Files that pages name. */
  #named(): Set<string> {
    return new Set([...this.#pages.values()].flatMap((p) => p.media));
  }

  #saveSoon(): void {
    this.#timer ??= setTimeout(() => void this.save(), SAVE_AFTER_MS);
  }
  /** Writes what there is now, after what is being written. */
  save(): Promise<void> {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    const file = path.join(this.#folder, 'bridge.json');
    this.#saving = this.#saving.then(async () => {
      try {
        // Written beside and moved: a full disk or a pulled plug leaves the old file whole.
        await writeFile(`${file}.new`, this.#text());
        await rename(`${file}.new`, file);
      } catch (e) {
        console.error(
          `batucada: the bridge could not save what it holds (${(e as Error).message}). The show goes on; pages opened after a restart may be empty until the control window is open.`,
        );
      }
    });
    return this.#saving;
  }
  async close(): Promise<void> {
    if (this.#timer) await this.save();
    await this.#saving;
  }

  /** Takes away what was cut off on its way in, and files that nothing names. */
  async #tidy(): Promise<void> {
    const wanted = this.#named();
    const folder = path.join(this.#folder, 'media');
    for (const name of await readdir(folder).catch(() => []))
      if (name.endsWith('.part') || (HASH.test(name) && !wanted.has(name) && !(name in this.#types)))
        await rm(path.join(folder, name), { recursive: true, force: true }).catch(() => undefined);
    for (const hash of Object.keys(this.#types))
      if (!wanted.has(hash)) {
        delete this.#types[hash];
        await rm(this.#file(hash), { recursive: true, force: true }).catch(() => undefined);
      }
  }

  #file(hash: string): string {
    return path.join(this.#folder, 'media', hash);
  }
  async #sizeOf(hash: string): Promise<number | null> {
    try {
      const found = await stat(this.#file(hash));
      return found.isFile() ? found.size : null;
    } catch {
      return null;
    }
  }
  /** Files that pages name and that are not here yet. */
  async missing(): Promise<string[]> {
    const named = [...this.#named()];
    const sizes = await Promise.all(named.map((hash) => this.#sizeOf(hash)));
    return named.filter((_, i) => sizes[i] === null);
  }

  /** A file whole; null where there is none, or it is larger than `most` bytes. */
  async read(hash: string, most: number): Promise<{ readonly type: string; readonly bytes: Buffer } | null> {
    const size = HASH.test(hash) ? await this.#sizeOf(hash) : null;
    if (size === null || size > most) return null;
    const bytes = await readFile(this.#file(hash)).catch(() => null);
    return bytes && { type: this.#types[hash] ?? 'application/octet-stream', bytes };
  }
  async serve(hash: string, response: ServerResponse): Promise<void> {
    const size = HASH.test(hash) ? await this.#sizeOf(hash) : null;
    if (size === null) {
      response.writeHead(404).end('There is no such file.');
      return;
    }
    response.writeHead(200, {
      'Content-Type': this.#types[hash] ?? 'application/octet-stream',
      'Content-Length': size,
      'Cache-Control': 'private, max-age=31536000, immutable',
      'Cross-Origin-Resource-Policy': 'cross-origin',
      'X-Content-Type-Options': 'nosniff',
      // An image made by somebody else may be a document with scripts in it.
      'Content-Security-Policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    });
    createReadStream(this.#file(hash))
      .on('error', () => response.destroy())
      .pipe(response);
  }

  /** Takes a file in, checks its hash, and only then lets it be seen. */
  take(hash: string, request: IncomingMessage, response: ServerResponse): void {
    const type = (request.headers['content-type'] ?? '').split(';')[0]!;
    const answer = (status: number, why = ''): void => {
      if (!response.headersSent) response.writeHead(status).end(why);
    };
    const refuse = (status: number, why: string): void => {
      answer(status, why);
      request.destroy();
    };
    if (!HASH.test(hash)) return refuse(400, 'The name of a file is its SHA-256 in hex.');
    if (!MEDIA_TYPES.has(type)) return refuse(415, 'A page is made of images, films and models only.');
    const part = `${this.#file(hash)}.${randomBytes(4).toString('hex')}.part`;
    const out = createWriteStream(part);
    const digest = createHash('sha256');
    let size = 0;
    const drop = (): void => {
      out.destroy();
      void rm(part, { force: true });
    };
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > MEDIA_MOST_BYTES) {
        drop();
        refuse(413, `A file may have ${MEDIA_MOST_BYTES >> 20} MB at most.`);
        return;
      }
      digest.update(chunk);
    });
    request.on('aborted', drop);
    request.on('error', drop);
    out.on('error', () => {
      drop();
      answer(507, 'There is no room on the disk.');
    });
    request.pipe(out);
    out.on('finish', () => {
      if (digest.digest('hex') !== hash) {
        void rm(part, { force: true });
        answer(400, 'The file does not match its hash.');
        return;
      }
      rename(part, this.#file(hash)).then(
        () => {
          this.#types[hash] = type;
          this.#saveSoon();
          answer(204);
          this.onTaken?.(hash);
        },
        () => {
          void rm(part, { force: true });
          answer(507, 'The file could not be kept: something else is in its place.');
        },
      );
    });
  }
}

/** What cannot be used is as at first; where only the setting cannot, its lock stays. */
function laserOf(raw: unknown): SavedLaser {
  const { setting, lock } = (typeof raw === 'object' && raw !== null ? raw : {}) as Partial<SavedLaser>,
    whole = typeof lock?.salt === 'string' && typeof lock.hash === 'string';
  return { setting: readLaserSetting(setting).setting ?? USUAL_LASER, lock: whole ? lock : null };
}
/** What was kept; nothing of it where it is the first start, or the file was cut off or changed by hand. */
function readSaved(file: string): Partial<Record<keyof Saved, unknown>> {
  try {
    const saved: unknown = JSON.parse(readFileSync(file, 'utf8'));
    return typeof saved === 'object' && saved !== null ? saved : {};
  } catch {
    return {};
  }
}
