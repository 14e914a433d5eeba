import { randomBytes } from 'node:crypto';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import {
  BeatWatch,
  makeStreamMemory,
  OutletWord,
  StreamWriter,
  type StreamDeclaration,
} from '../../core/outlets';
import {
  IDN_PORT,
  SACN_CID_BYTES,
  type ArtNode,
  type StreamState,
  type WireSetup,
  type WireState,
} from '../../core/protocols';
import type { LaserAct, LaserSetting } from '../../core/laser';
import { LaserWriter, makeLaserMemory, STEADY } from './laserMemory';
import type { LaserEnd } from './laserOut';
import type { OutDeclaration } from './wiresOut';
import type { FromThread, ThreadStart, ToThread } from './outletThread';

const WATCH_EVERY_MS = 50;
const THREAD_GONE_MS = 600;
/** Before its first turn it is being loaded. */
const LOADING_GONE_MS = 15000;
/** What a thread that has ended has for its number. */
const GONE = -1;
/** A thread that was replaced has so long to end by itself. */
const RETIRED_MS = 10000;
/** The lamps are given so long to go out when the server leaves. */
const LEAVE_MS = 1500;

export interface OutletState {
  readonly wires: readonly WireState[];
  readonly streams: readonly StreamState[];
  readonly nodes: readonly ArtNode[];
  /** The UDP port that Art-Net is sent from; 0 while there is none. */
  readonly from: number;
  readonly laser: Extract<FromThread, { type: 'state' }>['laser'];
}

/** A version 4 UUID (RFC 9562), as bytes. */
function randomUuid(): Uint8Array {
  const id = Uint8Array.from(randomBytes(SACN_CID_BYTES));
  id[6] = (id[6]! & 0x0f) | 0x40;
  id[8] = (id[8]! & 0x3f) | 0x80;
  return id;
}

/**
 * The bridge's end of the sending thread: tells it what is declared, puts values where it finds them, and starts it again, with the
 * last values, should it stand still or end.
 */
export class Outlets {
  /** How often the thread was started again. */
  restarts = 0;
  state: OutletState = {
    wires: [],
    streams: [],
    nodes: [],
    from: 0,
    laser: { state: null, trouble: null, address: '' },
  };
  readonly #simulated: ThreadStart['simulated'];
  readonly cid = randomUuid();
  readonly #words = new Int32Array(new SharedArrayBuffer(4 * OutletWord.Length));
  readonly #watch = new BeatWatch();
  readonly #watching: NodeJS.Timeout;
  /** Threads that stood still and have not ended. */
  readonly #retired = new Set<Worker>();
  /** The thread at work. */
  thread: Worker;
  readonly #script: string;
  readonly #laserMemory = makeLaserMemory();
  readonly #laserWriter = new LaserWriter(this.#laserMemory);
  readonly #projector: LaserEnd;
  #laser: LaserSetting | null = null;
  #declared: OutDeclaration | null = null;
  #writer: StreamWriter | null = null;
  #places: Int32Array = new Int32Array(0);
  #left: (() => void) | null = null;

  /**
   * @param simulated - where the receivers listen that ship with us @param script - what the thread runs
   * @param projector - where the laser's listens
   */
  constructor(
    simulated: ThreadStart['simulated'],
    script = path.join(import.meta.dirname, 'outletThread.mjs'),
    projector: LaserEnd = { host: '127.0.0.1', port: IDN_PORT },
  ) {
    this.#simulated = simulated;
    this.#projector = projector;
    this.#script = script;
    this.thread = this.#start();
    this.#watching = setInterval(() => {
      const beat = Atomics.load(this.#words, OutletWord.Beat);
      if (this.#watch.look(performance.now(), beat, beat === 0 ? LOADING_GONE_MS : THREAD_GONE_MS))
        this.replace();
    }, WATCH_EVERY_MS);
  }

  #start(): Worker {
    Atomics.store(this.#words, OutletWord.Beat, 0);
    Atomics.store(this.#words, OutletWord.AtWork, this.restarts);
    const thread = new Worker(this.#script, {
      workerData: {
        words: this.#words.buffer as SharedArrayBuffer,
        number: this.restarts,
        simulated: this.#simulated,
        cid: this.cid,
        laser: this.#laserMemory,
        projector: this.#projector,
      } satisfies ThreadStart,
    });
    thread.on('message', (message: FromThread) => {
      if (thread !== this.thread) return;
      if (message.type === 'state') this.state = message;
      else this.#left?.();
    });
    thread.on('error', (e) => {
      console.error(`batucada: the sending thread failed (${e.message}).`);
    });
    thread.on('exit', () => {
      this.#retired.delete(thread);
      if (thread === this.thread && !this.#left) this.replace();
    });
    return thread;
  }
  /** Starts another thread in place of the one that is at work, which is taken to stand still. */
  replace(): void {
    const old = this.thread;
    this.restarts++;
    this.thread = this.#start();
    // Once it wakes up it ends by itself. From outside it is only ended when it never does: a thread that is ended while a packet
    // comes in takes the whole process with it.
    if (old.threadId !== GONE) {
      this.#retired.add(old);
      setTimeout(() => {
        if (this.#retired.has(old)) void old.terminate();
      }, RETIRED_MS).unref();
    }
    // The laser is not armed any more.
    if (this.#laser) this.#tell({ type: 'laserSet', setting: this.#laser });
    if (this.#declared) this.#tell({ type: 'declare', ...this.#declared });
    console.error(
      'batucada: the sending thread stood still and was started again; lamps were held meanwhile.',
    );
  }
  #tell(message: ToThread): void {
    this.thread.postMessage(message);
  }

  /** What goes out from now on. @param streams - all of them; those to wires are sent here */
  declare(wires: readonly WireSetup[], streams: readonly StreamDeclaration[], armed: boolean): void {
    const own = streams.filter((s) => s.to.kind === 'wire');
    this.#places = Int32Array.from(streams, (s) => own.indexOf(s));
    const memory = makeStreamMemory(own.map((s) => s.size));
    this.#writer = new StreamWriter(memory);
    this.#declared = { wires, streams: own, memory, armed };
    this.#tell({ type: 'declare', ...this.#declared });
  }
  /** A value of a stream, by its place among those declared. */
  write(place: number, value: Uint8Array): void {
    const at = this.#places[place] ?? -1;
    if (at >= 0 && this.#writer?.write(at, value)) this.#wake();
  }
  /** The driver is there, and so is what moves its values. */
  beat(): void {
    Atomics.add(this.#words, OutletWord.DriverBeat, 1);
  }
  setLaser(setting: LaserSetting): void {
    this.#laser = setting;
    this.#tell({ type: 'laserSet', setting });
  }
  actLaser(act: LaserAct): void {
    this.#tell({ type: 'laserAct', act });
  }
  leaveLaser(): void {
    this.#tell({ type: 'laserLeave' });
  }
  /** A frame of the laser, as it came. @param madeAt - by this process's clock @param marks - as they came with it */
  writeLaser(points: Uint8Array, madeAt: number, marks: number): void {
    this.#laserWriter.write(points, madeAt + STEADY, marks);
    this.#wake();
  }
  #wake(): void {
    Atomics.add(this.#words, OutletWord.Wake, 1);
    Atomics.notify(this.#words, OutletWord.Wake);
  }

  /** The lamps out, and the thread ended. */
  async close(): Promise<void> {
    clearInterval(this.#watching);
    await new Promise<void>((done) => {
      this.#left = done;
      this.#tell({ type: 'leave' });
      setTimeout(done, LEAVE_MS).unref();
    });
    await Promise.all([this.thread, ...this.#retired].map((t) => t.terminate()));
  }
}
