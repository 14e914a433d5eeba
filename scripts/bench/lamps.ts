/**
 * The simulated lamps in a process of their own, so that nothing the measuring process does counts as a gap of theirs.
 * Asked over the process channel: `reset`, or `state` for what was seen since.
 */
import { fork, type ChildProcess } from 'node:child_process';
import os from 'node:os';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { fileURLToPath } from 'node:url';
import { SimulatedReceiver } from '../../src/bridge/simulated/artnetReceiver';

export interface LampState {
  readonly port: number;
  readonly packets: number;
  readonly largestGapMs: number;
  /** The longest that this process itself stood still. */
  readonly stillMs: number;
  /** The longest that lamp b's first channel stayed as it was, how long it has now, and packets in which it was 0. */
  readonly heldMs: number;
  readonly sinceMs: number;
  readonly dark: number;
}
const LAMP_B = 4;

export class Lamps {
  readonly #child: ChildProcess = fork(fileURLToPath(import.meta.url), ['lamps'], {
    execArgv: ['--import', 'tsx'],
  });
  #ask(what: 'state' | 'reset'): Promise<LampState> {
    return new Promise((resolve, reject) => {
      const gone = (): void => reject(new Error('the process of the lamps ended'));
      this.#child.once('exit', gone);
      this.#child.once('message', (m) => {
        this.#child.off('exit', gone);
        resolve(m as LampState);
      });
      this.#child.send(what);
    });
  }
  state(): Promise<LampState> {
    return this.#ask('state');
  }
  reset(): Promise<LampState> {
    return this.#ask('reset');
  }
  close(): void {
    this.#child.kill();
  }
}

if (process.argv[2] === 'lamps' && process.send) {
  try {
    os.setPriority(os.constants.priority.PRIORITY_HIGH);
  } catch {
    /* only root may; the figure beside tells how long it stood still */
  }
  const receiver = await SimulatedReceiver.open(0);
  const still = monitorEventLoopDelay({ resolution: 5 });
  still.enable();
  let value = -1,
    last = performance.now(),
    heldMs = 0,
    dark = 0;
  receiver.onPacket = (_, channels) => {
    if (channels[LAMP_B] === 0) dark++;
    if (channels[LAMP_B] === value) return;
    value = channels[LAMP_B]!;
    const now = performance.now();
    heldMs = Math.max(heldMs, now - last);
    last = now;
  };
  process.on('disconnect', () => process.exit(0));
  process.on('message', (what) => {
    if (what === 'reset') {
      receiver.resetGap();
      still.reset();
      heldMs = 0;
      dark = 0;
      last = performance.now();
    }
    const state: LampState = {
      port: receiver.port,
      packets: receiver.packets,
      largestGapMs: receiver.largestGapMs,
      stillMs: still.max / 1e6,
      heldMs,
      sinceMs: performance.now() - last,
      dark,
    };
    process.send!(state);
  });
}
