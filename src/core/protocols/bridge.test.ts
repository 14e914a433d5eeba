import { describe, expect, it } from '@jest/globals';
import {
  EVENT_BYTES,
  FRAME_BEAT,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  isDriverFrame,
  MOST_TEXT_BYTES,
  overlaySize,
  parseFromDriver,
  parseOverlays,
  writeHead,
} from './bridge';

const overlay = { id: 'a', name: 'a', kind: 'frame', badge: null, parameters: [{ id: 'p', rest: [1] }] };
const outlets = {
  type: 'outlets',
  version: 3,
  armed: true,
  wires: [{ id: 'w', target: { kind: 'network', host: '10.0.0.5', port: 6454 } }],
  overlays: [overlay],
  streams: [
    {
      id: 'lamps w 0',
      to: { kind: 'wire', wire: 'w', universe: 0 },
      size: 512,
      mostPerSecond: 44,
      mode: 'latest',
      keepAlive: 800,
      safe: { then: 'dark', afterMs: 4000, overMs: 1000 },
      rest: null,
    },
  ],
};
const changed = (change: object): string => JSON.stringify({ ...outlets, ...change });
const stream = (change: object): string => changed({ streams: [{ ...outlets.streams[0], ...change }] });

describe('messages of a driver', () => {
  it('are taken when every field is right', () => {
    const hello = { type: 'hello', protocol: 2, lease: 'abcdefgh', take: false };
    expect(parseFromDriver(JSON.stringify(hello))).toEqual(hello);
    expect(parseFromDriver(JSON.stringify(outlets))).toEqual(outlets);
  });
  it.each([
    ['too long', 'x'.repeat(MOST_TEXT_BYTES + 1)],
    ['a number', '3'],
    ['null', 'null'],
    ['a list', '[]'],
    ['of no type', '{}'],
    ['with a short lease', '{"type":"hello","protocol":2,"lease":"a","take":false}'],
    ['with a numeric text', '{"type":"hello","protocol":"2","lease":"abcdefgh","take":false}'],
    [
      'with a host that is a path',
      changed({ wires: [{ id: 'w', target: { kind: 'network', host: 'a/b', port: 1 } }] }),
    ],
    ['with a badge that is no hash', changed({ overlays: [{ ...overlay, badge: '../x' }] })],
    [
      'with too many numbers',
      changed({ overlays: [{ ...overlay, parameters: [{ id: 'p', rest: [1, 2, 3, 4] }] }] }),
    ],
    ['with a stream without end', stream({ size: 1e9 })],
    ['with a stream that goes nowhere', stream({ to: { kind: 'moon' } })],
    ['with a safe state of its own making', stream({ safe: { then: 'glow' } })],
    ['with too many streams', changed({ streams: Array(513).fill(outlets.streams[0]) })],
  ])('are refused when they are %s', (_, text) => {
    expect(parseFromDriver(text).type).toBe('bad');
  });
});

describe('overlays from a file', () => {
  it('are taken when they are whole, and not at all when they are not', () => {
    expect(parseOverlays([overlay])).toEqual([overlay]);
    for (const broken of [null, {}, 'x', [null], [{ id: 'a' }], [{ ...overlay, parameters: 'x' }]])
      expect(parseOverlays(broken)).toBeNull();
  });
});

describe('binary frames', () => {
  const streams = [
    { size: 512, mode: 'latest' },
    { size: 4 * EVENT_BYTES, mode: 'ordered' },
  ] as const;
  const frame = (kind: number, place: number, size: number): Uint8Array => {
    const bytes = new Uint8Array(FRAME_HEAD + size);
    writeHead(new DataView(bytes.buffer), kind, 0, place, 1, 0);
    return bytes;
  };
  it('fit the stream that they name, in kind and size', () => {
    const fits = (kind: number, place: number, size: number): boolean =>
      isDriverFrame(frame(kind, place, size), streams);
    expect([
      fits(FRAME_VALUE, 0, 512),
      fits(FRAME_VALUE, 0, 511),
      fits(FRAME_VALUE, 0, 513),
      fits(FRAME_VALUE, 1, 4 * EVENT_BYTES),
      fits(FRAME_VALUE, 2, 512),
      fits(FRAME_EVENTS, 1, EVENT_BYTES),
      fits(FRAME_EVENTS, 1, EVENT_BYTES + 1),
      fits(FRAME_EVENTS, 1, 5 * EVENT_BYTES),
      fits(FRAME_EVENTS, 1, 0),
      fits(FRAME_EVENTS, 0, 512),
      fits(77, 0, 512),
      isDriverFrame(new Uint8Array(0), streams),
      isDriverFrame(Uint8Array.of(FRAME_BEAT), streams),
      isDriverFrame(Uint8Array.of(FRAME_BEAT, 0), streams),
    ]).toEqual([
      true,
      false,
      false,
      false,
      false,
      true,
      false,
      false,
      false,
      false,
      false,
      false,
      true,
      false,
    ]);
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
