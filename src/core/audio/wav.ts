import type { Hz, Seconds } from '../units';

export interface Pcm {
  readonly sampleRate: Hz;
  /** One array per channel, all of one length, full scale ±1. */
  readonly channels: readonly Float32Array[];
  readonly frames: number;
  readonly duration: Seconds;
}

/** The file is not a WAV that can be used; the message says what is wrong, in words for the person who dropped it. */
export class WavError extends Error {
  override readonly name = 'WavError';
}

const PCM = 1;
const FLOAT = 3;
const EXTENSIBLE = 0xfffe;

/**
 * Reads a RIFF/WAVE file: 8, 16, 24 or 32-bit integer or 32/64-bit float, any number of channels, 8 to 192 kHz.
 * A data chunk that is cut short gives the whole frames that are there.
 * @param bytes - the file; untrusted
 * @throws WavError when nothing can be played from it
 */
export function readWav(bytes: Uint8Array): Pcm {
  if (bytes.length === 0) throw new WavError('The file is empty.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number): string =>
    at + 4 <= bytes.length
      ? String.fromCharCode(bytes[at]!, bytes[at + 1]!, bytes[at + 2]!, bytes[at + 3]!)
      : '';
  if (tag(0) !== 'RIFF' || tag(8) !== 'WAVE') throw new WavError('This is not a WAV file.');

  let format: { code: number; channels: number; rate: number; bits: number; align: number } | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const id = tag(at);
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    if (id === 'fmt ') {
      if (size < 16 || body + 16 > bytes.length) throw new WavError('The WAV header is cut short.');
      let code = view.getUint16(body, true);
      if (code === EXTENSIBLE && size >= 26 && body + 26 <= bytes.length)
        code = view.getUint16(body + 24, true);
      format = {
        code,
        channels: view.getUint16(body + 2, true),
        rate: view.getUint32(body + 4, true),
        align: view.getUint16(body + 12, true),
        bits: view.getUint16(body + 14, true),
      };
    } else if (id === 'data') {
      if (!format) throw new WavError('The WAV header is missing its format.');
      return samples(view, body, Math.min(size, bytes.length - body), format);
    }
    at = body + size + (size & 1);
  }
  throw new WavError(
    format
      ? 'The WAV file holds no sound: it is cut off before its samples.'
      : 'The WAV header is cut short.',
  );
}

/**
 * How long a WAV file lasts, by its head alone.
 * @param head - its first bytes, as many as there are at hand @param size - bytes of the whole file
 * @returns null when it is no WAV, or its samples begin later than `head` goes
 */
export function wavSeconds(head: Uint8Array, size: number): number | null {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const tag = (at: number): string => String.fromCharCode(...head.subarray(at, at + 4));
  if (head.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'WAVE') return null;
  let perSecond = 0;
  for (let at = 12; at + 8 <= head.length;) {
    const id = tag(at),
      length = view.getUint32(at + 4, true);
    if (id === 'fmt ' && at + 20 <= head.length) perSecond = view.getUint32(at + 16, true);
    else if (id === 'data') return perSecond > 0 ? Math.min(length, size - at - 8) / perSecond : null;
    at += 8 + length + (length & 1);
  }
  return null;
}

function samples(
  view: DataView,
  start: number,
  length: number,
  format: { code: number; channels: number; rate: number; bits: number; align: number },
): Pcm {
  const { code, channels, rate, bits } = format;
  const known =
    (code === PCM && [8, 16, 24, 32].includes(bits)) || (code === FLOAT && [32, 64].includes(bits));
  if (!known)
    throw new WavError(
      `This WAV is coded in a way that cannot be read (format ${code}, ${bits} bits). Save it as 16, 24 or 32-bit PCM, or as float.`,
    );
  if (channels < 1 || channels > 64) throw new WavError(`A WAV with ${channels} channels cannot be read.`);
  if (rate < 8000 || rate > 192000) throw new WavError(`The sample rate ${rate} Hz is outside 8 to 192 kHz.`);
  const width = bits / 8;
  const stride = width * channels;
  const frames = Math.floor(length / stride);
  if (frames < 1) throw new WavError('The WAV file holds no sound.');

  const out = Array.from({ length: channels }, () => new Float32Array(frames));
  for (let c = 0; c < channels; c++) {
    const to = out[c]!;
    let at = start + c * width;
    for (let i = 0; i < frames; i++, at += stride) {
      let x: number;
      if (code === FLOAT) x = bits === 32 ? view.getFloat32(at, true) : view.getFloat64(at, true);
      else if (bits === 16) x = view.getInt16(at, true) / 32768;
      else if (bits === 24) x = (view.getUint16(at, true) | (view.getInt8(at + 2) << 16)) / 8388608;
      else if (bits === 32) x = view.getInt32(at, true) / 2147483648;
      else x = (view.getUint8(at) - 128) / 128;
      // A file may hold NaN or infinity; one let in would spread through every filter.
      to[i] = Number.isFinite(x) ? x : 0;
    }
  }
  return { sampleRate: rate, channels: out, frames, duration: frames / rate };
}

/**
 * Writes a WAV file.
 * @param channels - one array per channel, full scale ±1; what is beyond is clipped in the 16-bit form
 * @param bits - 16 (integer), 24 (integer) or 32 (float)
 */
export function writeWav(
  channels: readonly Float32Array[],
  sampleRate: Hz,
  bits: 16 | 24 | 32 = 16,
): Uint8Array<ArrayBuffer> {
  const count = channels.length;
  const frames = channels[0]?.length ?? 0;
  const width = bits / 8;
  const dataSize = frames * count * width;
  const bytes = new Uint8Array(44 + dataSize);
  const view = new DataView(bytes.buffer);
  const text = (at: number, s: string): void => {
    for (let i = 0; i < s.length; i++) bytes[at + i] = s.charCodeAt(i);
  };
  text(0, 'RIFF');
  view.setUint32(4, 36 + dataSize, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, bits === 32 ? FLOAT : PCM, true);
  view.setUint16(22, count, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * count * width, true);
  view.setUint16(32, count * width, true);
  view.setUint16(34, bits, true);
  text(36, 'data');
  view.setUint32(40, dataSize, true);
  let at = 44;
  for (let i = 0; i < frames; i++) {
    for (let c = 0; c < count; c++, at += width) {
      const x = channels[c]![i]!;
      if (bits === 32) view.setFloat32(at, x, true);
      else {
        const full = bits === 16 ? 32768 : 8388608;
        const n = Math.max(-full, Math.min(full - 1, Math.round(x * full)));
        if (bits === 16) view.setInt16(at, n, true);
        else {
          view.setUint16(at, n & 0xffff, true);
          view.setInt8(at + 2, n >> 16);
        }
      }
    }
  }
  return bytes;
}

/** +24 dBFS: louder than anything that is meant. */
const LOUDEST = 16;
/** Takes a file's samples over as they can be worked on: what is no number is silence, and what is absurdly loud is held back. */
export function takeSamples(from: Float32Array, into: Float32Array): void {
  for (let i = 0; i < from.length; i++) {
    const x = from[i]!;
    into[i] = x > LOUDEST ? LOUDEST : x < -LOUDEST ? -LOUDEST : x === x ? x : 0;
  }
}
