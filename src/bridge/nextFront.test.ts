import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, get, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { NextFront } from './nextFront';

let folder: string;
let front: NextFront | null = null;
let server: Server | null = null;
const spoken = console.error;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-front-'));
  console.error = () => undefined;
});
afterEach(async () => {
  front?.close();
  server?.closeAllConnections();
  await new Promise((done) => (server ? server.close(done) : done(null)));
  server = null;
  console.error = spoken;
  rmSync(folder, { recursive: true, force: true });
});

/** A page server of our own making: each start does what the next of these says. */
function pages(turns: readonly ('serve' | 'end before it is ready')[]): string {
  const script = path.join(folder, 'child.mjs');
  writeFileSync(
    script,
    `import { appendFileSync, readFileSync, existsSync, rmSync } from 'node:fs';
     import { createServer } from 'node:http';
     const log = ${JSON.stringify(path.join(folder, 'log'))};
     const turn = existsSync(log) ? readFileSync(log, 'utf8').length : 0;
     appendFileSync(log, '.');
     process.on('disconnect', () => process.exit(0));
     if (${JSON.stringify(turns)}[turn] !== 'serve') process.exit(7);
     rmSync(process.argv[2], { force: true });
     createServer((request, response) => {
       if (request.url === '/die') process.exit(3);
       if (request.url === '/half') {
         response.writeHead(200, { 'Content-Length': 1000 });
         response.write('half', () => process.exit(3));
         return;
       }
       response.end('page ' + turn);
     }).listen(process.argv[2], () => process.send('ready'));`,
  );
  return script;
}
const starts = (): number => readFileSync(path.join(folder, 'log'), 'utf8').length;
async function open(turns: Parameters<typeof pages>[0]): Promise<(url: string) => Promise<string>> {
  front = new NextFront(0, pages(turns));
  await front.start();
  server = createServer((request, response) => front!.pass(request, response));
  await new Promise<void>((done) => server!.listen(0, '127.0.0.1', () => done()));
  const { port } = server.address() as AddressInfo;
  return (url) =>
    new Promise((resolve) => {
      get({ host: '127.0.0.1', port, path: url, agent: false }, (r) => {
        let text = '';
        r.on('data', (d: Buffer) => {
          text += d.toString();
        });
        r.on('end', () => resolve(`${r.statusCode} ${text}`));
        r.on('error', () => resolve('cut off'));
      }).on('error', () => resolve('cut off'));
    });
}
async function until(what: () => Promise<boolean>): Promise<void> {
  const end = performance.now() + 20000;
  while (!(await what())) {
    if (performance.now() > end) throw new Error(`waited for ${what}`);
    await new Promise((r) => setTimeout(r, 20));
  }
}

describe('the page server', () => {
  it('is started again when it ends, also when it ends while it starts, as often as it takes', async () => {
    const ask = await open(['serve', 'end before it is ready', 'end before it is ready', 'serve']);
    expect(await ask('/')).toBe('200 page 0');
    await ask('/die');
    await until(async () => (await ask('/')) === '200 page 3');
    expect(starts()).toBe(4);
  });
  it('a page that it was cut off in ends, instead of being waited for', async () => {
    const ask = await open(['serve', 'serve']);
    expect(await ask('/half')).toBe('cut off');
  });
  it('that never comes up is said at the start', async () => {
    front = new NextFront(0, pages(['end before it is ready']));
    await expect(front.start()).rejects.toThrow('exit 7');
  });
});
