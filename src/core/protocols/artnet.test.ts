import { describe, expect, it } from '@jest/globals';
import { ARTDMX_BYTES, artnetOpCode, decodeArtPollReply, encodeArtDmx, encodeArtPoll } from './artnet';

const bytes = (hex: string): number[] => hex.split(' ').map((h) => Number.parseInt(h, 16));

describe('Art-Net 4', () => {
  it("writes ArtDmx by the standard's table", () => {
    const out = new Uint8Array(ARTDMX_BYTES);
    const n = encodeArtDmx(out, 0x1234, 7, Uint8Array.of(255, 128, 1, 0));
    expect([...out.subarray(0, n)]).toEqual(
      bytes('41 72 74 2d 4e 65 74 00 00 50 00 0e 07 00 34 12 00 04 ff 80 01 00'),
    );
  });
  it('sends an even number of channels, at least two and at most 512', () => {
    const out = new Uint8Array(ARTDMX_BYTES);
    expect(encodeArtDmx(out, 0, 1, Uint8Array.of(9))).toBe(20);
    expect([...out.subarray(16, 20)]).toEqual([0, 2, 9, 0]);
    expect(encodeArtDmx(out, 0, 1, new Uint8Array(600))).toBe(530);
  });
  it('writes ArtPoll', () => {
    expect([...encodeArtPoll()]).toEqual(bytes('41 72 74 2d 4e 65 74 00 00 20 00 0e 02 00'));
  });
  it('reads an ArtPollReply made by hand', () => {
    const reply = new Uint8Array(239);
    reply.set(bytes('41 72 74 2d 4e 65 74 00 00 21 7f 00 00 01 36 19'), 0);
    reply[18] = 0x12;
    reply[19] = 0x03;
    reply.set(
      [...'Deck'].map((c) => c.charCodeAt(0)),
      26,
    );
    reply.set(
      [...'Upper deck'].map((c) => c.charCodeAt(0)),
      44,
    );
    reply[173] = 2;
    reply[174] = 0x80;
    reply[175] = 0x40;
    reply[190] = 0x04;
    reply[191] = 0x05;
    expect(decodeArtPollReply(reply)).toEqual({
      address: '127.0.0.1',
      port: 0x1936,
      shortName: 'Deck',
      longName: 'Upper deck',
      universes: [0x1234],
    });
  });
  it.each([
    [new Uint8Array(0)],
    [Uint8Array.from(bytes('41 72 74 2d 4e 65 74 00 00 21'))],
    [new Uint8Array(300).fill(255)],
  ])('gives null for what is not a reply', (junk) => {
    expect(decodeArtPollReply(junk)).toBeNull();
  });
  it('knows no op code in foreign bytes', () => {
    expect(artnetOpCode(new TextEncoder().encode('GET / HTTP/1.1'))).toBeNull();
  });
});
