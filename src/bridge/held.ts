import { createHash, randomBytes } from 'node:crypto';
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import path from 'node:path';
import type { OverlayPage } from '../core/protocols/bridge';
import { MEDIA_MOST_BYTES } from '../core/protocols/bridge';

interface Saved {
  readonly key: string;
  readonly version: number;
  readonly overlays: readonly OverlayPage[];
  readonly types: Readonly<Record<string, string>>;
}

const IMAGE_TYPES = new Set([
  'image/png',
  'image/jpeg',
  'image/webp',
  'image/gif',
  'image/svg+xml',
  'image/avif',
]);

/**
 * What the bridge keeps on disk, so that a page opened first, late, or after a restart shows the right thing: the overlays'
 * part of the show, their images by hash, and the key in their addresses.
 */
export class Held {
  key: string;
  version = 0;
  overlays: readonly OverlayPage[] = [];
  #types: Record<string, string> = {};
  readonly #folder: string;

  constructor(folder: string) {
    this.#folder = folder;
    mkdirSync(path.join(folder, 'media'), { recursive: true });
    let saved: Partial<Saved> = {};
    try {
      saved = JSON.parse(readFileSync(path.join(folder, 'bridge.json'), 'utf8')) as Partial<Saved>;
    } catch {
      /* the first start, or a file that was cut off: begin anew */
    }
    this.key =
      typeof saved.key === 'string' && saved.key.length >= 16 ? saved.key : randomBytes(12).toString('hex');
    this.version = typeof saved.version === 'number' ? saved.version : 0;
    this.overlays = Array.isArray(saved.overlays) ? saved.overlays : [];
    this.#types = saved.types ?? {};
    this.#save();
  }

  setOverlays(version: number, overlays: readonly OverlayPage[]): void {
    this.version = version;
    this.overlays = overlays;
    this.#save();
  }

  #save(): void {
    const file = path.join(this.#folder, 'bridge.json');
    const saved: Saved = {
      key: this.key,
      version: this.version,
      overlays: this.overlays,
      types: this.#types,
    };
    try {
      // Written beside and moved: a full disk or a pulled plug leaves the old file whole.
      writeFileSync(`${file}.new`, JSON.stringify(saved));
      renameSync(`${file}.new`, file);
    } catch (e) {
      console.error(
        `batucada: the bridge could not save what it holds (${(e as Error).message}). The show goes on; pages opened after a restart may be empty until the control window is open.`,
      );
    }
  }

  #file(hash: string): string {
    return path.join(this.#folder, 'media', hash);
  }
  /** Images that the overlays name and that are not here yet. */
  missing(): string[] {
    return [
      ...new Set(
        this.overlays.flatMap((o) => (o.badge && !existsSync(this.#file(o.badge)) ? [o.badge] : [])),
      ),
    ];
  }

  serve(hash: string, response: ServerResponse): void {
    const file = this.#file(hash);
    if (!/^[0-9a-f]{64}$/.test(hash) || !existsSync(file)) {
      response.writeHead(404).end('There is no such image.');
      return;
    }
    response.writeHead(200, {
      'Content-Type': this.#types[hash] ?? 'application/octet-stream',
      'Content-Length': statSync(file).size,
      'Cache-Control': 'private, max-age=31536000, immutable',
      'Cross-Origin-Resource-Policy': 'cross-origin',
      'X-Content-Type-Options': 'nosniff',
      // An image made by somebody else may be a document with scripts in it.
      'Content-Security-Policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
    });
    createReadStream(file)
      .on('error', () => response.destroy())
      .pipe(response);
  }

  /** Takes an image in, checks its hash, and only then lets it be seen. */
  take(hash: string, request: IncomingMessage, response: ServerResponse): void {
    const type = (request.headers['content-type'] ?? '').split(';')[0]!;
    const refuse = (status: number, why: string): void => {
      response.writeHead(status).end(why);
      request.destroy();
    };
    if (!/^[0-9a-f]{64}$/.test(hash)) return refuse(400, 'The name of an image is its SHA-256 in hex.');
    if (!IMAGE_TYPES.has(type)) return refuse(415, 'Only images can be shown in an overlay.');
    const part = `${this.#file(hash)}.${randomBytes(4).toString('hex')}.part`;
    const out = createWriteStream(part);
    const digest = createHash('sha256');
    let size = 0;
    const drop = (): void => {
      out.destroy();
      rmSync(part, { force: true });
    };
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > MEDIA_MOST_BYTES) {
        drop();
        refuse(413, `An image may have ${MEDIA_MOST_BYTES >> 20} MB at most.`);
        return;
      }
      digest.update(chunk);
    });
    request.on('aborted', drop);
    out.on('error', () => {
      drop();
      if (!response.headersSent) response.writeHead(507).end('There is no room on the disk.');
    });
    request.pipe(out);
    out.on('finish', () => {
      if (digest.digest('hex') !== hash) {
        rmSync(part, { force: true });
        if (!response.headersSent) response.writeHead(400).end('The image does not match its hash.');
        return;
      }
      renameSync(part, this.#file(hash));
      this.#types = { ...this.#types, [hash]: type };
      this.#save();
      response.writeHead(204).end();
    });
  }
}
