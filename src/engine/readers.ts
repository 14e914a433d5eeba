import type { Show } from '../core/show';
import { PICTURE_PARTS, type ToConductor, type ToPicture } from './memory/messages';

/** What a screen window and its control window say to each other. */
export const SCREEN_HELLO = 'batucada-screen';

export interface Reader {
  readonly wants: readonly (keyof Show)[];
  /** Hands over a port on which it hears the conductor. */
  readonly give: (port: MessagePort) => void;
  readonly isGone?: () => boolean;
}

/**
 * Those who follow the conductor, however often that is started again; among them each screen window that asks for the show.
 * Main thread only.
 */
export class Readers {
  readonly #tell: (message: ToConductor, ports: MessagePort[]) => void;
  readonly #all = new Map<string, Reader>();
  readonly #screens = new Map<Window, string>();
  #id = 0;

  /** @param tell - to the conductor that runs now */
  constructor(tell: (message: ToConductor, ports: MessagePort[]) => void) {
    this.#tell = tell;
    window.addEventListener('message', this.#heardScreen);
  }
  add(id: string, reader: Reader): void {
    this.#all.set(id, reader);
    this.#subscribe(id, reader);
  }
  remove(id: string): void {
    if (this.#all.delete(id)) this.#tell({ type: 'unsubscribe', reader: id }, []);
  }
  /** The conductor is another: all follow it. */
  again(): void {
    for (const [id, reader] of this.#all) this.#subscribe(id, reader);
  }
  dropGone(): void {
    for (const [id, { isGone }] of this.#all) if (isGone?.()) this.remove(id);
  }
  /** A picture worker that follows the conductor. @returns how it is ended */
  addPicture(worker: Worker): () => void {
    const id = `picture ${++this.#id}`;
    this.add(id, {
      wants: PICTURE_PARTS,
      give: (port) => worker.postMessage({ type: 'conductor', port } satisfies ToPicture, [port]),
    });
    return () => {
      this.remove(id);
      worker.terminate();
    };
  }
  close(): void {
    window.removeEventListener('message', this.#heardScreen);
  }

  #subscribe(id: string, { wants, give }: Reader): void {
    const { port1, port2 } = new MessageChannel();
    this.#tell({ type: 'subscribe', reader: id, port: port1, wants }, [port1]);
    give(port2);
  }
  /** A screen window asks its opener for the show; after a reload of this window it asks again. */
  readonly #heardScreen = (e: MessageEvent): void => {
    if (e.origin !== location.origin || e.data !== SCREEN_HELLO || !e.source) return;
    const screen = e.source as Window;
    let id = this.#screens.get(screen);
    if (!id) this.#screens.set(screen, (id = `screen ${++this.#id}`));
    this.add(id, {
      wants: PICTURE_PARTS,
      give: (port) => screen.postMessage(SCREEN_HELLO, location.origin, [port]),
      isGone: () => {
        if (!screen.closed) return false;
        this.#screens.delete(screen);
        return true;
      },
    });
  };
}
