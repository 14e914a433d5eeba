import { createSocket, type Socket } from 'node:dgram';
import { isIP } from 'node:net';
import {
  ARTDMX_BYTES,
  ARTNET_PORT,
  decodeArtPollReply,
  encodeArtDmx,
  encodeArtPoll,
  type ArtNode,
} from '../core/protocols/artnet';
import type { WireSetup, WireState } from '../core/protocols/bridge';

interface Line {
  readonly universe: number;
  readonly data: Uint8Array;
  sequence: number;
  sentAt: number;
  /** When the packet before that went out: two may follow each other closely after a rest. */
  before: number;
  dirty: boolean;
  timer: NodeJS.Timeout | null;
}
interface Wire {
  setup: WireSetup;
  host: string;
  port: number;
  lines: Map<number, Line>;
  packets: number;
  errors: number;
  trouble: string | null;
}

const POLL_EVERY_MS = 3000;
const NODE_FORGOTTEN_MS = 9000;

export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/.test(host);
}

/**
 * Sends universes as Art-Net: at once when something changed, but never more than two packets in two of the wire's intervals; again after
 * `keepAlive` when nothing did. The latest values win; a late packet is never sent after a newer one.
 *
 * Safe state: without a driver the last values are held and kept alive; `blackout` is for leaving.
 */
export class ArtnetSender {
  readonly nodes = new Map<string, ArtNode & { seenAt: number }>();
  readonly #socket: Socket;
  readonly #wires = new Map<string, Wire>();
  readonly #order: string[] = [];
  readonly #packet = Buffer.alloc(ARTDMX_BYTES);
  readonly #simulated: () => { host: string; port: number };
  readonly #beat: NodeJS.Timeout;
  #armed = false;

  constructor(simulated: () => { host: string; port: number }) {
    this.#simulated = simulated;
    this.#socket = createSocket('udp4');
    this.#socket.on('message', (m, from) => {
      const node = decodeArtPollReply(m);
      if (node) this.nodes.set(`${from.address}:${from.port}`, { ...node, seenAt: Date.now() });
    });
    this.#socket.on('error', () => undefined); // counted where it is sent
    this.#socket.bind(0, () => this.#socket.setBroadcast(true));
    this.#beat = setInterval(() => this.#poll(), POLL_EVERY_MS);
  }

  setWires(wires: readonly WireSetup[], armed: boolean): void {
    this.#armed = armed;
    const keep = new Set(wires.map((w) => w.id));
    for (const [id, wire] of this.#wires)
      if (!keep.has(id)) {
        this.#drop(wire);
        this.#wires.delete(id);
      }
    this.#order.length = 0;
    for (const setup of wires) {
      this.#order.push(setup.id);
      const old = this.#wires.get(setup.id);
      const { host, port } = setup.target.kind === 'simulated' ? this.#simulated() : setup.target;
      const trouble = this.#refuses(host);
      if (old) Object.assign(old, { setup, host, port, trouble });
      else this.#wires.set(setup.id, { setup, host, port, lines: new Map(), packets: 0, errors: 0, trouble });
    }
    this.#poll();
  }

  #refuses(host: string): string | null {
    if (isLoopback(host)) return null;
    if (isIP(host) === 6) return 'Art-Net goes over IPv4. Give an IPv4 address.';
    return this.#armed ? null : 'This target is beyond this computer. Arm the outputs to send to it.';
  }

  /** New values of one universe. @param wire - place of the wire in the list last set */
  set(wire: number, universe: number, channels: Uint8Array): void {
    const w = this.#wires.get(this.#order[wire] ?? '');
    if (!w) return;
    let line = w.lines.get(universe);
    if (!line) {
      line = {
        universe,
        data: new Uint8Array(512),
        sequence: 0,
        sentAt: 0,
        before: 0,
        dirty: true,
        timer: null,
      };
      w.lines.set(universe, line);
    }
    let changed = line.sentAt === 0;
    for (let i = 0; i < 512; i++) {
      if (line.data[i] !== channels[i]) {
        line.data[i] = channels[i]!;
        changed = true;
      }
    }
    if (!changed) return;
    line.dirty = true;
    this.#schedule(w, line);
  }

  #schedule(w: Wire, line: Line): void {
    // A change often comes in two ticks: after a rest the second need not wait for the first's whole interval.
    const due = line.dirty ? line.before + 2000 / w.setup.rate : line.sentAt + w.setup.keepAlive;
    const wait = due - Date.now();
    if (line.dirty && wait <= 0) {
      this.#send(w, line);
      return;
    }
    if (line.timer) clearTimeout(line.timer);
    line.timer = setTimeout(
      () => {
        line.timer = null;
        this.#send(w, line);
      },
      Math.max(1, wait),
    );
  }

  #send(w: Wire, line: Line): void {
    if (line.timer) {
      clearTimeout(line.timer);
      line.timer = null;
    }
    line.dirty = false;
    line.before = line.sentAt;
    line.sentAt = Date.now();
    if (w.trouble === null) {
      line.sequence = (line.sequence % 255) + 1;
      const n = encodeArtDmx(this.#packet, line.universe, line.sequence, line.data);
      // The socket may keep the buffer until the packet is out: each gets its own copy.
      this.#socket.send(Buffer.from(this.#packet.subarray(0, n)), w.port, w.host, (e) => {
        if (e) w.errors++;
        else w.packets++;
      });
    }
    this.#schedule(w, line);
  }

  #poll(): void {
    const now = Date.now();
    for (const [key, node] of this.nodes) if (now - node.seenAt > NODE_FORGOTTEN_MS) this.nodes.delete(key);
    for (const w of this.#wires.values()) {
      w.trouble = this.#refuses(w.host);
      if (w.trouble === null)
        this.#socket.send(encodeArtPoll(), w.port, w.host, (e) => {
          if (e) w.errors++;
        });
    }
  }

  state(): WireState[] {
    return [...this.#wires.values()].map((w) => ({
      id: w.setup.id,
      packets: w.packets,
      errors: w.errors,
      trouble: w.trouble,
      address: `${w.host}:${w.port}`,
    }));
  }

  #drop(w: Wire): void {
    for (const line of w.lines.values()) if (line.timer) clearTimeout(line.timer);
  }

  /** Every lamp to zero, once, for leaving. */
  async blackout(): Promise<void> {
    const sends: Promise<void>[] = [];
    for (const w of this.#wires.values()) {
      if (w.trouble !== null) continue;
      for (const line of w.lines.values()) {
        line.data.fill(0);
        line.sequence = (line.sequence % 255) + 1;
        const n = encodeArtDmx(this.#packet, line.universe, line.sequence, line.data);
        sends.push(
          new Promise((done) =>
            this.#socket.send(Buffer.from(this.#packet.subarray(0, n)), w.port, w.host, () => done()),
          ),
        );
      }
    }
    await Promise.all(sends);
  }

  close(): void {
    clearInterval(this.#beat);
    for (const w of this.#wires.values()) this.#drop(w);
    this.#socket.close();
  }
}

export { ARTNET_PORT };
