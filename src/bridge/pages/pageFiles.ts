import { existsSync, readdirSync, readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import path from 'node:path';

/** Where the pages are, as `scripts/pages.mjs` bundles them, beside the bundled server or in the project that is developed. */
export const PAGES_FOLDER =
  [path.join(import.meta.dirname, '../pages'), path.join(process.cwd(), '.cache/pages')].find((f) =>
    existsSync(path.join(f, 'page.html')),
  ) ?? path.join(process.cwd(), '.cache/pages');

const TYPES: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.woff2': 'font/woff2',
};
/** Ways to pack that a browser may take, the better first. */
const PACKED = [
  ['br', '.br'],
  ['gzip', '.gz'],
] as const;

/** A page of its own: an overlay, its matte, or a screen on another machine. */
export const isPagePath = (at: string): boolean => /^\/(overlay|matte|picture)\/[^/]+$/.test(at);
/** What pages load: their own code and letters, the same for everybody and nothing of a show. */
export const isPageFile = (at: string): boolean => /^\/page\/[\w.-]+$/.test(at);

/** The pages' own few files, held in memory, packed as they were when they were made. */
export class PageFiles {
  readonly #files = new Map<string, Buffer>();

  constructor(folder = PAGES_FOLDER) {
    if (existsSync(folder))
      for (const name of readdirSync(folder)) this.#files.set(name, readFileSync(path.join(folder, name)));
  }

  /** Answers what {@link isPagePath} and {@link isPageFile} let through. */
  serve(at: string, request: IncomingMessage, response: ServerResponse): void {
    const name = isPagePath(at) ? 'page.html' : path.basename(at),
      plain = this.#files.get(name),
      type = TYPES[path.extname(name)];
    if (!plain || !type) {
      response
        .writeHead(name === 'page.html' ? 503 : 404, { 'Content-Type': 'text/plain; charset=utf-8' })
        .end(
          name === 'page.html' ? 'The pages are not built yet. Run: npm run build' : 'There is no such file.',
        );
      return;
    }
    const accepts = String(request.headers['accept-encoding'] ?? ''),
      packed = PACKED.find(([way, end]) => accepts.includes(way) && this.#files.has(name + end));
    response
      .writeHead(200, {
        'Content-Type': type,
        // Files are named by what is in them but for the page and its first script.
        'Cache-Control':
          /-[A-Z0-9]{8}\./.test(name) || type === TYPES['.woff2']
            ? 'max-age=31536000, immutable'
            : 'no-cache',
        // A control window may show them in a frame; nobody needs these to load them.
        'Cross-Origin-Embedder-Policy': 'require-corp',
        'Cross-Origin-Resource-Policy': 'cross-origin',
        'X-Content-Type-Options': 'nosniff',
        Vary: 'Accept-Encoding',
        ...(packed && { 'Content-Encoding': packed[0] }),
      })
      .end(packed ? this.#files.get(name + packed[1]) : plain);
  }
}
