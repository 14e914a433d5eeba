import type { Patch } from 'immer';
import type { PlanMap } from '../../core/plan';
import type { Show } from '../../core/show';
import type { Blocks, FromReader, ToReader } from '../memory/messages';

interface Reader {
  readonly port: MessagePort;
  readonly wants: readonly (keyof Show)[];
}

/**
 * Those who follow the conductor: each is told what changed, and only that. One that asks again takes its own place; one that says
 * goodbye, or is taken away by whoever opened it, is sent nothing more.
 */
export class Readers {
  readonly #readers = new Map<string, Reader>();
  /** Messages sent so far, for measuring. */
  sent = 0;
  /** Where things stand for whoever comes now; null until readers may follow at all. */
  #now: { readonly blocks: Blocks; readonly map: PlanMap; readonly show: Show } | null = null;

  get count(): number {
    return this.#readers.size;
  }

  /** @param id - the reader's own name @param wants - the parts of the show that it is told of */
  add(id: string, port: MessagePort, wants: readonly (keyof Show)[]): void {
    this.remove(id);
    const reader: Reader = { port, wants };
    this.#readers.set(id, reader);
    port.onmessage = (e: MessageEvent<FromReader>) => {
      if (e.data.type === 'bye' && this.#readers.get(id) === reader) this.remove(id);
    };
    if (this.#now) this.#begin(reader, this.#now);
  }
  remove(id: string): void {
    this.#readers.get(id)?.port.close();
    this.#readers.delete(id);
  }

  /**
   * Another plan: where everything stands now, and how the show came from the one before.
   * @param changed - whether the memory or the places in it are other ones @param patches - null when the show is another as a whole
   */
  tell(
    now: { readonly blocks: Blocks; readonly map: PlanMap; readonly show: Show },
    changed: { readonly blocks: boolean; readonly map: boolean },
    patches: readonly Patch[] | null,
  ): void {
    const first = this.#now === null;
    this.#now = now;
    for (const reader of this.#readers.values()) {
      if (first || !patches) {
        this.#begin(reader, now);
        continue;
      }
      const theirs = patches.filter((p) => reader.wants.includes(p.path[0] as keyof Show));
      const places = changed.blocks || changed.map;
      if (!places && theirs.length === 0) continue;
      this.#post(reader, {
        ...(changed.blocks && { blocks: now.blocks }),
        ...(places && { map: now.map }),
        ...(theirs.length > 0 && { patches: theirs }),
      });
    }
  }

  #begin(reader: Reader, { blocks, map, show }: { blocks: Blocks; map: PlanMap; show: Show }): void {
    const part = Object.fromEntries(reader.wants.map((k) => [k, show[k]])) as Partial<Show>;
    this.#post(reader, { blocks, map, show: part });
  }
  #post({ port }: Reader, message: ToReader): void {
    port.postMessage(message);
    this.sent++;
  }
}
