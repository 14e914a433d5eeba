import { describe, expect, it } from '@jest/globals';
import {
  decodeIdnScanned,
  encodeIdnClose,
  encodeIdnFrame,
  encodeIdnSamples,
  encodeIdnScan,
  IDN_PORT,
  idnBytes,
  type IdnStream,
} from './idn';

const STREAM: IdnStream = { mode: 'wave', bits: 8, pointsPerSecond: 30000, service: 2 };
const POINTS = Float32Array.of(1, -1, 1, 0.5, 0, 0, 0.5, 0, 0, 1, -7, NaN, 2, -1, NaN);
const hex = (bytes: Uint8Array): string =>
  Buffer.from(bytes)
    .toString('hex')
    .replace(/(..)(?=.)/g, '$1 ');
function written(stream: IdnStream, configured: boolean, count = 2): Uint8Array {
  const out = new Uint8Array(idnBytes(count, stream.bits));
  return out.slice(0, encodeIdnSamples(out, stream, 0x0102, 0x01020304, POINTS, 0, count, configured));
}

describe('the laser’s network stream', () => {
  it('is at the port of the standard', () => {
    expect(IDN_PORT).toBe(7255);
  });
  it('is written by its tables: hello, channel message, configuration, samples of 8 bits', () => {
    expect(hex(written(STREAM, true))).toBe(
      [
        '40 00 01 02', // hello: real-time channel message, flags, sequence
        '00 2e c0 01 01 02 03 04', // 46 bytes; channel 0, configured, wave samples; time
        '04 01 02 01', // 4 words of tags, routing, service 2, mode 1
        '42 00 40 10 42 10 40 10 52 7e 52 14 51 cc 00 00', // X and Y of 16 bits, 638, 532 and 460 nm, filled up
        '00 00 00 43', // two samples of a thirty-thousandth: 67 µs
        '7f ff 80 01 ff 80 00',
        '00 00 40 00 00 00 ff',
      ]
        .join(' ')
        .replace('00 2e', hex(Uint8Array.of(0, 8 + 4 + 16 + 4 + 14))),
    );
  });
  it('of 16 bits marks each tag so, and leaves the configuration out where it was told', () => {
    const bytes = written({ ...STREAM, bits: 16 }, false);
    expect(hex(bytes)).toBe(
      [
        '40 00 01 02',
        '00 20 80 01 01 02 03 04',
        '00 00 00 43',
        '7f ff 80 01 ff ff 80 00 00 00',
        '00 00 40 00 00 00 00 00 ff ff',
      ].join(' '),
    );
    const told = written({ ...STREAM, bits: 16 }, true);
    expect(hex(told.slice(12, 16 + 20))).toBe(
      '05 01 02 01 42 00 40 10 42 10 40 10 52 7e 40 10 52 14 40 10 51 cc 40 10',
    );
  });
  it('as frames is drawn once: whole in one packet, or its first part and sequels of which the last says so', () => {
    const stream: IdnStream = { ...STREAM, mode: 'frame' },
      out = new Uint8Array(idnBytes(3, 8));
    const part = (from: number, count: number, configured = false): string =>
      hex(out.slice(0, encodeIdnFrame(out, stream, 1, 5, POINTS, from, count, 3, configured)));
    const whole = part(0, 3, true);
    // 8 + 4 + 16 + 4 + 21 bytes; configured for frames; once, and three points long: 100 µs.
    expect(whole.slice(0, 59)).toBe('40 00 00 01 00 35 c0 02 00 00 00 05 04 01 02 02 42 00 40 10');
    expect(whole).toContain(' 00 00 01 00 00 64 7f ff 80 01 ff 80 00 ');
    expect(part(0, 1)).toBe('40 00 00 01 00 13 80 03 00 00 00 05 01 00 00 64 7f ff 80 01 ff 80 00');
    expect(part(1, 1)).toBe('40 00 00 01 00 0f 80 c0 00 00 00 05 00 00 40 00 00 00 ff');
    expect(part(2, 1)).toBe('40 00 00 01 00 0f c0 c0 00 00 00 05 80 01 00 00 ff 00 00');
  });
  it('holds what is beyond its range at the range, and what is no number is dark', () => {
    const bytes = written(STREAM, false, 3);
    expect(hex(bytes.slice(-7))).toBe('80 01 00 00 ff 00 00');
  });
  it('ends its channel in a message of its own', () => {
    expect(hex(encodeIdnClose(STREAM, 3, 1))).toBe('40 00 00 03 00 0c c0 00 00 00 00 01 00 02 02 00');
  });
  it('asks who is there, and takes no answer that is none', () => {
    expect(hex(encodeIdnScan(9))).toBe('10 00 00 09');
    const answer = new Uint8Array(44);
    answer.set([0x11, 0, 0, 9, 40, 0x10, 0x41]);
    answer.set(new TextEncoder().encode('Awning'), 24);
    expect(decodeIdnScanned(answer)).toEqual({
      name: 'Awning',
      id: '0'.repeat(32),
      occupied: false,
      offline: true,
    });
    expect([
      decodeIdnScanned(answer.slice(0, 43)),
      decodeIdnScanned(new Uint8Array(0)),
      decodeIdnScanned(new Uint8Array(44)),
    ]).toEqual([null, null, null]);
  });
});
