import type { Hz } from '../units';

/**
 * ILDA Digital Network stream (IDN-Stream and IDN-Hello, ILDA Technical Committee): what a sender needs of it. A packet is a hello
 * header (command, flags, sequence), and for real-time data a channel message, which may say how its channel is configured, and a
 * chunk of samples. All numbers are big-endian.
 */
export const IDN_PORT = 7255;
export const IDN_SCAN = 0x10;
export const IDN_SCANNED = 0x11;
const CHANNEL_MESSAGE = 0x40;

/** Hello header and channel message header. */
const HEAD = 4,
  MESSAGE_HEAD = 8;
/** Content id: a channel message; its channel is (re)configured here. */
const CONTENT = 0x8000,
  CONFIGURED = 0x4000;
/** Chunk types. */
const VOID = 0x00,
  WAVE = 0x01,
  FRAME = 0x02,
  FRAME_FIRST = 0x03,
  FRAME_SEQUEL = 0xc0;
/** Of a frame: it is drawn once, and not over and over until the next. */
const ONCE = 0x01;
/** Service modes: a stream of samples, or pictures that are repeated until the next. */
const MODE_WAVE = 0x01,
  MODE_FRAME = 0x02;
const ROUTED = 0x01,
  CLOSED = 0x02;

/** Bits of each number of a sample. */
export type IdnBits = 8 | 16;
export interface IdnStream {
  /** A stream of samples, or whole pictures. */
  readonly mode: 'wave' | 'frame';
  readonly bits: IdnBits;
  readonly pointsPerSecond: Hz;
  /** Of the projector's services; 0 is its first. */
  readonly service: number;
}

/** Tags of a sample: X, Y, red of 638 nm, green of 532, blue of 460; each of 16 bits is followed by the mark of that precision. */
const TAGS = [0x4200, 0x4210, 0x527e, 0x5214, 0x51cc] as const;
const PRECISE = 0x4010;
/** Places are always of 16 bits: 8 would be coarser than a mirror. */
const tagsOf = (bits: IdnBits): number[] => {
  const tags = TAGS.flatMap((tag, i) => (i < 2 || bits === 16 ? [tag, PRECISE] : [tag]));
  return tags.length % 2 === 0 ? tags : [...tags, 0];
};
export const sampleBytes = (bits: IdnBits): number => 4 + 3 * (bits / 8);
/** Bytes of the longest message of so many samples. */
export const idnBytes = (samples: number, bits: IdnBits): number =>
  HEAD + MESSAGE_HEAD + 4 + 2 * tagsOf(bits).length + 4 + samples * sampleBytes(bits);
/** Samples of one message at most, so that a packet of 1,500 bytes bears it. */
export const IDN_SAMPLES_MOST = 150;

const short = (out: Uint8Array, at: number, x: number): void => {
  out[at] = (x >> 8) & 255;
  out[at + 1] = x & 255;
};
const long = (out: Uint8Array, at: number, x: number): void => {
  short(out, at, x >>> 16);
  short(out, at + 2, x & 0xffff);
};
const sixteen = (x: number): number => {
  const y = Math.round((x < -1 ? -1 : x > 1 ? 1 : x) * 32767);
  return y < 0 ? y + 65536 : y;
};

function head(out: Uint8Array, command: number, sequence: number): void {
  out[0] = command;
  out[1] = 0;
  short(out, 2, sequence & 0xffff);
}
/**
 * Writes a stretch of samples of a wave. Allocates nothing but for the configuration's few tags.
 * @param points - x, y (−1 to 1), red, green, blue (0 to 1) of each, from `from` on
 * @param at - when the first is to be drawn, in µs, of any clock that runs evenly
 * @param configured - it tells how the channel is configured as well: at the start, and a few times a second
 * @returns bytes written
 */
export function encodeIdnSamples(
  out: Uint8Array,
  stream: IdnStream,
  sequence: number,
  at: number,
  points: Float32Array,
  from: number,
  count: number,
  configured: boolean,
): number {
  let to = configured ? configure(out, stream) : HEAD + MESSAGE_HEAD;
  to = chunkHead(out, to, 0, count, stream);
  to = putSamples(out, to, stream, points, from, count);
  messageHead(out, sequence, to, at, WAVE | (configured ? CONFIGURED : 0));
  return to;
}
/**
 * Writes a part of a frame of `total` samples that is drawn once; what does not fit one packet follows in sequels, in their order.
 * @returns bytes written
 */
export function encodeIdnFrame(
  out: Uint8Array,
  stream: IdnStream,
  sequence: number,
  at: number,
  points: Float32Array,
  from: number,
  count: number,
  total: number,
  configured: boolean,
): number {
  const first = from === 0,
    last = from + count >= total;
  let to = first && configured ? configure(out, stream) : HEAD + MESSAGE_HEAD;
  if (first) to = chunkHead(out, to, ONCE, total, stream);
  to = putSamples(out, to, stream, points, from, count);
  // Of a sequel the mark of a configuration says that it is the last.
  const marked = first ? configured : last;
  messageHead(
    out,
    sequence,
    to,
    at,
    (first ? (last ? FRAME : FRAME_FIRST) : FRAME_SEQUEL) | (marked ? CONFIGURED : 0),
  );
  return to;
}
function configure(out: Uint8Array, { bits, service, mode }: IdnStream): number {
  const tags = tagsOf(bits);
  let to = HEAD + MESSAGE_HEAD;
  out[to] = tags.length / 2;
  out[to + 1] = ROUTED;
  out[to + 2] = service;
  out[to + 3] = mode === 'wave' ? MODE_WAVE : MODE_FRAME;
  to += 4;
  for (const tag of tags) {
    short(out, to, tag);
    to += 2;
  }
  return to;
}
/** Flags, and in 24 bits how long these samples take. */
function chunkHead(
  out: Uint8Array,
  to: number,
  flags: number,
  count: number,
  { pointsPerSecond }: IdnStream,
): number {
  long(out, to, Math.min(0xffffff, Math.round((count * 1e6) / pointsPerSecond)));
  out[to] = flags;
  return to + 4;
}
function putSamples(
  out: Uint8Array,
  at: number,
  { bits }: IdnStream,
  points: Float32Array,
  from: number,
  count: number,
): number {
  const most = bits === 16 ? 65535 : 255;
  let to = at;
  for (let k = 0; k < count; k++) {
    const p = 5 * (from + k);
    short(out, to, sixteen(points[p]!));
    short(out, to + 2, sixteen(points[p + 1]!));
    to += 4;
    for (let c = 2; c < 5; c++) {
      const x = points[p + c]!,
        code = Math.round((x > 0 ? (x < 1 ? x : 1) : 0) * most);
      if (bits === 16) {
        short(out, to, code);
        to += 2;
      } else out[to++] = code;
    }
  }
  return to;
}
function messageHead(out: Uint8Array, sequence: number, size: number, at: number, content: number): void {
  head(out, CHANNEL_MESSAGE, sequence);
  short(out, HEAD, size - HEAD);
  short(out, HEAD + 2, CONTENT | content);
  long(out, HEAD + 4, at >>> 0);
}
/** Ends the channel: nothing follows, and the projector is dark. */
export function encodeIdnClose(stream: IdnStream, sequence: number, at: number): Uint8Array {
  const out = new Uint8Array(HEAD + MESSAGE_HEAD + 4);
  head(out, CHANNEL_MESSAGE, sequence);
  short(out, HEAD, out.length - HEAD);
  short(out, HEAD + 2, CONTENT | CONFIGURED | VOID);
  long(out, HEAD + 4, at >>> 0);
  out[HEAD + MESSAGE_HEAD + 1] = CLOSED;
  out[HEAD + MESSAGE_HEAD + 2] = stream.service;
  return out;
}
/** Asks who is there. */
export function encodeIdnScan(sequence: number): Uint8Array {
  const out = new Uint8Array(HEAD);
  head(out, IDN_SCAN, sequence);
  return out;
}

export interface IdnUnit {
  readonly name: string;
  /** In hexadecimal. */
  readonly id: string;
  readonly occupied: boolean;
  readonly offline: boolean;
}
/** Reads an answer to a scan; null when it is none or is cut short. The bytes are untrusted. */
export function decodeIdnScanned(b: Uint8Array): IdnUnit | null {
  if (b.length < HEAD + 40 || b[0] !== IDN_SCANNED || b[HEAD]! < 40) return null;
  const status = b[HEAD + 2]!;
  let id = '',
    name = '';
  for (let i = HEAD + 4; i < HEAD + 20; i++) id += b[i]!.toString(16).padStart(2, '0');
  for (let i = HEAD + 20; i < HEAD + 40 && b[i]; i++)
    if (b[i]! >= 32 && b[i]! < 127) name += String.fromCharCode(b[i]!);
  return { name, id, occupied: (status & 0x10) !== 0, offline: (status & 0x40) !== 0 };
}
