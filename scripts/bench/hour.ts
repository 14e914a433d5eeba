/**
 * A stretch of a night in real time, in the running application: cues are taken, and a lamp is moved by a message, every ten seconds;
 * how the machine stands is looked at each time. `--minutes=N` says how long; an hour unless it does.
 */
import { createSocket } from 'node:dgram';
import { readdirSync, readFileSync } from 'node:fs';
import type { CDPSession, Page } from 'puppeteer-core';
import { Node, wireTo } from '../../e2e/lampFaults';
import { playFerry, startServer, until, visit } from '../../e2e/support';
import type { Grip, Show } from '../../src/core/show';
import { BLOCK_FRAMES, Real, Word } from '../../src/engine/memory/control';
import type { MeasureHandle } from '../../src/ui/state/session';

const LOOK_EVERY_MS = 10_000,
  ANSWER_MS = 5000,
  /** All memory of browser and server is looked at so many times. */
  MEMORY_TIMES = 20,
  /** Where nothing else sends. */
  UNIVERSE = 40,
  FRAMES_A_TICK = 256,
  FRAMES_A_MS = 48;

export interface Hour {
  readonly minutes: number;
  /** Blocks of sound that were not worked on. */
  readonly lost: number;
  /** What there is in the last fifth against the second: the least that was on the heaps, and all memory that is resident. */
  readonly heap: number;
  readonly browser: number;
  readonly server: number;
  /** Acts that were done, and lines that the log has of them. */
  readonly acts: number;
  readonly logged: number;
  /** Messages after which the lamp stood still. */
  readonly unanswered: number;
  /** What the night's log tells of, in its words. */
  readonly faults: readonly string[];
  /** Sound that the device went without, in milliseconds: where there is none, a busy machine is late with its stand-in. */
  readonly missed: number;
  /** Ticks against the sound that there was, driven by the device or by the clock where that went without: at most, in milliseconds. */
  readonly drift: number;
  /** From a message to the lamp's packet, median of the last fifth against that of the second: more where something waits in a row. */
  readonly slower: number;
}

interface Stand {
  readonly lost: number;
  readonly missed: number;
  /** Milliseconds that the ticks are behind the sound that there was. */
  readonly behind: number;
}
const standOf = (page: Page): Promise<Stand> =>
  page.evaluate(
    (lost, ticks, blocks, missed, tickMs, blockMs) => {
      const m = (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure;
      return {
        lost: m.word(lost),
        missed: 1000 * m.real(missed),
        // What was lost is told by itself.
        behind: m.word(blocks) * blockMs - (m.word(ticks) + m.word(lost)) * tickMs,
      };
    },
    Word.Lost as number,
    Word.Ticks as number,
    Word.Blocks as number,
    Real.Missed as number,
    FRAMES_A_TICK / FRAMES_A_MS,
    BLOCK_FRAMES / FRAMES_A_MS,
  );

/** The ferry with one lamp more, alone on a wire of its own, which a message moves. */
function withProbe(show: Show, port: number): Show {
  const grip: Grip = {
    id: 'probe-grip',
    touch: { by: 'osc', address: '/probe', low: 0, high: 1 },
    deed: { do: 'hand', thing: 'probe', parameter: 'dimmer' },
    page: null,
    answers: false,
  };
  return {
    ...show,
    id: 'hour',
    fixtures: [
      ...show.fixtures,
      {
        id: 'probe',
        name: 'Probe',
        mode: 'rgb',
        universe: UNIVERSE,
        address: 1,
        rest: { dimmer: 0, colour: '#ffffff' },
      },
    ],
    grips: [...show.grips, grip],
    wires: [
      ...show.wires,
      {
        ...wireTo(port, { rate: 44, keepAlive: 800, safe: { then: 'hold' } }),
        id: 'probe-wire',
        universes: { from: UNIVERSE, to: UNIVERSE },
      },
    ],
  };
}

/** Resident bytes of a process and all that came from it. */
function residentOf(root: number): number {
  const parents = new Map<number, number>(),
    bytes = new Map<number, number>();
  for (const pid of readdirSync('/proc').map(Number).filter(Boolean))
    try {
      const status = readFileSync(`/proc/${pid}/status`, 'utf8');
      parents.set(pid, Number(/^PPid:\s+(\d+)/m.exec(status)?.[1]));
      bytes.set(pid, 1024 * Number(/^VmRSS:\s+(\d+)/m.exec(status)?.[1] ?? 0));
    } catch {
      // It ended meanwhile.
    }
  const isOf = (pid: number | undefined): boolean =>
    pid !== undefined && (pid === root || isOf(parents.get(pid)));
  return [...bytes].reduce((sum, [pid, b]) => (isOf(pid) ? sum + b : sum), 0);
}

/**
 * What a page and its workers have on their heaps, in bytes. Nothing is collected for it: that would hold up a thread that keeps time,
 * which would be taken for stopped.
 */
async function heapOf(page: Page, own: CDPSession): Promise<number> {
  let sum = 0;
  for (const client of [own, ...page.workers().map((w) => w.client)])
    sum += (await client.send('Runtime.getHeapUsage').catch(() => ({ usedSize: 0 }))).usedSize;
  return sum;
}

const least = (list: readonly number[]): number => Math.min(...list),
  mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length,
  median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1] ?? NaN;
/** The last fifth against the second, of whatever is asked of each. */
function growth(list: readonly number[], of: (part: readonly number[]) => number): number {
  const fifth = Math.max(1, Math.floor(list.length / 5));
  return of(list.slice(-fifth)) / of(list.slice(fifth, 2 * fifth));
}

interface Logged {
  readonly acts: number;
  readonly faults: readonly string[];
}
/** Waits for the lines of the log that tell of so many acts. */
const loggedOf = (page: Page, acts: number): Promise<Logged> =>
  until('the log', () =>
    page.evaluate(
      (wanted) =>
        new Promise<Logged | null>((done) => {
          const opening = indexedDB.open('batucada');
          opening.onerror = () => done(null);
          opening.onsuccess = () => {
            const all = opening.result.transaction('log').objectStore('log').getAll();
            all.onsuccess = () => {
              const lines = all.result as { kind: string; who?: string; what: string }[],
                went = lines.filter((l) => l.kind === 'act' && /^(go|home)$/.test(l.what)).length;
              opening.result.close();
              done(
                went < wanted
                  ? null
                  : {
                      acts: went,
                      faults: lines.filter((l) => l.kind === 'fault').map((l) => `${l.who}: ${l.what}`),
                    },
              );
            };
            all.onerror = () => done(null);
          };
        }),
      acts,
    ),
  ).catch(() => ({ acts: 0, faults: [] }));

export async function measureHour(minutes: number): Promise<Hour> {
  const server = await startServer(),
    v = await visit(server.url, { autoplay: true }),
    node = new Node(),
    udp = createSocket('udp4'),
    { page } = v;
  await node.open();
  try {
    await playFerry(page);
    const show = await page.evaluate(() =>
      (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.show(),
    );
    await page.evaluate(
      (s) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.open(s as Show),
      withProbe(show, node.port) as unknown as object,
    );
    await page.keyboard.press('6');
    await until('the night', () => page.$('[aria-label=Next]'));
    await until('the lamp', () => node.last !== undefined);
    const { host, port } = server.osc(),
      /** How long until the lamp has it, in milliseconds; NaN where it never came. */
      move = async (value: number): Promise<number> => {
        const message = Buffer.from('/probe\0\0,f\0\0\0\0\0\0', 'latin1');
        message.writeFloatBE(value, 12);
        const at = performance.now();
        udp.send(message, port, host);
        const packet = await until(
          `the lamp at ${value}`,
          () => node.seen.find((p) => p.at >= at && p.level === 255 * value),
          ANSWER_MS,
        ).catch(() => null);
        node.forget();
        return packet ? packet.at - at : NaN;
      };
    // A hand takes hold where the value stands.
    await move(0);
    await move(1);
    await page.evaluate(
      (lost) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.clear(lost),
      Word.Lost as number,
    );
    const own = await page.createCDPSession(),
      began = performance.now(),
      first = await standOf(page),
      heaps: number[] = [],
      browsers: number[] = [],
      servers: number[] = [],
      took: number[] = [];
    let acts = 0,
      unanswered = 0,
      drift = 0,
      nextMemory = 0;
    while (performance.now() - began < minutes * 60_000) {
      await page.keyboard.press(acts % 8 === 7 ? 'Home' : 'Space');
      const ms = await move(acts % 2);
      if (ms === ms) took.push(ms);
      else {
        unanswered++;
        // Whoever was begun anew takes hold where the value stands.
        await move(1 - (acts % 2));
        await move(acts % 2);
      }
      acts++;
      await new Promise((r) => setTimeout(r, LOOK_EVERY_MS));
      drift = Math.max(drift, Math.abs((await standOf(page)).behind - first.behind));
      heaps.push(await heapOf(page, own));
      if (performance.now() - began < nextMemory) continue;
      nextMemory += (minutes * 60_000) / MEMORY_TIMES;
      browsers.push(residentOf(v.browser.process()!.pid!));
      servers.push(residentOf(server.pid()));
    }
    const { lost, missed } = await standOf(page),
      log = await loggedOf(page, acts);
    return {
      minutes,
      lost,
      heap: growth(heaps, least),
      browser: growth(browsers, mean),
      server: growth(servers, mean),
      acts,
      logged: log.acts,
      unanswered,
      faults: log.faults,
      missed: missed - first.missed,
      drift,
      slower: growth(took, median),
    };
  } finally {
    udp.close();
    node.close();
    await v.close();
    await server.stop();
  }
}
