import { describe, expect, it } from '@jest/globals';
import { readWav, WavError, writeWav, wavSeconds, takeSamples } from './wav';

const ramp = Float32Array.from({ length: 64 }, (_, i) => i / 64 - 0.5);
const other = ramp.map((x) => -x);

describe('wav', () => {
  it.each([
    [16, 2 ** -15],
    [24, 2 ** -23],
    [32, 0],
  ] as const)('carries %d-bit stereo there and back', (bits, step) => {
    const back = readWav(writeWav([ramp, other], 44100, bits));
    expect(back.sampleRate).toBe(44100);
    expect(back.frames).toBe(64);
    ramp.forEach((x, i) => {
      expect(Math.abs(back.channels[0]![i]! - x)).toBeLessThanOrEqual(step);
      expect(Math.abs(back.channels[1]![i]! + x)).toBeLessThanOrEqual(step);
    });
  });

  it("reads 24-bit samples by the standard: little-endian two's complement", () => {
    const bytes = writeWav([new Float32Array(3)], 48000, 24);
    bytes.set([0xff, 0xff, 0x7f, 0x00, 0x00, 0x80, 0x00, 0x00, 0xc0], 44);
    expect([...readWav(bytes).channels[0]!]).toEqual([Math.fround(8388607 / 8388608), -1, -0.5]);
  });

  it('gives the whole frames of a file that is cut short', () => {
    expect(readWav(writeWav([ramp, other], 48000).subarray(0, 44 + 4 * 10 + 3)).frames).toBe(10);
  });

  it('skips chunks it does not know, odd sizes included', () => {
    const plain = writeWav([ramp], 48000);
    const extra = Uint8Array.from([...'LIST'].map((c) => c.charCodeAt(0)).concat([3, 0, 0, 0, 1, 2, 3, 0]));
    const bytes = new Uint8Array(plain.length + extra.length);
    bytes.set(plain.subarray(0, 12));
    bytes.set(extra, 12);
    bytes.set(plain.subarray(12), 12 + extra.length);
    expect(readWav(bytes).channels[0]).toEqual(readWav(plain).channels[0]);
  });

  it('turns NaN and infinity into silence', () => {
    expect([...readWav(writeWav([Float32Array.of(NaN, Infinity, 0.25)], 48000, 32)).channels[0]!]).toEqual([
      0, 0, 0.25,
    ]);
  });

  it.each([
    ['empty', new Uint8Array(0), 'empty'],
    ['foreign', new TextEncoder().encode('<html>not a sound</html>'), 'not a WAV'],
    ['cut in the header', writeWav([ramp], 48000).subarray(0, 30), 'cut short'],
    ['cut before the samples', writeWav([ramp], 48000).subarray(0, 40), 'cut off'],
    ['without one whole frame', writeWav([ramp, other], 48000).subarray(0, 47), 'no sound'],
  ])('refuses a file that is %s, in words', (_, bytes, word) => {
    expect(() => readWav(bytes)).toThrow(WavError);
    expect(() => readWav(bytes)).toThrow(word);
  });

  it('refuses a rate outside 8 to 192 kHz', () => {
    expect(() => readWav(writeWav([ramp], 4000))).toThrow('8 to 192 kHz');
  });
});

describe('the length of a WAV', () => {
  it('is told by its head alone, whatever its size says', () => {
    const wav = writeWav([new Float32Array(48000), new Float32Array(48000)], 48000, 16);
    expect(wavSeconds(wav.subarray(0, 200), wav.length)).toBe(1);
    // A recorder that was cut off leaves the greatest size there is in its head.
    const cut = wav.slice();
    new DataView(cut.buffer).setUint32(40, 0xffffffff, true);
    expect(wavSeconds(cut.subarray(0, 200), cut.length)).toBe(1);
    expect(wavSeconds(wav.subarray(0, 200), 48000 * 4 * 10800 + 44)).toBe(1);
    const long = wav.slice(0, 200);
    new DataView(long.buffer).setUint32(40, 48000 * 4 * 10800, true);
    expect(wavSeconds(long, 48000 * 4 * 10800 + 44)).toBe(10800);
  });
  it('is not known of what is none', () => {
    expect(wavSeconds(new Uint8Array(0), 0)).toBeNull();
    expect(wavSeconds(new TextEncoder().encode('OggS and so on and on'), 100)).toBeNull();
  });
});

it('samples that are no numbers are silence, and those beyond all measure are held back', () => {
  const out = new Float32Array(6);
  takeSamples(Float32Array.of(NaN, Infinity, -Infinity, 3e38, 0.5, -1.5), out);
  expect([...out]).toEqual([0, 16, -16, 16, 0.5, -1.5]);
});
