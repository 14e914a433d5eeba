import { describe, expect, it } from '@jest/globals';
import {
  encodeSacnData,
  encodeSacnDiscovery,
  encodeSacnSync,
  SACN_DATA_BYTES,
  SACN_SYNC_BYTES,
  SACN_TERMINATED,
  sacnGroup,
} from './sacn';

const cid = Uint8Array.from({ length: 16 }, (_, i) => 0xa0 + i);
const source = { cid, name: new TextEncoder().encode('Batucada') };
const hex = (bytes: Uint8Array, from: number, to: number): string =>
  [...bytes.subarray(from, to)].map((x) => x.toString(16).padStart(2, '0')).join('');
/** Octets 4 to 15 of every packet: the packet identifier. */
const ACN = '4153432d45312e3137000000';

describe('sACN, byte by byte against ANSI E1.31-2018', () => {
  it('a data packet: table 4-1', () => {
    const out = new Uint8Array(SACN_DATA_BYTES).fill(0xee),
      data = Uint8Array.from({ length: 512 }, (_, i) => i & 255);
    expect(encodeSacnData(out, source, 0x1234, 77, 150, 0x0203, data)).toBe(638);
    expect(hex(out, 0, 4)).toBe('00100000'); // preamble and postamble size
    expect(hex(out, 4, 16)).toBe(ACN);
    expect(hex(out, 16, 18)).toBe('726e'); // 7, and 638 − 16
    expect(hex(out, 18, 22)).toBe('00000004'); // VECTOR_ROOT_E131_DATA
    expect(hex(out, 22, 38)).toBe(hex(cid, 0, 16));
    expect(hex(out, 38, 40)).toBe('7258'); // 638 − 38
    expect(hex(out, 40, 44)).toBe('00000002'); // VECTOR_E131_DATA_PACKET
    expect(new TextDecoder().decode(out.subarray(44, 52))).toBe('Batucada');
    expect(hex(out, 52, 108)).toBe('00'.repeat(56));
    expect(out[108]).toBe(150); // priority
    expect(hex(out, 109, 111)).toBe('0203'); // synchronization address
    expect(out[111]).toBe(77); // sequence
    expect(out[112]).toBe(0); // options
    expect(hex(out, 113, 115)).toBe('1234'); // universe
    expect(hex(out, 115, 117)).toBe('720b'); // 638 − 115
    expect(hex(out, 117, 126)).toBe('02a100000001020100'); // set property, types, first 0, step 1, 513 values, start code 0
    expect([...out.subarray(126)]).toEqual([...data]);
  });
  it('the end of a stream is bit 6 of the options', () => {
    const out = new Uint8Array(SACN_DATA_BYTES);
    encodeSacnData(out, source, 1, 0, 100, 0, new Uint8Array(512), SACN_TERMINATED);
    expect(out[112]).toBe(0b01000000);
  });
  it('a sync packet: table 4-2', () => {
    const out = new Uint8Array(SACN_SYNC_BYTES).fill(0xee);
    expect(encodeSacnSync(out, source, 0x0102, 9)).toBe(49);
    expect(hex(out, 16, 22)).toBe('702100000008'); // 49 − 16, VECTOR_ROOT_E131_EXTENDED
    expect(hex(out, 38, 44)).toBe('700b00000001'); // 49 − 38, VECTOR_E131_EXTENDED_SYNCHRONIZATION
    expect(hex(out, 44, 49)).toBe('0901020000');
  });
  it('a universe discovery: tables 4-3 and 8-5, in pages of 512, in order', () => {
    const [only] = encodeSacnDiscovery(source, [3, 1, 1]);
    expect(only!.length).toBe(124);
    expect(hex(only!, 16, 22)).toBe('706c00000008');
    expect(hex(only!, 38, 44)).toBe('705600000002'); // VECTOR_E131_EXTENDED_DISCOVERY
    expect(hex(only!, 108, 112)).toBe('00000000'); // reserved
    expect(hex(only!, 112, 120)).toBe('700c000000010000'); // 124 − 112, VECTOR_UNIVERSE_DISCOVERY_UNIVERSE_LIST, page 0 of 0
    expect(hex(only!, 120, 124)).toBe('00010003');
    const pages = encodeSacnDiscovery(
      source,
      Array.from({ length: 600 }, (_, i) => i + 1),
    );
    expect(pages.map((p) => [p[118], p[119], (p.length - 120) / 2])).toEqual([
      [0, 1, 512],
      [1, 1, 88],
    ]);
  });
  it('universes have their own group: 9.3.1', () => {
    expect([sacnGroup(1), sacnGroup(7962), sacnGroup(63999)]).toEqual([
      '239.255.0.1',
      '239.255.31.26',
      '239.255.249.255',
    ]);
  });
});
