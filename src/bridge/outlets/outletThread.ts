import { parentPort, workerData } from 'node:worker_threads';
import { OutletWord } from '../../core/outlets';
import type { ArtNode, StreamState, WireState } from '../../core/protocols';
import { type OutDeclaration, type Simulated, WiresOut } from './wiresOut';

/** What the sending thread begins with. */
export interface ThreadStart {
  readonly words: SharedArrayBuffer;
  readonly simulated: Simulated;
  /** Who sends, to sACN: stays the same when the thread is started again. */
  readonly cid: Uint8Array;
}
export type ToThread =
  | ({ readonly type: 'declare' } & OutDeclaration)
  /** The lamps out, and then the end. */
  | { readonly type: 'leave' };
export type FromThread =
  | {
      readonly type: 'state';
      readonly wires: readonly WireState[];
      readonly streams: readonly StreamState[];
      readonly nodes: readonly ArtNode[];
      readonly from: number;
    }
  | { readonly type: 'left' };

/** A thread that has nothing to send still turns this often, so that its beat is heard. */
const TURN_MS = 100;
const STATE_EVERY_MS = 250;

/** The sending thread: turns when there is something new, when something is due, and to be heard of. */
class OutletThread {
  readonly #words: Int32Array;
  readonly #out: WiresOut;
  #beats = -1;
  #heardAt = performance.now();
  #toldAt = -Infinity;
  #declared = false;

  constructor({ words, simulated, cid }: ThreadStart) {
    this.#words = new Int32Array(words);
    this.#out = new WiresOut(simulated, cid, () => {
      Atomics.add(this.#words, OutletWord.Wake, 1);
      Atomics.notify(this.#words, OutletWord.Wake);
    });
    parentPort!.on('message', (message: ToThread) => {
      if (message.type === 'leave')
        void this.#out.blackout().then(() => {
          this.#out.close();
          parentPort!.postMessage({ type: 'left' } satisfies FromThread);
        });
      else {
        // Whoever declares is there.
        this.#heardAt = performance.now();
        this.#declared = true;
        this.#out.declare(message, performance.now());
      }
      Atomics.add(this.#words, OutletWord.Wake, 1);
      Atomics.notify(this.#words, OutletWord.Wake);
    });
    void this.#loop();
  }

  async #loop(): Promise<void> {
    for (;;) {
      const seen = Atomics.load(this.#words, OutletWord.Wake);
      Atomics.add(this.#words, OutletWord.Beat, 1);
      const now = performance.now();
      const beats = Atomics.load(this.#words, OutletWord.DriverBeat);
      if (beats !== this.#beats) {
        this.#beats = beats;
        this.#heardAt = now;
      }
      const next = this.#declared ? this.#out.turn(now, now - this.#heardAt) : TURN_MS;
      if (now - this.#toldAt >= STATE_EVERY_MS) {
        this.#toldAt = now;
        parentPort!.postMessage({ type: 'state', ...this.#out.state(now) } satisfies FromThread);
      }
      const wait = Atomics.waitAsync(this.#words, OutletWord.Wake, seen, Math.min(TURN_MS, next));
      if (wait.async) await wait.value;
      // Messages and sockets have their turn too.
      else await new Promise((done) => setImmediate(done));
    }
  }
}

new OutletThread(workerData as ThreadStart);
