/** A crowd of pages without browsers, in a process of its own: told where to look by its parent, tells it what came. */
import { WebSocket } from 'ws';
import { EVENT_BYTES, EVENTS_HEAD, FRAME_EVENTS, FRAME_HEAD, FRAME_VALUE } from '../../src/core/protocols';

export interface CrowdTask {
  /** Addresses, one for each page; others to go to when one is gone. */
  readonly urls: readonly string[];
  readonly others: readonly string[];
}
export interface CrowdSaid {
  readonly open: number;
  readonly frames: number;
  /** From when a frame was sent to when it came, in ms, of some of them. */
  readonly delays: readonly number[];
  /** Of the first page: numbers of the events that came, in their order. */
  readonly events: readonly number[];
  /** Longest time in which a page had nothing, in ms. */
  readonly longestGap: number;
}

let frames = 0,
  delays: number[] = [],
  events: number[] = [],
  longestGap = 0;
const sockets = new Set<WebSocket>();
const clock = (): number => performance.timeOrigin + performance.now();

function look(urls: readonly string[], first: boolean, at = 0): void {
  const socket = new WebSocket(urls[at % urls.length]!);
  let last = NaN;
  socket.on('open', () => sockets.add(socket));
  socket.on('error', () => undefined);
  socket.on('close', () => {
    sockets.delete(socket);
    setTimeout(() => look(urls, first, at + 1), 200);
  });
  socket.on('message', (data: Buffer, binary) => {
    if (!binary) return;
    const now = clock();
    if (data[0] === FRAME_VALUE) {
      frames++;
      if (last === last) longestGap = Math.max(longestGap, now - last);
      last = now;
      if (frames % 7 === 0) delays.push(now - data.readDoubleLE(8));
    } else if (data[0] === FRAME_EVENTS && first)
      for (let e = FRAME_HEAD + EVENTS_HEAD; e < data.length; e += EVENT_BYTES)
        events.push(data.readFloatLE(e + 12));
  });
}

process.on('message', (message: CrowdTask | 'tell') => {
  if (message === 'tell') {
    process.send!({ open: sockets.size, frames, delays, events, longestGap } satisfies CrowdSaid);
    frames = 0;
    delays = [];
    events = [];
    longestGap = 0;
    return;
  }
  message.urls.forEach((url, i) => setTimeout(() => look([url, ...message.others], i === 0), i * 4));
});
