import { SHEET_HEIGHT, SHEET_VALUES, SHEET_WIDTH } from '../../core/lights';
import { decode } from '../../core/parameters';

/**
 * The picture as lamps see it, between the thread that draws it and the one that sends packets: two sheets of bytes, and a count
 * that says which of them is whole. One writer; a reader that is slower than a whole sheet might see parts of two, which at thirty a
 * second it is not.
 */
const BYTES = SHEET_WIDTH * SHEET_HEIGHT * 4;
const HEAD = 8;

export const makeSheetMemory = (): SharedArrayBuffer => new SharedArrayBuffer(HEAD + 2 * BYTES);

export class SheetWriter {
  readonly #count: Int32Array;
  readonly #sheets: readonly [Uint8Array, Uint8Array];
  constructor(memory: SharedArrayBuffer) {
    this.#count = new Int32Array(memory, 0, 1);
    this.#sheets = [new Uint8Array(memory, HEAD, BYTES), new Uint8Array(memory, HEAD + BYTES, BYTES)];
  }
  /** @param pixels - red, green, blue and alpha as a screen shows them, row by row from the bottom */
  write(pixels: Uint8Array): void {
    const next = Atomics.load(this.#count, 0) + 1;
    this.#sheets[next & 1]!.set(pixels);
    Atomics.store(this.#count, 0, next);
  }
}

const LINEAR = Float32Array.from({ length: 256 }, (_, i) => decode(i / 255));

export class SheetReader {
  /** Linear light, row by row from the bottom; dark until the first sheet came. */
  readonly light = new Float32Array(SHEET_VALUES);
  readonly #count: Int32Array;
  readonly #sheets: readonly [Uint8Array, Uint8Array];
  #seen = 0;
  constructor(memory: SharedArrayBuffer) {
    this.#count = new Int32Array(memory, 0, 1);
    this.#sheets = [new Uint8Array(memory, HEAD, BYTES), new Uint8Array(memory, HEAD + BYTES, BYTES)];
  }
  /** Brings {@link light} up to the newest sheet. Allocates nothing. @returns whether there was a newer one */
  read(): boolean {
    const count = Atomics.load(this.#count, 0);
    if (count === this.#seen) return false;
    this.#seen = count;
    const sheet = this.#sheets[count & 1]!,
      { light } = this;
    for (let i = 0, at = 0; i < SHEET_VALUES; at += 4) {
      light[i++] = LINEAR[sheet[at]!]!;
      light[i++] = LINEAR[sheet[at + 1]!]!;
      light[i++] = LINEAR[sheet[at + 2]!]!;
    }
    return true;
  }
}
