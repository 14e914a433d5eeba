import { applyPatches, enablePatches, type Patch } from 'immer';
import type { PlanMap } from '../../core/plan';
import type { Show } from '../../core/show';
import type { Seconds } from '../../core/units';
import { Control, Real, Word } from './control';
import { EventReader } from './eventRing';
import { FrameReader } from './frames';
import type { Blocks, FromReader, ToReader } from './messages';
import type { Changed, Plan } from './plan';

enablePatches();

/**
 * A reader's end of the conductor: the shared memory, where values stand in it, and the reader's own part of the show, each
 * replaced only when it changed. Frames and events go on from where they were through every edit. Any worker.
 */
export class PlanReader<Key extends keyof Show> implements Plan<Key> {
  frames: FrameReader | null = null;
  control: Control | null = null;
  /** Events that came to parameters. */
  arrivals: EventReader | null = null;
  map: PlanMap | null = null;
  show: Pick<Show, Key> | null = null;
  #blocks: Blocks | null = null;
  #port: MessagePort | null = null;

  get age(): number {
    const { control } = this;
    return control ? performance.timeOrigin + performance.now() - control.reals[Real.Heartbeat]! : Infinity;
  }
  get hopsLost(): number {
    return this.control?.get(Word.Lost) ?? 0;
  }
  get soundMissed(): Seconds {
    return this.control?.reals[Real.Missed] ?? 0;
  }

  /** Follows another conductor, or the same one anew; the one before is let go. */
  listen(port: MessagePort, changed: (what: Changed) => void): void {
    this.leave();
    this.#port = port;
    port.onmessage = (e: MessageEvent<ToReader>) => {
      if (port === this.#port) changed(this.#take(e.data));
    };
  }

  /** Says goodbye: nothing more is sent here. */
  leave(): void {
    this.#port?.postMessage({ type: 'bye' } satisfies FromReader);
    this.#port?.close();
    this.#port = null;
  }

  /** What happened while nobody could listen is over: events are read from now on. */
  forgetArrivals(): void {
    if (this.#blocks) this.arrivals = new EventReader(this.#blocks.arrivals);
  }

  #take({ blocks, map, show, patches }: ToReader): Changed {
    if (blocks) {
      const before = this.#blocks,
        alive = before?.life === blocks.life;
      if (!alive || before.frames.epoch !== blocks.frames.epoch) this.frames = new FrameReader(blocks.frames);
      if (!alive) {
        this.control = new Control(blocks.control);
        this.arrivals = new EventReader(blocks.arrivals);
      }
      this.#blocks = blocks;
    }
    if (map) this.map = map;
    const shown = this.show;
    if (show) this.show = show as Pick<Show, Key>;
    if (patches && this.show) this.show = applyPatches(this.show, patches as Patch[]);
    return { map: map !== undefined, show: this.show !== shown };
  }
}
