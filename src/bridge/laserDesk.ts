import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { promisify } from 'node:util';
import { AgeClock } from '../core/outlets';
import {
  decodeIdnScanned,
  encodeIdnScan,
  FRAME_HEAD,
  FRAME_SEEN,
  IDN_PORT,
  type LaserAsk,
  type LaserReport,
  SEEN_HEAD,
  SEEN_MOST,
  SEEN_POINT,
} from '../core/protocols';
import type { BridgeFolder } from './folder';
import type { Outlets } from './outlets/outlets';
import type { Projector } from './simulated/projector';

const hashOf = promisify(scrypt) as (code: string, salt: Buffer, bytes: number) => Promise<Buffer>;
const HASH_BYTES = 32;
/** After a wrong code the next one is not even looked at for so long, and each time twice as long. */
const WRONG_WAIT_MS = 1000,
  WRONG_WAIT_MOST_MS = 60000;
/** An open lock that nothing is done with closes again. */
const OPEN_MS = 600000;
/** Projectors are given so long to answer. */
const SEEK_MS = 1200;

type Say = (why: string | null) => void;

/**
 * The laser at the bridge: its setting under a lock, the acts that arm it, its frames on their way to the sending thread, and what the
 * projector that ships with us shows of them. Only this machine's own window sets and arms it.
 */
export class LaserDesk {
  readonly #folder: BridgeFolder;
  readonly #outlets: Outlets;
  readonly #projector: Projector;
  readonly #clock = new AgeClock();
  #openUntil = -Infinity;
  #waitUntil = -Infinity;
  #wait = WRONG_WAIT_MS;
  #found: LaserReport['found'] = [];
  #seen = 0;
  readonly #frame = Buffer.alloc(SEEN_HEAD + SEEN_MOST * SEEN_POINT);

  constructor(folder: BridgeFolder, outlets: Outlets, projector: Projector) {
    this.#folder = folder;
    this.#outlets = outlets;
    this.#projector = projector;
    outlets.setLaser(folder.laser.setting);
  }

  get projector(): Projector {
    return this.#projector;
  }

  /** @param own - it comes from this machine's own window @param say - what became of it */
  async obey(ask: LaserAsk, own: boolean, say: Say): Promise<void> {
    const now = performance.now();
    if (!own) {
      say('The laser is armed and set at the computer that it hangs on, and nowhere else.');
      return;
    }
    switch (ask.type) {
      case 'laser':
        this.#outlets.actLaser(ask.act);
        say(null);
        return;
      case 'laserLock':
        if (ask.code === null) {
          this.#openUntil = -Infinity;
          say(null);
        } else await this.#unlock(ask.code, now, say);
        return;
      case 'laserSet':
        if (!this.#isOpen(now)) {
          say('The laser’s setting is locked. Open it with its code first.');
          return;
        }
        this.#openUntil = now + OPEN_MS;
        this.#folder.setLaser({ ...this.#folder.laser, setting: ask.setting });
        this.#outlets.setLaser(ask.setting);
        say(null);
        return;
      case 'laserSeek':
        this.#found = await seek(this.#projector);
        say(this.#found.length > 0 ? null : 'No projector answered.');
    }
  }
  async #unlock(code: string, now: number, say: Say): Promise<void> {
    const { lock, setting } = this.#folder.laser;
    if (lock === null) {
      const salt = randomBytes(16),
        hash = await hashOf(code, salt, HASH_BYTES);
      this.#folder.setLaser({
        setting,
        lock: { salt: salt.toString('hex'), hash: hash.toString('hex') },
      });
      this.#openUntil = performance.now() + OPEN_MS;
      say(null);
      return;
    }
    if (now < this.#waitUntil) {
      say(`Wait ${Math.ceil((this.#waitUntil - now) / 1000)} s before the next try.`);
      return;
    }
    const hash = await hashOf(code, Buffer.from(lock.salt, 'hex'), HASH_BYTES),
      wanted = Buffer.from(lock.hash, 'hex');
    if (wanted.length === hash.length && timingSafeEqual(hash, wanted)) {
      this.#wait = WRONG_WAIT_MS;
      this.#openUntil = performance.now() + OPEN_MS;
      say(null);
      return;
    }
    this.#waitUntil = performance.now() + this.#wait;
    this.#wait = Math.min(WRONG_WAIT_MOST_MS, 2 * this.#wait);
    say('That is not the code.');
  }
  #isOpen(now: number): boolean {
    return now < this.#openUntil;
  }

  /** A frame as it came from the driver. */
  take(data: Buffer): void {
    const now = performance.now(),
      made = this.#clock.made(data.readDoubleLE(8), now);
    this.#outlets.writeLaser(data.subarray(FRAME_HEAD), made, data.readUInt16LE(2));
  }
  /** Whoever drove is gone, or another drives now: nothing stays armed or open for it. */
  leave(): void {
    this.#openUntil = -Infinity;
    this.#clock.forget();
    this.#outlets.leaveLaser();
  }

  report(): LaserReport {
    const { lock, setting } = this.#folder.laser,
      { state, trouble, address } = this.#outlets.state.laser,
      { host, port, packets, bad } = this.#projector;
    return {
      setting,
      lock: lock === null ? 'none' : this.#isOpen(performance.now()) ? 'open' : 'locked',
      state,
      trouble,
      address,
      projector: { address: `${host}:${port}`, packets, bad },
      found: this.#found,
    };
  }
  /** What the mirrors drew since this was last asked, as it is told to the window; null when they drew nothing. */
  seen(): Buffer | null {
    const b = this.#frame,
      from = Math.max(this.#seen, this.#projector.points - SEEN_MOST);
    let at = SEEN_HEAD;
    this.#seen = this.#projector.each(from, (_, x, y, r, g, bl) => {
      b.writeInt16LE(sixteen(x), at);
      b.writeInt16LE(sixteen(y), at + 2);
      b[at + 4] = Math.round(r * 255);
      b[at + 5] = Math.round(g * 255);
      b[at + 6] = Math.round(bl * 255);
      at += SEEN_POINT;
    });
    if (at === SEEN_HEAD) return null;
    b[0] = FRAME_SEEN;
    b.writeUInt16LE((at - SEEN_HEAD) / SEEN_POINT, 2);
    return Buffer.from(b.subarray(0, at));
  }
}
/** Mirrors may go past the field's end by a little. */
const sixteen = (x: number): number => Math.round(Math.max(-1.2, Math.min(1.2, x)) * 27000);

/** Asks on this network, and at the one that ships with us, who is there. */
async function seek(own: { readonly host: string; readonly port: number }): Promise<LaserReport['found']> {
  const socket = createSocket('udp4'),
    found = new Map<string, LaserReport['found'][number]>();
  socket.on('message', (m, from) => {
    const unit = decodeIdnScanned(m),
      address = `${from.address}:${from.port}`;
    if (unit && found.size < 32) found.set(address, { ...unit, address });
  });
  socket.on('error', () => undefined);
  await new Promise<void>((done) => socket.bind(0, done));
  socket.setBroadcast(true);
  const ask = encodeIdnScan(1);
  // A network that has no way out is told by nobody answering.
  socket.send(ask, IDN_PORT, '255.255.255.255', () => undefined);
  socket.send(ask, own.port, own.host, () => undefined);
  await new Promise((done) => setTimeout(done, SEEK_MS));
  await new Promise<void>((done) => socket.close(() => done()));
  return [...found.values()];
}
