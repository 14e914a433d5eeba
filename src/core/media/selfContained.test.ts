import { describe, expect, it } from '@jest/globals';
import { buoyModel } from '../ferry/buoy';
import { drawingTrouble, isPlaylist, modelAddress } from './selfContained';

const text = (s: string): ArrayBuffer => new TextEncoder().encode(s).buffer as ArrayBuffer;

describe('a model', () => {
  it('that has all in itself names no address', () => {
    const buoy = buoyModel();
    expect(
      modelAddress(buoy.buffer.slice(buoy.byteOffset, buoy.byteOffset + buoy.byteLength) as ArrayBuffer),
    ).toBeNull();
    expect(
      modelAddress(text('{"buffers":[{"uri":"data:application/octet-stream;base64,AA=="}]}')),
    ).toBeNull();
  });
  it.each([
    ['a buffer', '{"buffers":[{"uri":"http://far.test/x.bin"}]}', 'http://far.test/x.bin'],
    ['an image', '{"images":[{"uri":"//far.test/x.png"}]}', '//far.test/x.png'],
    ['a file beside it', '{"buffers":[{"uri":"x.bin"}]}', 'x.bin'],
    ['an extension', '{"extensions":{"A":{"b":[{"uri":"https://far.test/"}]}}}', 'https://far.test/'],
  ])('that names %s elsewhere is found out', (_, json, address) => {
    expect(modelAddress(text(json))).toBe(address);
    const body = new Uint8Array(text(json)),
      glb = new Uint8Array(20 + body.length),
      view = new DataView(glb.buffer);
    view.setUint32(0, 0x46546c67, true);
    view.setUint32(12, body.length, true);
    view.setUint32(16, 0x4e4f534a, true);
    glb.set(body, 20);
    expect(modelAddress(glb.buffer)).toBe(address);
  });
  it('that is none is left to the reader', () => {
    expect(modelAddress(new ArrayBuffer(0))).toBeNull();
    expect(modelAddress(text('not json'))).toBeNull();
  });
});

describe('a drawing', () => {
  it('of a reasonable size may be used', () => {
    expect(
      drawingTrouble(
        '<svg><filter id="a"><feGaussianBlur stdDeviation="3"/></filter><path filter="url(#a)"/></svg>',
      ),
    ).toBeNull();
  });
  it.each([
    ['stacked blurs', `<svg><filter>${'<feGaussianBlur stdDeviation="40"/>'.repeat(200)}</filter></svg>`],
    ['one blur on everything', `<svg>${'<g filter="url(#a)">'.repeat(200)}</svg>`],
    ['blurs by style', `<svg>${'<g style="filter: blur(40px)">'.repeat(200)}</svg>`],
    ['too many parts', `<svg>${'<path/>'.repeat(60000)}</svg>`],
    ['repeats', `<svg>${'<use href="#a"/>'.repeat(3000)}</svg>`],
  ])('with %s is refused in words', (_, svg) => {
    expect(drawingTrouble(svg)).toContain('Make it simpler');
  });
});

it('a film that is a list of addresses is none', () => {
  const head = (s: string): Uint8Array => new TextEncoder().encode(s);
  expect(isPlaylist(head('#EXTM3U\nhttp://far.test/1.ts'), 'video/mp4')).toBe(true);
  expect(isPlaylist(head('<?xml version="1.0"?>\n<MPD>'), '')).toBe(true);
  expect(isPlaylist(head(''), 'application/vnd.apple.mpegurl')).toBe(true);
  expect(isPlaylist(Uint8Array.of(0x1a, 0x45, 0xdf, 0xa3), 'video/webm')).toBe(false);
});
