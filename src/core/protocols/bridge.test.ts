import { describe, expect, it } from '@jest/globals';
import { isDriverFrame, MOST_TEXT_BYTES, parseFromDriver } from './bridge';
import { FRAME_BEAT, FRAME_EVENTS, FRAME_HEAD, FRAME_PACKET, FRAME_VALUE, writeHead } from './frameKinds';
import { EVENT_BYTES, EVENTS_HEAD } from './pages';
import { parseDocuments, parseFromPage } from './pagesCheck';

const page = {
  id: 'overlay/a',
  version: 7,
  show: { overlays: [] },
  map: { parameters: { 'a/p': 0 }, vectors: { 'a/p': [0, 16] } },
  numbers: 1,
  points: 16,
  rest: [1],
  media: [],
  kept: true,
};
const pages = { type: 'pages', all: ['overlay/a'], documents: [page] };
const outlets = {
  type: 'outlets',
  version: 3,
  armed: true,
  wires: [
    {
      id: 'w',
      protocol: 'sacn',
      target: { kind: 'network', host: '10.0.0.5', port: 6454 },
      priority: 100,
      sync: false,
    },
  ],
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
      fates: null,
      calm: null,
    },
  ],
};
const changed = (change: object): string => JSON.stringify({ ...outlets, ...change });
const stream = (change: object): string => changed({ streams: [{ ...outlets.streams[0], ...change }] });

const withPage = (change: object): string =>
  JSON.stringify({ ...pages, documents: [{ ...page, ...change }] });

describe('messages of a driver', () => {
  it('are taken when every field is right', () => {
    const hello = { type: 'hello', protocol: 3, lease: 'abcdefgh', take: false };
    expect(parseFromDriver(JSON.stringify(hello))).toEqual(hello);
    for (const message of [outlets, pages]) expect(parseFromDriver(JSON.stringify(message))).toEqual(message);
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
    ['with a file that is no hash', withPage({ media: ['../x'] })],
    ['with a place that is none', withPage({ map: { parameters: { 'a/p': 0.5 }, vectors: {} } })],
    ['with a row that is none', withPage({ map: { parameters: {}, vectors: { 'a/p': [0] } } })],
    ['with a rest that is no number', withPage({ rest: ['1'] })],
    ['with more numbers than a frame can have', withPage({ numbers: 1e9 })],
    ['with too many pages', JSON.stringify({ ...pages, all: Array(102).fill('a') })],
    ['with a stream without end', stream({ size: 1e9 })],
    ['with a stream that goes nowhere', stream({ to: { kind: 'moon' } })],
    ['with a safe state of its own making', stream({ safe: { then: 'glow' } })],
    ['with too many streams', changed({ streams: Array(513).fill(outlets.streams[0]) })],
  ])('are refused when they are %s', (_, text) => {
    expect(parseFromDriver(text).type).toBe('bad');
  });
});

describe('pages from a file', () => {
  it('are taken when they are whole, and not at all when they are not', () => {
    expect(parseDocuments([page])).toEqual([page]);
    for (const broken of [null, {}, 'x', [null], [{ id: 'a' }], [{ ...page, show: 'x' }]])
      expect(parseDocuments(broken)).toBeNull();
  });
});

describe('binary frames', () => {
  const streams = [
    { size: 512, mode: 'latest', to: { kind: 'wire', wire: 'w', universe: 0 } },
    { size: EVENTS_HEAD + 4 * EVENT_BYTES, mode: 'ordered', to: { kind: 'page', page: 'p' } },
    { size: 16, mode: 'ordered', to: { kind: 'osc', target: { kind: 'simulated' } } },
  ] as const;
  const frame = (kind: number, place: number, size: number): Uint8Array => {
    const bytes = new Uint8Array(FRAME_HEAD + size);
    writeHead(new DataView(bytes.buffer), kind, place, 1, 0);
    return bytes;
  };
  it('fit the stream that they name, in kind and size', () => {
    const fits = (kind: number, place: number, size: number): boolean =>
      isDriverFrame(frame(kind, place, size), streams);
    expect([
      fits(FRAME_VALUE, 0, 512),
      fits(FRAME_VALUE, 0, 511),
      fits(FRAME_VALUE, 0, 513),
      fits(FRAME_VALUE, 1, EVENTS_HEAD + 4 * EVENT_BYTES),
      fits(FRAME_VALUE, 3, 512),
      fits(FRAME_EVENTS, 1, EVENTS_HEAD + EVENT_BYTES),
      fits(FRAME_EVENTS, 1, EVENTS_HEAD + EVENT_BYTES + 1),
      fits(FRAME_EVENTS, 1, EVENTS_HEAD + 5 * EVENT_BYTES),
      fits(FRAME_EVENTS, 1, EVENTS_HEAD),
      fits(FRAME_EVENTS, 0, 512),
      fits(FRAME_PACKET, 2, 16),
      fits(FRAME_PACKET, 2, 20),
      fits(FRAME_PACKET, 1, EVENTS_HEAD + 4 * EVENT_BYTES),
      fits(FRAME_VALUE, 2, 16),
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
      true,
      false,
      false,
      false,
      false,
      false,
      true,
      false,
    ]);
  });
});

describe('what a page says of itself', () => {
  const said = { type: 'seen', at: 5, name: 'x', picturesPerSecond: 60, delayMs: 4 };
  it('is taken whole, or not at all', () => {
    expect(parseFromPage(JSON.stringify(said))).toEqual(said);
    for (const bad of [
      '',
      '[]',
      'null',
      '{"type":"seen"}',
      JSON.stringify({ ...said, name: 'x'.repeat(99) }),
    ])
      expect(parseFromPage(bad)).toBeNull();
    expect(parseFromPage(JSON.stringify({ ...said, delayMs: -1 }))).toBeNull();
  });
});
