import { parentPort, workerData } from 'node:worker_threads';
import { OutletWord } from '../../core/outlets';
import type { ArtNode, LaserState, StreamState, WireState } from '../../core/protocols';
import type { LaserAct, LaserSetting } from '../../core/laser';
import { LaserWire } from './laserWire';
import type { LaserEnd } from './laserOut';
import { type OutDeclaration, type Simulated, WiresOut } from './wiresOut';

/** What the sending thread begins with. */
export interface ThreadStart {
  readonly words: SharedArrayBuffer;
  /** Its own number, see `OutletWord.AtWork`. */
  readonly number: number;
  readonly simulated: Simulated;
  /** Who sends, to sACN: stays the same when the thread is started again. */
  readonly cid: Uint8Array;
  /** The newest frame of the laser, and where the projector listens that ships with us. */
  readonly laser: SharedArrayBuffer;
  readonly projector: LaserEnd;
}
export type ToThread =
  | ({ readonly type: 'declare' } & OutDeclaration)
  | { readonly type: 'laserSet'; readonly setting: LaserSetting }
  | { readonly type: 'laserAct'; readonly act: LaserAct }
  /** Whoever drove the laser is gone. */
  | { readonly type: 'laserLeave' }
  /** The lamps out, and then the end. */
  | { readonly type: 'leave' };
export type FromThread =
  | {
      readonly type: 'state';
      readonly wires: readonly WireState[];
      readonly streams: readonly StreamState[];
      readonly nodes: readonly ArtNode[];
      readonly from: number;
      readonly laser: {
        readonly state: LaserState | null;
        readonly trouble: string | null;
        readonly address: string;
      };
    }
  | { readonly type: 'left' };

/** A thread that has nothing to send still turns this often, so that its beat is heard. */
const TURN_MS = 100;
const STATE_EVERY_MS = 250;

/** The sending thread: turns when there is something new, when something is due, and to be heard of. */
class OutletThread {
  readonly #words: Int32Array;
  readonly #out: WiresOut;
  readonly #laser: LaserWire;
  readonly #number: number;
  #beats = -1;
  #heardAt = performance.now();
  #toldAt = -Infinity;
  #declared = false;

  constructor({ words, number, simulated, cid, laser, projector }: ThreadStart) {
    this.#words = new Int32Array(words);
    this.#number = number;
    const wake = (): void => {
      Atomics.add(this.#words, OutletWord.Wake, 1);
      Atomics.notify(this.#words, OutletWord.Wake);
    };
    this.#laser = new LaserWire(laser, projector, wake);
    this.#out = new WiresOut(simulated, cid, wake, (universe, channels) =>
      this.#laser.shutter(universe, channels),
    );
    parentPort!.on('message', (message: ToThread) => {
      this.#hear(message);
      wake();
    });
    void this.#loop();
  }

  #hear(message: ToThread): void {
    const now = performance.now();
    switch (message.type) {
      case 'leave':
        void Promise.all([this.#out.blackout(), this.#laser.close()]).then(() => {
          this.#out.close();
          parentPort!.postMessage({ type: 'left' } satisfies FromThread);
        });
        return;
      case 'laserSet':
        this.#laser.set(message.setting, now);
        return;
      case 'laserAct':
        this.#laser.act(message.act, now);
        return;
      case 'laserLeave':
        this.#laser.leave();
        return;
      case 'declare':
        // Whoever declares is there.
        this.#heardAt = now;
        this.#declared = true;
        this.#laser.mayLeave(message.armed, now);
        this.#out.declare(message, now);
    }
  }

  async #loop(): Promise<void> {
    while (Atomics.load(this.#words, OutletWord.AtWork) === this.#number) {
      const seen = Atomics.load(this.#words, OutletWord.Wake);
      Atomics.add(this.#words, OutletWord.Beat, 1);
      const now = performance.now();
      const beats = Atomics.load(this.#words, OutletWord.DriverBeat);
      if (beats !== this.#beats) {
        this.#beats = beats;
        this.#heardAt = now;
      }
      const points = this.#laser.turn(now),
        next = Math.min(points, this.#declared ? this.#out.turn(now, now - this.#heardAt) : TURN_MS);
      if (now - this.#toldAt >= STATE_EVERY_MS) {
        this.#toldAt = now;
        parentPort!.postMessage({
          type: 'state',
          ...this.#out.state(now),
          laser: this.#laser.state(now),
        } satisfies FromThread);
      }
      const wait = Atomics.waitAsync(this.#words, OutletWord.Wake, seen, Math.min(TURN_MS, next));
      if (wait.async) await wait.value;
      // Messages and sockets have their turn too.
      else await new Promise((done) => setImmediate(done));
    }
    // It stood still, and another is at work: it sends nothing more, and ends with its sockets.
    this.#out.close();
    await this.#laser.close();
    parentPort!.close();
  }
}

new OutletThread(workerData as ThreadStart);
