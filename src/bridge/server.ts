import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Duplex } from 'node:stream';
import { LAMP_PROTOCOLS } from '../core/outlets';
import { Bridge } from './bridge';
import { BridgeFolder } from './folder';
import { asked, CANONICAL_HOST, isOwnWindow, judge } from './hosts';
import { isPageFile, isPagePath, PageFiles } from './pages/pageFiles';
import { refuseUpgrade } from './refuse';
import { tellStarting } from './starting';
import type { SimulatedDesk } from './simulated/desk';

/** The pages behind the bridge; null in tests of the bridge alone. */
export interface Pages {
  pass(request: IncomingMessage, response: ServerResponse): void;
  /** Only a development server answers upgrades of its own. */
  readonly upgrades: boolean;
  passUpgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void;
}

export interface RunningServer {
  readonly port: number;
  readonly bridge: Bridge;
  readonly folder: BridgeFolder;
  close(): Promise<void>;
}

export interface ServerOptions {
  /** 0 for a free one. */
  readonly port: number;
  /** Where to listen: loopback unless told otherwise. */
  readonly listen: string;
  /** Where the simulated receivers listen; 0 for a free port. */
  readonly artnetPort: number;
  readonly sacnPort: number;
  /** Where the simulated projector listens; 0 for a free port. */
  readonly idnPort: number;
  /** Where OSC is heard, on the address that is listened on; 0 for a free port. */
  readonly oscPort: number;
  /** Where the broker that ships with us listens, on loopback; 0 for a free port, null for none. */
  readonly mqttPort?: number | null;
  readonly folder: string;
  readonly pages: Pages | null;
}

/** One port for everything: pages, media, and the bridge's WebSocket. @throws Error when the port is taken */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const folder = new BridgeFolder(options.folder);
  // Who asks as soon as it listens is told to come again: without an answer a browser would wait for ever.
  let answer: (request: IncomingMessage, response: ServerResponse) => void = tellStarting;
  const server: Server = createServer((request, response) => answer(request, response));
  const port = await new Promise<number>((resolve, reject) => {
    server.once('error', reject);
    server.listen(options.port, options.listen, () => resolve((server.address() as { port: number }).port));
  });
  const bridge = await Bridge.open(
    folder,
    port,
    { artnet: options.artnetPort, sacn: options.sacnPort },
    {
      host: options.listen,
      port: options.oscPort,
    },
    options.idnPort,
  );

  if (options.mqttPort !== undefined && options.mqttPort !== null)
    await bridge.publisher.open(options.mqttPort);
  const files = new PageFiles();
  const keys = { pages: folder.key, phones: folder.phoneKey };
  answer = (request, response) => {
    const ask = asked(request);
    const verdict = judge(ask, port, keys);
    if (verdict.kind === 'refuse') {
      response.writeHead(verdict.status, { 'Content-Type': 'text/plain; charset=utf-8' }).end(verdict.why);
      return;
    }
    if (verdict.kind === 'redirect') {
      response.writeHead(308, { Location: verdict.to }).end();
      return;
    }
    const { path } = ask!;
    if (isPagePath(path) || isPageFile(path)) {
      files.serve(path, request, response);
      return;
    }
    if (path.startsWith('/media/')) {
      const hash = path.slice('/media/'.length);
      if (request.method === 'GET') void folder.serve(hash, response);
      else if (request.method === 'PUT' && isOwnWindow(ask, port)) folder.take(hash, request, response);
      else response.writeHead(403).end('Only the control window may add files.');
    } else if (path === '/bridge/receiver' && request.method === 'POST' && isOwnWindow(ask, port)) {
      const pulled = ask!.query.get('pulled') === 'yes',
        protocol = LAMP_PROTOCOLS.find((p) => p === ask!.query.get('protocol'));
      for (const p of protocol ? [protocol] : LAMP_PROTOCOLS) bridge.receivers[p].pulled = pulled;
      response.writeHead(204).end();
    } else if (path === '/bridge/desk' && request.method === 'POST' && isOwnWindow(ask, port)) {
      setDesk(bridge.desk, ask!.query);
      response.writeHead(204).end();
    } else if (options.pages) options.pages.pass(request, response);
    else response.writeHead(404).end();
  };
  server.on('upgrade', (request, socket, head) => {
    socket.on('error', () => socket.destroy());
    const ask = asked(request),
      { pages } = options;
    if (ask?.path === '/bridge') bridge.upgrade(request, socket, head);
    else if (pages?.upgrades && judge(ask, port, keys).kind === 'serve')
      pages.passUpgrade(request, socket, head);
    else refuseUpgrade(socket, '404 Not Found');
  });
  return {
    port,
    bridge,
    folder,
    close: async () => {
      await bridge.close();
      server.closeAllConnections();
      await new Promise<void>((done) => server.close(() => done()));
    },
  };
}

/** A fader of the simulated desk, or all of it switched off. What makes no sense is passed over. */
function setDesk(desk: SimulatedDesk, query: URLSearchParams): void {
  const protocol = LAMP_PROTOCOLS.find((p) => p === query.get('protocol')),
    [universe, channel, level] = ['universe', 'channel', 'level'].map((k) => Number(query.get(k) ?? NaN)) as [
      number,
      number,
      number,
    ];
  if (query.get('off') === 'yes') desk.off();
  else if (protocol && universe >= 0 && universe < 63999 && channel >= 1 && channel <= 512 && level >= 0)
    desk.set(protocol, Math.floor(universe), Math.floor(channel), Math.min(255, Math.round(level)));
}

export { CANONICAL_HOST };
