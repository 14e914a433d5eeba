/**
 * OSC 1.0 (opensoundcontrol.org/spec-1_0): reading packets. Strings and blobs are padded to four bytes, numbers are big-endian;
 * a packet is a message or a bundle of packets.
 */
export interface OscMessage {
  readonly address: string;
  /** Numbers of the message in order; T and F count as 1 and 0. Other kinds of argument are passed over. */
  readonly numbers: readonly number[];
}

/** Deeper bundles than this are no message of any sender that means well. */
const MOST_DEPTH = 4;
const MOST_MESSAGES = 256;

/** @returns the messages of a packet in order; null when it is not OSC, or cut off */
export function decodeOsc(bytes: Uint8Array): OscMessage[] | null {
  const out: OscMessage[] = [];
  return read(bytes, 0, out) ? out : null;
}

function read(bytes: Uint8Array, depth: number, out: OscMessage[]): boolean {
  if (bytes.length < 4 || bytes.length % 4 !== 0 || depth > MOST_DEPTH || out.length >= MOST_MESSAGES)
    return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const first = text(bytes, 0);
  if (!first) return false;
  if (first.value === '#bundle') {
    // After the name a time tag of eight bytes; it is taken for now.
    for (let at = 16; at < bytes.length;) {
      if (at + 4 > bytes.length) return false;
      const size = view.getInt32(at);
      if (
        size <= 0 ||
        at + 4 + size > bytes.length ||
        !read(bytes.subarray(at + 4, at + 4 + size), depth + 1, out)
      )
        return false;
      at += 4 + size;
    }
    return bytes.length >= 16;
  }
  if (!first.value.startsWith('/')) return false;
  const tags = first.next < bytes.length ? text(bytes, first.next) : { value: ',', next: first.next };
  if (!tags?.value.startsWith(',')) return false;
  const numbers: number[] = [];
  let at = tags.next;
  const room = (n: number): boolean => at + n <= bytes.length;
  for (const tag of tags.value.slice(1)) {
    switch (tag) {
      case 'i':
        if (!room(4)) return false;
        numbers.push(view.getInt32(at));
        at += 4;
        break;
      case 'f':
        if (!room(4)) return false;
        numbers.push(view.getFloat32(at));
        at += 4;
        break;
      case 'd':
        if (!room(8)) return false;
        numbers.push(view.getFloat64(at));
        at += 8;
        break;
      case 'h':
        if (!room(8)) return false;
        numbers.push(Number(view.getBigInt64(at)));
        at += 8;
        break;
      case 't':
        if (!room(8)) return false;
        at += 8;
        break;
      case 'T':
        numbers.push(1);
        break;
      case 'F':
        numbers.push(0);
        break;
      case 'N':
      case 'I':
        break;
      case 's':
      case 'S': {
        const s = text(bytes, at);
        if (!s) return false;
        at = s.next;
        break;
      }
      case 'b': {
        if (!room(4)) return false;
        const n = view.getInt32(at);
        if (n < 0 || !room(4 + n)) return false;
        at += 4 + Math.ceil(n / 4) * 4;
        break;
      }
      default:
        if (!room(4)) return false;
        at += 4; // c, r, m: four bytes each
    }
  }
  out.push({ address: first.value, numbers });
  return true;
}

/** A string of ASCII up to its zero, and where what follows its padding begins; null when it has no end. */
function text(bytes: Uint8Array, from: number): { readonly value: string; readonly next: number } | null {
  let end = from;
  while (end < bytes.length && bytes[end] !== 0) end++;
  if (end >= bytes.length) return null;
  let value = '';
  for (let i = from; i < end; i++) {
    const c = bytes[i]!;
    if (c < 0x20 || c > 0x7e) return null;
    value += String.fromCharCode(c);
  }
  return { value, next: from + Math.ceil((end - from + 1) / 4) * 4 };
}

/** Bytes of a message with an address of so many letters and one number. */
export const oscBytes = (letters: number): number => padded(letters + 1) + 8;
/** Bytes before the message of a bundle of one: `#bundle`, the time tag, and how long the message is. */
export const OSC_BUNDLE_HEAD = 20;
/** Seconds from 1900, where time tags begin, to 1970 (RFC 868). */
const SINCE_1900 = 2208988800;
const BUNDLE = '#bundle';

/**
 * Writes the head of a bundle of one message. Allocates nothing.
 * @param bytes - of the message that follows @param at - when it is to be followed, in ms since 1970; null: at once
 */
export function writeOscBundle(out: Uint8Array, view: DataView, bytes: number, at: number | null): void {
  for (let i = 0; i < 8; i++) out[i] = i < BUNDLE.length ? BUNDLE.charCodeAt(i) : 0;
  const seconds = at === null ? 0 : Math.floor(at / 1000);
  // 63 zeros and a one mean at once.
  view.setUint32(8, at === null ? 0 : seconds + SINCE_1900);
  view.setUint32(12, at === null ? 1 : Math.floor((at / 1000 - seconds) * 4294967296));
  view.setUint32(16, bytes);
}
const padded = (n: number): number => Math.ceil(n / 4) * 4;

/**
 * Writes a message with one number. Allocates nothing.
 * @param out - of zeros from a message to the same address before it, at least {@link oscBytes} long after `from`
 * @param address - printable ASCII @param from - where in `out` it begins @returns where it ends
 */
export function encodeOsc(
  out: Uint8Array,
  view: DataView,
  address: string,
  type: 'f' | 'i',
  value: number,
  from = 0,
): number {
  const tags = from + padded(address.length + 1);
  for (let i = 0; from + i < tags; i++) out[from + i] = i < address.length ? address.charCodeAt(i) : 0;
  out[tags] = 0x2c; // ","
  out[tags + 1] = type.charCodeAt(0);
  out[tags + 2] = out[tags + 3] = 0;
  if (type === 'f') view.setFloat32(tags + 4, value);
  else view.setInt32(tags + 4, value);
  return tags + 8;
}
