/**
 * Art-Net 4 packets that a controller sends and reads (Artistic Licence, "Art-Net 4 Protocol Release", tables of ArtPoll,
 * ArtPollReply and ArtDmx). Numbers are little-endian only where the standard says so: the op code and the port.
 */
export const ARTNET_PORT = 6454;
export const OP_POLL = 0x2000;
export const OP_POLL_REPLY = 0x2100;
export const OP_DMX = 0x5000;
const OP_SYNC = 0x5200;
const PROTOCOL_VERSION = 14;
const ID = Uint8Array.from([0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0x00]); // "Art-Net\0"
const DMX_HEADER = 18;

/** Bytes of an ArtDmx packet that carries a whole universe. */
export const ARTDMX_BYTES = DMX_HEADER + 512;

/**
 * Writes an ArtDmx packet. Allocates nothing.
 * @param out - at least {@link ARTDMX_BYTES} long
 * @param universe - 15-bit port address, 0 to 32767
 * @param sequence - 1 to 255; 0 would switch the receiver's ordering off
 * @param data - the universe's channels; an even number from 2 to 512 is sent
 * @returns bytes written
 */
export function encodeArtDmx(out: Uint8Array, universe: number, sequence: number, data: Uint8Array): number {
  let length = data.length > 512 ? 512 : data.length < 2 ? 2 : data.length;
  length += length & 1;
  out.set(ID, 0);
  out[8] = OP_DMX & 255;
  out[9] = OP_DMX >> 8;
  out[10] = 0;
  out[11] = PROTOCOL_VERSION;
  out[12] = sequence;
  out[13] = 0; // physical port: for information only
  out[14] = universe & 255; // SubUni
  out[15] = (universe >> 8) & 127; // Net
  out[16] = length >> 8;
  out[17] = length & 255;
  for (let i = 0; i < length; i++) out[DMX_HEADER + i] = data[i] ?? 0;
  return DMX_HEADER + length;
}

/** An ArtPoll that asks every node to answer, and to answer again when it changes. */
export function encodeArtPoll(): Uint8Array {
  return Uint8Array.from([...ID, OP_POLL & 255, OP_POLL >> 8, 0, PROTOCOL_VERSION, 0x02, 0x00]);
}

/** An ArtSync: nodes show what they were sent since the last one, all at once. */
export function encodeArtSync(): Uint8Array {
  return Uint8Array.from([...ID, OP_SYNC & 255, OP_SYNC >> 8, 0, PROTOCOL_VERSION, 0, 0]);
}

export interface ArtNode {
  readonly address: string;
  readonly port: number;
  readonly shortName: string;
  readonly longName: string;
  /** Port addresses that it takes in. */
  readonly universes: readonly number[];
}

/** Op code of an Art-Net packet, or null for anything else. The bytes are untrusted. */
export function artnetOpCode(bytes: Uint8Array): number | null {
  if (bytes.length < 10) return null;
  for (let i = 0; i < ID.length; i++) if (bytes[i] !== ID[i]) return null;
  return bytes[8]! | (bytes[9]! << 8);
}

/** Reads an ArtPollReply; null when it is not one or is cut short. The bytes are untrusted. */
export function decodeArtPollReply(bytes: Uint8Array): ArtNode | null {
  if (artnetOpCode(bytes) !== OP_POLL_REPLY || bytes.length < 207) return null;
  const text = (at: number, length: number): string => {
    let s = '';
    for (let i = at; i < at + length && bytes[i]; i++)
      s += bytes[i]! >= 32 && bytes[i]! < 127 ? String.fromCharCode(bytes[i]!) : '';
    return s;
  };
  const net = bytes[18]! & 127,
    sub = bytes[19]! & 15;
  const count = Math.min(4, (bytes[172]! << 8) | bytes[173]!);
  const universes: number[] = [];
  for (let i = 0; i < count; i++) {
    // Bit 7 of PortTypes: the port can give out what it takes from the network. SwOut holds the universe's low nibble.
    if (bytes[174 + i]! & 0x80) universes.push((net << 8) | (sub << 4) | (bytes[190 + i]! & 15));
  }
  return {
    address: `${bytes[10]}.${bytes[11]}.${bytes[12]}.${bytes[13]}`,
    port: bytes[14]! | (bytes[15]! << 8),
    shortName: text(26, 18),
    longName: text(44, 64),
    universes,
  };
}

/** What one packet of a desk carries. */
export interface ArtDmx {
  /** 15-bit port address. */
  readonly universe: number;
  /** 0: packets are not numbered. */
  readonly sequence: number;
  /** 2 to 512 of them. */
  readonly channels: Uint8Array;
}
/** Reads an ArtDmx; null when it is not one or is cut short. The bytes are untrusted. */
export function decodeArtDmx(bytes: Uint8Array): ArtDmx | null {
  if (artnetOpCode(bytes) !== OP_DMX || bytes.length < DMX_HEADER + 2) return null;
  const length = (bytes[16]! << 8) | bytes[17]!;
  if (((bytes[10]! << 8) | bytes[11]!) < PROTOCOL_VERSION) return null;
  if (length < 2 || length > 512 || bytes.length < DMX_HEADER + length) return null;
  return {
    universe: ((bytes[15]! & 127) << 8) | bytes[14]!,
    sequence: bytes[12]!,
    channels: bytes.subarray(DMX_HEADER, DMX_HEADER + length),
  };
}

/** Bytes of an ArtPollReply. */
const POLL_REPLY_BYTES = 239;
/** Ports that one reply tells of; a node with more answers several times. */
export const PORTS_OF_REPLY = 4;

/**
 * What a node answers to a poll: where it is, and which universes it wants to be sent.
 * @param address - four numbers with dots @param universes - at most {@link PORTS_OF_REPLY}, all of one net and sub-net
 * @param bind - which of its replies it is, from 1
 */
export function encodeArtPollReply(
  address: string,
  port: number,
  name: string,
  universes: readonly number[],
  bind: number,
): Uint8Array {
  const b = new Uint8Array(POLL_REPLY_BYTES);
  const text = (at: number, most: number, value: string): void => {
    for (let i = 0; i < Math.min(value.length, most - 1); i++) b[at + i] = value.charCodeAt(i) & 127;
  };
  b.set(ID, 0);
  b[8] = OP_POLL_REPLY & 255;
  b[9] = OP_POLL_REPLY >> 8;
  address.split('.').forEach((part, i) => {
    if (i < 4) b[10 + i] = Number(part);
  });
  b[14] = port & 255;
  b[15] = port >> 8;
  b[18] = ((universes[0] ?? 0) >> 8) & 127; // NetSwitch
  b[19] = ((universes[0] ?? 0) >> 4) & 15; // SubSwitch
  b[21] = 0xff; // Oem: unknown
  text(26, 18, name);
  text(44, 64, name);
  text(108, 64, '#0001 listening');
  b[173] = universes.length;
  universes.forEach((u, i) => {
    b[174 + i] = 0x80; // it gives out what it is sent
    b[182 + i] = 0x80;
    b[190 + i] = u & 15; // SwOut
  });
  b[211] = bind;
  return b;
}
