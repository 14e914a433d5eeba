import type { StreamDeclaration } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import {
  PAGE_HEAD,
  pageBytes,
  type PageDocument,
  SIGNALS_PER_SECOND,
  writePageHead,
} from '../../core/protocols';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

/** The values of signals that other programs read, in the form of a page. */
export class SignalStream implements Stream {
  readonly declaration: StreamDeclaration;
  readonly value: Uint8Array;
  readonly #document: PageDocument;
  readonly #view: DataView;
  readonly #numbers: Float32Array;
  /** Where each stands in the conductor's frame; −1: nowhere. */
  readonly #at: Int32Array;

  constructor(document: PageDocument) {
    this.#document = document;
    const buffer = new ArrayBuffer(pageBytes(document));
    this.value = new Uint8Array(buffer);
    this.#view = new DataView(buffer);
    this.#numbers = new Float32Array(buffer, PAGE_HEAD, document.numbers).fill(NaN);
    this.#at = new Int32Array(document.numbers).fill(-1);
    this.declaration = {
      id: `page ${document.id}`,
      to: { kind: 'page', page: document.id },
      size: buffer.byteLength,
      mostPerSecond: SIGNALS_PER_SECOND,
      mode: 'latest',
      keepAlive: null,
      safe: { then: 'hold' },
      rest: null,
      fates: null,
      calm: null,
    };
  }
  get everyFrame(): boolean {
    return false;
  }
  place(map: PlanMap): void {
    for (const [id, to] of Object.entries(this.#document.map.parameters))
      this.#at[to] = map.signals[id] ?? -1;
  }
  /** @returns whether any is another than before */
  fill(frame: FrameReader): boolean {
    let moved = false;
    for (let i = 0; i < this.#numbers.length; i++) {
      const at = this.#at[i]!,
        x = at < 0 ? 0 : frame.signals[at]!;
      if (this.#numbers[i] !== x) {
        this.#numbers[i] = x;
        moved = true;
      }
    }
    writePageHead(this.#view, this.#document.version, frame.time, frame.pictureTime, frame.darkness, 0);
    return moved;
  }
}
