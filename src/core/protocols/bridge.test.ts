import { describe, expect, it } from '@jest/globals';
import {
  DMX_FRAME_BYTES,
  FRAME_DMX,
  FRAME_OVERLAY,
  isDriverFrame,
  MOST_TEXT_BYTES,
  OVERLAY_HEAD,
  overlaySize,
  parseFromDriver,
} from './bridge';

describe('messages of a driver', () => {
  it('are taken when every field is right', () => {
    const hello = { type: 'hello', protocol: 1, lease: 'abcdefgh', take: false };
    expect(parseFromDriver(JSON.stringify(hello))).toEqual(hello);
    const wires = {
      type: 'wires',
      armed: true,
      wires: [
        { id: 'w', rate: 44, keepAlive: 800, target: { kind: 'network', host: '10.0.0.5', port: 6454 } },
      ],
    };
    expect(parseFromDriver(JSON.stringify(wires))).toEqual(wires);
  });
  it.each([
    ['too long', 'x'.repeat(MOST_TEXT_BYTES + 1)],
    ['a number', '3'],
    ['null', 'null'],
    ['a list', '[]'],
    ['of no type', '{}'],
    ['with a short lease', '{"type":"hello","protocol":1,"lease":"a","take":false}'],
    ['with a numeric text', '{"type":"hello","protocol":"1","lease":"abcdefgh","take":false}'],
    [
      'with a host that is a path',
      '{"type":"wires","armed":true,"wires":[{"id":"w","rate":40,"keepAlive":800,"target":{"kind":"network","host":"a/b","port":1}}]}',
    ],
    [
      'with a badge that is no hash',
      '{"type":"overlays","version":1,"overlays":[{"id":"a","name":"a","kind":"frame","badge":"../x","parameters":[]}]}',
    ],
    [
      'with too many numbers',
      '{"type":"overlays","version":1,"overlays":[{"id":"a","name":"a","kind":"frame","badge":null,"parameters":[{"id":"p","rest":[1,2,3,4]}]}]}',
    ],
  ])('are refused when they are %s', (_, text) => {
    expect(parseFromDriver(text).type).toBe('bad');
  });
});

describe('binary frames', () => {
  it('have exactly the sizes of their kinds', () => {
    const dmx = new Uint8Array(DMX_FRAME_BYTES);
    dmx[0] = FRAME_DMX;
    const overlay = new Uint8Array(OVERLAY_HEAD + 24);
    overlay[0] = FRAME_OVERLAY;
    expect([
      isDriverFrame(dmx),
      isDriverFrame(dmx.subarray(0, 500)),
      isDriverFrame(overlay),
      isDriverFrame(overlay.subarray(0, OVERLAY_HEAD + 3)),
      isDriverFrame(new Uint8Array(0)),
      isDriverFrame(new Uint8Array(DMX_FRAME_BYTES)),
    ]).toEqual([true, false, true, false, false, false]);
  });
  it('an overlay takes as many numbers as its parameters have', () => {
    expect(
      overlaySize({
        id: 'a',
        name: 'a',
        kind: 'frame',
        badge: null,
        parameters: [
          { id: 'x', rest: [0] },
          { id: 'ink', rest: [0, 0, 0] },
        ],
      }),
    ).toBe(4);
  });
});
