/**
 * A stretch of a night in real time, in the running application: cues are taken, masters moved, and how the machine stands is looked at
 * every ten seconds. `--minutes=N` says how long; an hour unless it does.
 */
import type { Page } from 'puppeteer-core';
import { playFerry, startServer, until, visit } from '../../e2e/support';
import { Word } from '../../src/engine/memory/control';
import type { MeasureHandle } from '../../src/ui/state/session';

const LOOK_EVERY_MS = 10_000;

export interface Hour {
  readonly minutes: number;
  /** Blocks of sound that were not worked on. */
  readonly lost: number;
  /** The page’s own heap (its workers’ are not told): the last fifth against the second. */
  readonly memory: number;
  /** Acts that were done, and lines that the log has of them. */
  readonly acts: number;
  readonly logged: number;
  /** The sound's position against the clock, at most, in milliseconds, against how it stood at the beginning. */
  readonly drift: number;
}

const handle = (page: Page): Promise<{ lost: number; ticks: number; heap: number }> =>
  page.evaluate(
    (lost, ticks) => {
      const m = (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure,
        memory = (performance as unknown as { memory?: { usedJSHeapSize: number } }).memory;
      return { lost: m.word(lost), ticks: m.word(ticks), heap: memory?.usedJSHeapSize ?? NaN };
    },
    Word.Lost as number,
    Word.Ticks as number,
  );

export async function measureHour(minutes: number): Promise<Hour> {
  const server = await startServer(),
    v = await visit(server.url, { autoplay: true }),
    { page } = v;
  try {
    await playFerry(page);
    await page.keyboard.press('6');
    await until('the night', () => page.$('[aria-label=Next]'));
    await page.evaluate(
      (lost) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.clear(lost),
      Word.Lost as number,
    );
    const began = performance.now(),
      first = await handle(page),
      heaps: number[] = [];
    let acts = 0,
      drift = 0,
      rate = NaN;
    while (performance.now() - began < minutes * 60_000) {
      await page.keyboard.press(acts % 8 === 7 ? 'Home' : 'Space');
      acts++;
      await new Promise((r) => setTimeout(r, LOOK_EVERY_MS));
      const now = await handle(page),
        at = (performance.now() - began) / 1000,
        ticks = now.ticks - first.ticks;
      heaps.push(now.heap);
      // A tick is a hop of 256 frames at 48 kHz, by the sound device's own clock.
      const late = at - (ticks * 256) / 48000;
      if (rate !== rate) rate = late;
      drift = Math.max(drift, Math.abs(late - rate) * 1000);
    }
    const { lost } = await handle(page),
      fifth = Math.max(1, Math.floor(heaps.length / 5)),
      mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
    const logged = await until('the log', () =>
      page.evaluate(
        (wanted) =>
          new Promise<number | null>((done) => {
            const opening = indexedDB.open('batucada');
            opening.onerror = () => done(null);
            opening.onsuccess = () => {
              const all = opening.result.transaction('log').objectStore('log').getAll();
              all.onsuccess = () => {
                const lines = (all.result as { kind: string; what: string }[]).filter(
                  (l) => l.kind === 'act' && /^(go|home)$/.test(l.what),
                ).length;
                opening.result.close();
                done(lines >= wanted ? lines : null);
              };
              all.onerror = () => done(null);
            };
          }),
        acts,
      ),
    ).catch(() => 0);
    return {
      minutes,
      lost,
      memory: mean(heaps.slice(-fifth)) / mean(heaps.slice(fifth, 2 * fifth)),
      acts,
      logged,
      drift,
    };
  } finally {
    await v.close();
    await server.stop();
  }
}
