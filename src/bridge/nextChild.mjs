// Next in a process of its own, on a socket that only this machine's user can reach: rendering a page, however long it
// takes, never holds up a packet in the bridge.
import { createServer } from 'node:http';
import { rmSync } from 'node:fs';

// Before anything that takes time: a server that ends meanwhile leaves nothing behind.
process.on('disconnect', () => process.exit(0));
if (!process.connected) process.exit(0);

const socket = process.argv[2];
const dev = process.env.NODE_ENV !== 'production';
const { default: next } = await import('next');
const make = next.default ?? next;
const app = make({ dev, dir: process.cwd(), hostname: '127.0.0.1', port: Number(process.env.BATUCADA_PORT) });
const handle = app.getRequestHandler();
app.prepare().then(
  () => {
    rmSync(socket, { force: true });
    const server = createServer((request, response) => handle(request, response));
    if (dev) {
      const upgrade = app.getUpgradeHandler();
      server.on('upgrade', (request, stream, head) => upgrade(request, stream, head));
    }
    server.listen(socket, () => process.send?.('ready'));
  },
  (e) => {
    console.error(e);
    process.exit(1);
  },
);
