import { spawn } from 'node:child_process';
import type { KeyInput } from 'puppeteer-core';
import { playFerry, startServer, visit } from '../../e2e/support';
import { Word } from '../../src/engine/memory/control';
import type { MeasureHandle } from '../../src/ui/state/session';

export interface NoCard {
  readonly place: string;
  readonly busy: boolean;
  /** Pictures a second, second by second after the change of place. */
  readonly rates: readonly number[];
  readonly lost: number;
  readonly longestGapMs: number;
}
const SECONDS = 8;
const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

/**
 * The demo on a machine without a graphics card, alone and with another program that keeps one core busy; the last with no picture at
 * all, which is what the sound would have then.
 */
export async function measureNoCard(): Promise<readonly NoCard[]> {
  const server = await startServer();
  const v = await visit(server.url, { autoplay: true });
  const all: NoCard[] = [];
  const ask = <T>(run: (m: MeasureHandle, arg: number) => T, arg = 0): Promise<T> =>
    v.page.evaluate(`(${run.toString()})(window.batucadaMeasure, ${arg})`) as Promise<T>;
  const watch = async (place: string, key: KeyInput, busy: boolean): Promise<void> => {
    await v.page.keyboard.press(key);
    await ask((m, w) => m.clear(w as never), Word.Lost);
    await ask((m, w) => m.clear(w as never), Word.LongestGap);
    const rates: number[] = [];
    for (let i = 0; i < SECONDS; i++) {
      await pause(1000);
      rates.push(await ask((m) => m.picture().rate));
    }
    all.push({
      place,
      busy,
      rates,
      lost: await ask((m, w) => m.word(w as never), Word.Lost),
      longestGapMs: (await ask((m, w) => m.word(w as never), Word.LongestGap)) / 10,
    });
  };
  try {
    await playFerry(v.page);
    await pause(3000);
    await watch('Picture', '3', false);
    await watch('Route', '2', false);
    await watch('Picture again', '3', false);
    const other = spawn(process.execPath, ['-e', 'for(;;);'], { stdio: 'ignore' });
    try {
      await watch('Picture', '3', true);
      await watch('Overlays, without a picture', '5', true);
    } finally {
      other.kill();
    }
    return all;
  } finally {
    await v.close();
    await server.stop();
  }
}
