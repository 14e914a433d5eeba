/**
 * Streaming ACN as a source sends it (ANSI E1.31-2018, tables 4-1 to 4-3 and 6 to 8). All numbers are big-endian; a length counts from
 * its own field to the packet's end, with 7 in its upper four bits.
 */
export const SACN_PORT = 5568;
/** Bytes of a data packet with a whole universe. */
export const SACN_DATA_BYTES = 638;
export const SACN_SYNC_BYTES = 49;
export const SACN_CID_BYTES = 16;
/** The universe on whose address sources say what they send. */
export const SACN_DISCOVERY_UNIVERSE = 64214;
/** Universes that one page of a discovery names at most. */
export const SACN_PAGE = 512;
const DISCOVERY_HEAD = 120;

const VECTOR_ROOT_DATA = 4;
const VECTOR_ROOT_EXTENDED = 8;
const VECTOR_DATA = 2;
const VECTOR_SYNC = 1;
const VECTOR_DISCOVERY = 2;
const VECTOR_LIST = 1;
const VECTOR_DMP_SET = 2;
/** Of the options: the stream ends here. */
export const SACN_TERMINATED = 0x40;
const ACN_ID = Uint8Array.from([0x41, 0x53, 0x43, 0x2d, 0x45, 0x31, 0x2e, 0x31, 0x37, 0, 0, 0]); // "ASC-E1.17"

function short(out: Uint8Array, at: number, x: number): void {
  out[at] = (x >> 8) & 255;
  out[at + 1] = x & 255;
}
function long(out: Uint8Array, at: number, x: number): void {
  short(out, at, x >>> 16);
  short(out, at + 2, x & 0xffff);
}
const reach = (out: Uint8Array, at: number, end: number): void => short(out, at, 0x7000 | (end - at));

function root(out: Uint8Array, end: number, vector: number, cid: Uint8Array): void {
  short(out, 0, 0x0010);
  short(out, 2, 0);
  out.set(ACN_ID, 4);
  reach(out, 16, end);
  long(out, 18, vector);
  out.set(cid.subarray(0, SACN_CID_BYTES), 22);
}
function named(out: Uint8Array, at: number, name: Uint8Array): void {
  out.fill(0, at, at + 64);
  out.set(name.subarray(0, 63), at);
}

/** Who sends. */
export interface SacnSource {
  /** The component's own id: 16 bytes that stay the same. */
  readonly cid: Uint8Array;
  /** In UTF-8, at most 63 bytes. */
  readonly name: Uint8Array;
}

/**
 * Writes a data packet. Allocates nothing.
 * @param out - at least {@link SACN_DATA_BYTES} long
 * @param universe - 1 to 63999, as the standard counts @param sequence - 0 to 255
 * @param sync - the universe whose sync packets it waits for; 0 for none
 * @param data - 512 channels @returns bytes written
 */
export function encodeSacnData(
  out: Uint8Array,
  source: SacnSource,
  universe: number,
  sequence: number,
  priority: number,
  sync: number,
  data: Uint8Array,
  options = 0,
): number {
  const end = SACN_DATA_BYTES;
  root(out, end, VECTOR_ROOT_DATA, source.cid);
  reach(out, 38, end);
  long(out, 40, VECTOR_DATA);
  named(out, 44, source.name);
  out[108] = priority;
  short(out, 109, sync);
  out[111] = sequence;
  out[112] = options;
  short(out, 113, universe);
  reach(out, 115, end);
  out[117] = VECTOR_DMP_SET;
  out[118] = 0xa1; // addresses and their step in two bytes, one range
  short(out, 119, 0);
  short(out, 121, 1);
  short(out, 123, 513);
  out[125] = 0; // start code: dimmer data
  for (let i = 0; i < 512; i++) out[126 + i] = data[i] ?? 0;
  return end;
}

/** Writes a sync packet. Allocates nothing. @param out - at least {@link SACN_SYNC_BYTES} long @returns bytes written */
export function encodeSacnSync(out: Uint8Array, { cid }: SacnSource, sync: number, sequence: number): number {
  const end = SACN_SYNC_BYTES;
  root(out, end, VECTOR_ROOT_EXTENDED, cid);
  reach(out, 38, end);
  long(out, 40, VECTOR_SYNC);
  out[44] = sequence;
  short(out, 45, sync);
  short(out, 47, 0);
  return end;
}

/** The pages that name the universes a source sends. @param universes - as the standard counts; ordered here */
export function encodeSacnDiscovery(
  source: SacnSource,
  universes: readonly number[],
): Uint8Array<ArrayBuffer>[] {
  const list = [...new Set(universes)].sort((a, b) => a - b),
    pages = Math.max(1, Math.ceil(list.length / SACN_PAGE));
  return Array.from({ length: pages }, (_, page) => {
    const own = list.slice(page * SACN_PAGE, (page + 1) * SACN_PAGE),
      end = DISCOVERY_HEAD + 2 * own.length,
      out = new Uint8Array(end);
    root(out, end, VECTOR_ROOT_EXTENDED, source.cid);
    reach(out, 38, end);
    long(out, 40, VECTOR_DISCOVERY);
    named(out, 44, source.name);
    reach(out, 112, end);
    long(out, 114, VECTOR_LIST);
    out[118] = page;
    out[119] = pages - 1;
    own.forEach((u, i) => short(out, DISCOVERY_HEAD + 2 * i, u));
    return out;
  });
}

/** The group address of a universe, 1 to 63999. */
export const sacnGroup = (universe: number): string => `239.255.${universe >> 8}.${universe & 255}`;

/** What one packet of a desk carries. */
export interface SacnData {
  /** Who sends: its 16 bytes in hexadecimal. */
  readonly cid: string;
  readonly name: string;
  readonly priority: number;
  readonly sequence: number;
  /** Only to be looked at. */
  readonly preview: boolean;
  /** The stream has ended; the channels do not count. */
  readonly ended: boolean;
  /** 1 to 63999, as the standard counts. */
  readonly universe: number;
  /** Up to 512 of them; empty for a start code that is not that of dimmers. */
  readonly channels: Uint8Array;
}
const shortAt = (b: Uint8Array, at: number): number => (b[at]! << 8) | b[at + 1]!;
const longAt = (b: Uint8Array, at: number): number => shortAt(b, at) * 65536 + shortAt(b, at + 2);
/** Whether a length field here reaches to the packet's end. */
const reaches = (b: Uint8Array, at: number): boolean => shortAt(b, at) === (0x7000 | (b.length - at));
function isRoot(b: Uint8Array, vector: number, framing: number): boolean {
  if (shortAt(b, 0) !== 0x10 || shortAt(b, 2) !== 0) return false;
  for (let i = 0; i < ACN_ID.length; i++) if (b[4 + i] !== ACN_ID[i]) return false;
  return reaches(b, 16) && longAt(b, 18) === vector && reaches(b, 38) && longAt(b, 40) === framing;
}
function textAt(b: Uint8Array, from: number, length: number): string {
  let end = from;
  while (end < from + length && b[end] !== 0) end++;
  return new TextDecoder().decode(b.subarray(from, end)).replace(/[\u0000-\u001f\u007f]/g, '');
}
/** Reads a data packet; null when it is not one or is cut short. The bytes are untrusted. */
export function decodeSacnData(b: Uint8Array): SacnData | null {
  if (b.length < 126 || b.length > SACN_DATA_BYTES || !isRoot(b, VECTOR_ROOT_DATA, VECTOR_DATA)) return null;
  const count = shortAt(b, 123),
    universe = shortAt(b, 113),
    priority = b[108]!;
  if (!reaches(b, 115) || b[117] !== VECTOR_DMP_SET || b[118] !== 0xa1) return null;
  if (shortAt(b, 119) !== 0 || shortAt(b, 121) !== 1) return null;
  if (count < 1 || count > 513 || b.length !== 125 + count) return null;
  if (universe < 1 || universe > 63999 || priority > 200) return null;
  let cid = '';
  for (let i = 22; i < 38; i++) cid += b[i]!.toString(16).padStart(2, '0');
  return {
    cid,
    name: textAt(b, 44, 64),
    priority,
    sequence: b[111]!,
    preview: (b[112]! & 0x80) !== 0,
    ended: (b[112]! & SACN_TERMINATED) !== 0,
    universe,
    channels: b[125] === 0 ? b.subarray(126) : b.subarray(126, 126),
  };
}
/** The universes that a page of a discovery names; null when it is none. The bytes are untrusted. */
export function decodeSacnDiscovery(b: Uint8Array): number[] | null {
  if (b.length < DISCOVERY_HEAD || b.length > DISCOVERY_HEAD + 2 * SACN_PAGE) return null;
  if (!isRoot(b, VECTOR_ROOT_EXTENDED, VECTOR_DISCOVERY)) return null;
  if (!reaches(b, 112) || longAt(b, 114) !== VECTOR_LIST || b.length % 2 !== 0) return null;
  const out: number[] = [];
  for (let at = DISCOVERY_HEAD; at < b.length; at += 2) out.push(shortAt(b, at));
  return out.filter((u) => u >= 1 && u <= 63999);
}
