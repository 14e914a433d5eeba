import { LAMP_PROTOCOLS, type LampProtocol } from '../../core/outlets';

/** What simulated lamps decoded from their packets, for the interface to draw at its own pace. One writer: the outlet worker. */
export const RECEIVED_UNIVERSES = 160;
const WORDS = 4;
const enum Word {
  Universe,
  Packets,
  Sequence,
}

export function makeReceivedMemory(): SharedArrayBuffer {
  const memory = new SharedArrayBuffer(RECEIVED_UNIVERSES * (WORDS * 4 + 512));
  new Int32Array(memory, 0, RECEIVED_UNIVERSES * WORDS).fill(-1);
  return memory;
}

export class Received {
  readonly #words: Int32Array;
  readonly #channels: Uint8Array;
  readonly #views: Uint8Array[] = [];
  constructor(memory: SharedArrayBuffer) {
    this.#words = new Int32Array(memory, 0, RECEIVED_UNIVERSES * WORDS);
    this.#channels = new Uint8Array(memory, RECEIVED_UNIVERSES * WORDS * 4);
  }

  #place(protocol: LampProtocol, number: number, make: boolean): number {
    const universe = LAMP_PROTOCOLS.indexOf(protocol) * 65536 + number;
    for (let i = 0; i < RECEIVED_UNIVERSES; i++) {
      const there = Atomics.load(this.#words, i * WORDS + Word.Universe);
      if (there === universe) return i;
      if (there < 0) {
        if (!make) return -1;
        Atomics.store(this.#words, i * WORDS + Word.Universe, universe);
        return i;
      }
    }
    return -1;
  }

  write(protocol: LampProtocol, universe: number, packets: number, channels: Uint8Array): void {
    const i = this.#place(protocol, universe, true);
    if (i < 0) return;
    this.#channels.set(channels, i * 512);
    Atomics.store(this.#words, i * WORDS + Word.Packets, packets);
  }

  /** The channels of a universe as they change, for as long as this memory is; null where nothing came yet. */
  universe(protocol: LampProtocol, universe: number): Uint8Array | null {
    const i = this.#place(protocol, universe, false);
    return i < 0 ? null : (this.#views[i] ??= this.#channels.subarray(i * 512, (i + 1) * 512));
  }
  /** One channel, 1 to 512, of a universe; 0 where nothing came yet. */
  channel(protocol: LampProtocol, universe: number, address: number): number {
    const i = this.#place(protocol, universe, false);
    return i < 0 ? 0 : this.#channels[i * 512 + address - 1]!;
  }
  /** Packets of a universe so far; 0 for none. */
  packets(protocol: LampProtocol, universe: number): number {
    const i = this.#place(protocol, universe, false);
    return i < 0 ? 0 : Math.max(0, Atomics.load(this.#words, i * WORDS + Word.Packets));
  }
}
