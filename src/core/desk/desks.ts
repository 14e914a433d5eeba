import type { LampProtocol } from '../outlets';
import type { Milliseconds } from '../units';

/** A source that is silent for so long is lost (ANSI E1.31, network data loss; Art-Net asks for no less). */
export const DESK_LOST_MS: Milliseconds = 2500;
/** What was lost is named for so long. */
const REMEMBERED_MS: Milliseconds = 60000;
/** Universes of all desks together: whoever makes up more is not heard. */
const STREAMS_MOST = 256;
const CHANNELS = 512;

/** A packet of a desk, whatever it came by. */
export interface DeskPacket {
  readonly protocol: LampProtocol;
  /** Which desk: the same for all that it sends. */
  readonly desk: string;
  readonly name: string;
  readonly address: string;
  /** From 0, as in a show. */
  readonly universe: number;
  /** 0 to 200; of several desks only the highest is heard. */
  readonly priority: number;
  /** 0 to 255; null: it is not numbered. */
  readonly sequence: number | null;
  /** The stream ends here. */
  readonly ended: boolean;
  readonly channels: Uint8Array;
}
/** How one desk is on one universe. */
export interface DeskSeen {
  readonly desk: string;
  readonly name: string;
  readonly address: string;
  readonly protocol: LampProtocol;
  readonly universe: number;
  readonly priority: number;
  /** It was heard of in the last two and a half seconds. */
  readonly live: boolean;
}
interface Stream {
  packet: DeskPacket;
  readonly channels: Uint8Array;
  at: Milliseconds;
  live: boolean;
}
interface Universe {
  readonly streams: Map<string, Stream>;
  readonly channels: Uint8Array;
  readonly told: Uint8Array;
  heard: boolean;
  dirty: boolean;
}

/**
 * What desks on the network send, put together: on each universe those of the highest priority are heard, and of several of these the
 * higher of each channel; who is silent for two and a half seconds is heard no more. No clock and no socket.
 */
export class Desks {
  readonly #universes = new Map<number, Universe>();
  #streams = 0;
  /** Packets that came too late, or were too many. */
  passedOver = 0;

  take(packet: DeskPacket, now: Milliseconds): void {
    const { universe: number, desk, sequence, channels, ended } = packet;
    let universe = this.#universes.get(number),
      stream = universe?.streams.get(desk);
    if (!stream) {
      if (ended) return;
      if (this.#streams >= STREAMS_MOST) {
        this.passedOver++;
        return;
      }
      if (!universe) {
        universe = {
          streams: new Map(),
          channels: new Uint8Array(CHANNELS),
          told: new Uint8Array(CHANNELS),
          heard: false,
          dirty: true,
        };
        this.#universes.set(number, universe);
      }
      stream = { packet, channels: new Uint8Array(CHANNELS), at: now, live: true };
      universe.streams.set(desk, stream);
      this.#streams++;
    } else if (stream.live && isLate(stream.packet.sequence, sequence, packet.protocol)) {
      this.passedOver++;
      return;
    }
    stream.packet = packet;
    stream.live = !ended;
    if (!ended) {
      stream.at = now;
      stream.channels.set(channels.subarray(0, CHANNELS));
    }
    universe!.dirty = true;
  }

  /**
   * Tells of each universe that is another than it was when it was last told of.
   * @param tell - its channels, which are valid during the call, those before, and whether anybody is heard on it
   */
  turn(
    now: Milliseconds,
    tell: (universe: number, channels: Uint8Array, before: Uint8Array, heard: boolean) => void,
  ): void {
    for (const [number, universe] of this.#universes) {
      const { streams, channels, told } = universe;
      for (const [desk, s] of streams) {
        if (s.live && now - s.at > DESK_LOST_MS) {
          s.live = false;
          universe.dirty = true;
        }
        if (!s.live && now - s.at > REMEMBERED_MS) {
          streams.delete(desk);
          this.#streams--;
        }
      }
      if (streams.size === 0) this.#universes.delete(number);
      if (!universe.dirty) continue;
      universe.dirty = false;
      let highest = -1;
      for (const s of streams.values()) if (s.live) highest = Math.max(highest, s.packet.priority);
      channels.fill(0);
      for (const s of streams.values())
        if (s.live && s.packet.priority === highest)
          for (let i = 0; i < CHANNELS; i++) if (s.channels[i]! > channels[i]!) channels[i] = s.channels[i]!;
      const heard = highest >= 0,
        same = heard === universe.heard && channels.every((x, i) => x === told[i]);
      if (!same) {
        // What was not heard before has no channels that changed.
        if (!universe.heard) told.set(channels);
        tell(number, channels, told, heard);
      }
      universe.heard = heard;
      told.set(channels);
    }
  }

  /** Somebody new listens: everything is told once more. */
  tellAgain(): void {
    for (const universe of this.#universes.values()) {
      universe.heard = false;
      universe.dirty = true;
    }
  }

  get seen(): DeskSeen[] {
    return [...this.#universes.values()].flatMap(({ streams }) =>
      [...streams.values()].map(({ packet, live }) => {
        const { desk, name, address, protocol, universe, priority } = packet;
        return { desk, name, address, protocol, universe, priority, live };
      }),
    );
  }
}

/** Whether a packet was overtaken: by the rule of each standard (E1.31 6.7.2; Art-Net leaves it open, half the circle is taken). */
function isLate(before: number | null, now: number | null, protocol: LampProtocol): boolean {
  if (before === null || now === null) return false;
  const step = ((now - before + 384) & 255) - 128;
  return protocol === 'sacn' ? step <= 0 && step > -20 : step < 0;
}
