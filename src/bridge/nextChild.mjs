// Next in a process of its own, on a socket that only this machine's user can reach: rendering a page, however long it
// takes, never holds up a packet in the bridge.
import next from 'next';
import { createServer } from 'node:http';
import { rmSync } from 'node:fs';

const socket = process.argv[2];
const dev = process.env.NODE_ENV !== 'production';
const make = next.default ?? next;
const app = make({ dev, dir: process.cwd(), hostname: '127.0.0.1', port: Number(process.env.BATUCADA_PORT) });
const handle = app.getRequestHandler();
app.prepare().then(
  () => {
    const upgrade = app.getUpgradeHandler();
    rmSync(socket, { force: true });
    const server = createServer((request, response) => handle(request, response));
    server.on('upgrade', (request, stream, head) => upgrade(request, stream, head));
    server.listen(socket, () => process.send?.('ready'));
  },
  (e) => {
    console.error(e);
    process.exit(1);
  },
);
process.on('disconnect', () => process.exit(0));
