import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import type { AddressInfo } from 'node:net';
import { WebSocket, WebSocketServer } from 'ws';
import { ferryShow } from '../../core/ferry';
import { Conductor } from '../../core/plan';
import {
  EVENT_BYTES,
  EVENTS_HEAD,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  type PageDocument,
  type ToPage,
  writeHead,
} from '../../core/protocols';
import { apply, newHistory, setRest, onSurface, WHOLE_PICTURE, type Show } from '../../core/show';
import { BridgePlan } from '../memory/bridgePlan';
import { FrameReader, FrameWriter, makeFrameMemory } from '../memory/frames';
import type { PICTURE_PARTS } from '../memory/messages';
import type { Changed } from '../memory/plan';
import { outletThings, overlayPages, picturePage, type Page } from './pages';
import { PageEvents, PageStream } from './pageStream';

const hash = '0'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const versioned = ({ document }: Page, version: number): PageDocument => ({ ...document, version });

/** A conductor's memory, with numbers of our own in it: each its own place, so that none can be mistaken for another. */
function memoryOf(show: Show): {
  readonly conductor: Conductor;
  readonly frames: FrameReader;
  write(): void;
} {
  const conductor = new Conductor();
  conductor.setShow(show);
  const writer = new FrameWriter(
      makeFrameMemory(conductor.signalCapacity, conductor.parameterCapacity, conductor.vectorCapacity, 1),
    ),
    frames = new FrameReader(writer.memory);
  let tick = 0;
  return {
    conductor,
    frames,
    write() {
      for (let i = 0; i < 2; i++) {
        tick++;
        writer.write(
          {
            signals: conductor.signals,
            counts: conductor.counts,
            parameters: Float32Array.from(conductor.parameters, (_, at) => at + tick / 8),
            preview: null,
            vectors: Float32Array.from(conductor.vectors, (_, at) => 10000 + at),
            previewVectors: null,
            version: 1,
            pictureTime: tick / 2,
            darkness: 0.25,
            curtain: 0.25,
            fade: 1,
            frozen: 0,
            blink: 0,
            blinkFrom: 0,
            bank: conductor.bank,
          },
          tick,
          tick,
        );
        frames.read();
        // Rows are written from the tick on after somebody wanted them.
        frames.readVectors();
      }
    },
  };
}

let server: WebSocketServer;
let before: unknown;
beforeEach(async () => {
  before = (globalThis as { WebSocket?: unknown }).WebSocket;
  // The very same interface, which this Node does not have by itself.
  Object.assign(globalThis, { WebSocket });
  server = new WebSocketServer({ host: '127.0.0.1', port: 0 });
  await new Promise((done) => server.once('listening', done));
});
afterEach(() => {
  for (const c of server.clients) c.terminate();
  server.close();
  Object.assign(globalThis, { WebSocket: before });
});
async function until(what: () => boolean): Promise<void> {
  for (const end = performance.now() + 6000; !what();) {
    if (performance.now() > end) throw new Error(`waited for ${what}`);
    await new Promise((r) => setTimeout(r, 2));
  }
}
type PicturePlan = BridgePlan<(typeof PICTURE_PARTS)[number]>;
/** A page that watches, and the bridge's end of its connection. */
async function watch(): Promise<{ plan: PicturePlan; end: WebSocket; changes: Changed[] }> {
  const changes: Changed[] = [],
    met = new Promise<WebSocket>((done) => server.once('connection', done));
  const plan: PicturePlan = new BridgePlan(`ws://127.0.0.1:${(server.address() as AddressInfo).port}/`, (c) =>
    changes.push(c),
  );
  return { plan, end: await met, changes };
}
const tell = (end: WebSocket, message: ToPage): void => end.send(JSON.stringify(message));
function put(end: WebSocket, kind: number, value: Uint8Array): void {
  const bytes = new Uint8Array(FRAME_HEAD + value.length);
  writeHead(new DataView(bytes.buffer), kind, 0, 1, 0);
  bytes.set(value, FRAME_HEAD);
  end.send(bytes);
}

describe('a page over the bridge', () => {
  it('reads the numbers that a reader beside the conductor reads, sums and rows included', async () => {
    const memory = memoryOf(ferry),
      map = memory.conductor.map(),
      page = picturePage(ferry, outletThings(ferry), map),
      document = versioned(page, 5),
      stream = new PageStream(document, page.moves);
    stream.place(map);
    memory.write();
    expect(stream.fill(memory.frames)).toBe(true);
    const { plan, end } = await watch();
    tell(end, { type: 'page', live: true, document });
    put(end, FRAME_VALUE, stream.value);
    await until(() => plan.frames?.read() === true);
    const { frames } = plan;
    const drawn = Object.entries(plan.map!.parameters);
    expect(drawn.length).toBeGreaterThan(80);
    for (const [key, at] of drawn)
      expect([key, frames!.parameters[at]]).toEqual([key, memory.frames.parameters[map.parameters[key]!]]);
    // All three numbers of a colour.
    for (let i = 0; i < 3; i++)
      expect(frames!.parameters[plan.map!.parameters['moon/ink']! + i]).toBe(
        memory.frames.parameters[map.parameters['moon/ink']! + i],
      );
    expect(plan.map!.parameters).toHaveProperty(['camera/pace:sum']);
    const [to, points] = plan.map!.vectors['gulls/rise']!,
      [from] = map.vectors['gulls/rise']!;
    expect([...frames!.vectors.subarray(to, to + points)]).toEqual([
      ...memory.frames.vectors.subarray(from, from + points),
    ]);
    expect([frames!.curtain, frames!.time]).toEqual([0.25, 2]);
    // Between two frames it goes on by itself, by a tenth of a second at most.
    expect(frames!.pictureTime).toBeGreaterThanOrEqual(1);
    expect(frames!.pictureTime).toBeLessThanOrEqual(1.1);
    expect(plan.show!.figures).toEqual(onSurface(ferry, WHOLE_PICTURE).figures);
    plan.leave();
  });

  it('keeps what an edit did not touch, and goes on with its numbers until new ones come', async () => {
    const memory = memoryOf(ferry),
      map = memory.conductor.map(),
      first = versioned(picturePage(ferry, outletThings(ferry), map), 5),
      stream = new PageStream(first, true);
    stream.place(map);
    memory.write();
    stream.fill(memory.frames);
    const { plan, end, changes } = await watch();
    tell(end, { type: 'page', live: true, document: first });
    put(end, FRAME_VALUE, stream.value);
    await until(() => plan.frames?.read() === true);
    const { finishes } = plan.show!,
      moon = plan.show!.figures.find((f) => f.id === 'moon'),
      number = plan.frames!.parameters[plan.map!.parameters['river/swell']!];
    const { show } = apply(newHistory(ferry), 'move', setRest({ thing: 'ferry', parameter: 'height' }, 5));
    const heard = changes.length;
    tell(end, {
      type: 'page',
      live: true,
      document: versioned(picturePage(show, outletThings(show), map), 6),
    });
    await until(() => changes.length > heard);
    expect(plan.show!.figures.find((f) => f.id === 'moon')).toBe(moon);
    expect(plan.show!.figures.find((f) => f.id === 'ferry')!.rest).toEqual({ height: 5 });
    expect(plan.show!.finishes).toBe(finishes);
    expect(plan.frames!.parameters[plan.map!.parameters['river/swell']!]).toBe(number);
    // Numbers of the document before belong to other places.
    put(end, FRAME_VALUE, stream.value);
    tell(end, { type: 'live', live: false });
    await until(() => !plan.live);
    expect(plan.frames!.read()).toBe(false);
    plan.leave();
  });

  it('shows what is at rest before anything came, holds while nobody drives, and comes back by itself', async () => {
    const things = outletThings(ferry),
      map = memoryOf(ferry).conductor.map(),
      [page] = overlayPages(ferry, things, map),
      document = versioned(page!, 3),
      own = ferry.overlays[0]!.id;
    const { plan, end } = await watch();
    tell(end, { type: 'page', live: false, document });
    await until(() => plan.frames !== null);
    expect([...plan.frames!.parameters]).toEqual(document.rest.map(Math.fround));
    expect(document.rest[plan.map!.parameters[`${own}/shown`]!]).toBe(100);
    const again = new Promise<WebSocket>((done) => server.once('connection', done));
    end.terminate();
    const second = await again;
    // A bridge that was started anew and knows nothing yet.
    tell(second, { type: 'page', live: false, document: null });
    tell(second, { type: 'live', live: true });
    await until(() => plan.live);
    expect(plan.frames).not.toBeNull();
    tell(second, { type: 'page', live: true, document: null });
    await until(() => plan.frames === null);
    plan.leave();
  });

  it('is told each event once, by the place of its number', async () => {
    const { conductor } = memoryOf(ferry),
      [page] = overlayPages(ferry, outletThings(ferry), conductor.map()),
      document = versioned(page!, 3),
      events = new PageEvents(document, page!.events!),
      key = 'frame-edge/spark';
    events.place(conductor.map());
    const { plan, end } = await watch();
    const heard: number[][] = [];
    plan.onArrival = (...event) => heard.push(event);
    tell(end, { type: 'page', live: true, document });
    await until(() => plan.frames !== null);
    events.take(conductor.map().parameters[key]!, 1.5, 40);
    events.take(conductor.map().parameters[key]! + 1, 1.75, 50); // something else
    events.take(conductor.map().parameters[key]!, 2, 60);
    expect(events.count).toBe(2);
    put(end, FRAME_EVENTS, events.value.subarray(0, EVENTS_HEAD + 2 * EVENT_BYTES));
    await until(() => heard.length > 0);
    const place = document.map.parameters[key]!;
    expect(heard).toEqual([
      [place, 1.5, 40],
      [place, 2, 60],
    ]);
    plan.leave();
  });
});

describe('a page’s stream', () => {
  it('of an overlay stands still while nothing moves; of the picture it goes on with the picture’s time', () => {
    const memory = memoryOf(ferry),
      map = memory.conductor.map(),
      things = outletThings(ferry),
      [overlay] = overlayPages(ferry, things, map),
      picture = picturePage(ferry, things, map);
    const still = {
      ...memory.frames,
      darkness: 0,
      pictureTime: 1,
      readVectors: () => true,
    } as unknown as FrameReader;
    const later = { ...still, pictureTime: 2 } as unknown as FrameReader;
    const moved = [overlay!, picture].map((page) => {
      const stream = new PageStream(versioned(page, 1), page.moves);
      stream.place(map);
      return [stream.fill(still), stream.fill(still), stream.fill(later)];
    });
    expect(moved).toEqual([
      [true, false, false],
      [true, false, true],
    ]);
  });
});
