import { createServer, type Server } from 'node:net';
import { isLocalPeer } from '../hosts';
import { keyMatches } from '../hosts';

/** Where programs expect a broker. */
export const MQTT_PORT = 1883;

/** The broker that ships with us, for other programs on this machine: on loopback, behind a key, and none but us may publish. */
export class OwnBroker {
  readonly port: number;
  readonly #server: Server;
  readonly #close: () => Promise<void>;
  readonly #readers: () => number;

  private constructor(server: Server, port: number, readers: () => number, close: () => Promise<void>) {
    this.#server = server;
    this.port = port;
    this.#readers = readers;
    this.#close = close;
  }

  /**
   * @param port - 0 for a free one; one that is taken gives way to a free one @param key - password of whoever reads
   * @param ownKey - of us, who publish
   */
  static async open(port: number, key: string, ownKey: string): Promise<OwnBroker> {
    const { Aedes } = await import('aedes');
    const owners = new WeakSet<object>();
    const broker = await Aedes.createBroker({
      authenticate: (client, _, password, done) => {
        const given = password?.toString() ?? null,
          own = keyMatches(given, ownKey);
        if (own) owners.add(client);
        done(null, own || keyMatches(given, key));
      },
      authorizePublish: (client, __, done) =>
        done(client && owners.has(client) ? null : new Error('Only Batucada publishes here.')),
    });
    const server = createServer((socket) => {
      if (isLocalPeer(socket.remoteAddress)) broker.handle(socket);
      else socket.destroy();
    });
    const listen = (at: number): Promise<number> =>
      new Promise((done, fail) => {
        server.once('error', fail);
        server.listen(at, '127.0.0.1', () => {
          server.removeListener('error', fail);
          done((server.address() as { port: number }).port);
        });
      });
    const own = await listen(port).catch(() => listen(0));
    return new OwnBroker(
      server,
      own,
      () => Math.max(0, broker.connectedClients - 1),
      () => new Promise((done) => broker.close(() => done())),
    );
  }

  /** How many programs beside ourselves are connected. */
  get readers(): number {
    return this.#readers();
  }
  async close(): Promise<void> {
    await this.#close();
    await new Promise<void>((done) => this.#server.close(() => done()));
  }
}
