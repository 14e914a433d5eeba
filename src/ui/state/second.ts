'use client';
import { useEffect } from 'react';
import { create } from 'zustand';
import { secondUrl } from '../../core/protocols';
import { seedOf } from '../../core/random';
import { type Memory, parseMemory, type Show } from '../../core/show';
import { getSetting, setSetting } from '../../data/database';
import type { StandbyDrove } from '../../engine/outlets/secondLink';
import { currentShow, followMemory, memoryNow, theEngine, useSession } from './session';

const SETTING = 'first-computer';
/** Those that stand by are told no more often than this. */
const TELL_EVERY_MS = 200,
  /** And so often of where the sound is, though nothing else became different. */
  PLACE_EVERY_MS = 5000;
/** All that is told but the place in the sound, which always moves. */
const held = (memory: Memory): string => JSON.stringify({ ...memory, position: 0 });

/** The computer that this one stands by for: its address, and what show it has; null: none. */
export const useFirst = create<{
  readonly address: string | null;
  readonly name: string | null;
  /** Whether it has the same show, to the last edit. */
  readonly same: boolean;
}>(() => ({ address: null, name: null, same: true }));

let edition: { readonly show: Show; readonly word: string } | null = null;
/** A word for what a show is made of: two that are alike have the same. */
function editionOf(show: Show): string {
  if (edition?.show !== show) {
    const text = JSON.stringify(show);
    edition = { show, word: `${text.length}-${seedOf(text)}` };
  }
  return edition.word;
}

/** What is kept on this machine: for whom it stands by, and that it drove in its place. */
interface Kept {
  readonly address: string;
  readonly drove: StandbyDrove | null;
}
const keep = (kept: Kept | null): Promise<void> => setSetting(SETTING, kept).catch(() => undefined);

/** Stands by for another computer, by the address that it shows for that; null: for none. Kept on this machine. */
export async function standBy(address: string | null, drove: StandbyDrove | null = null): Promise<void> {
  useFirst.setState({ address, name: null, same: true });
  theEngine()?.standBy(address === null ? null : secondUrl(address), drove);
  await keep(address === null ? null : { address, drove });
}

/** Tells the computers that stand by how everything stands, and follows the first where this one stands by. */
export function useSecondComputer(): void {
  const running = useSession((s) => s.phase === 'running');
  useEffect(() => {
    if (!running) return;
    void getSetting<Kept | null>(SETTING, null).then((kept) => {
      if (kept) void standBy(kept.address, kept.drove);
    });
    let waiting: ReturnType<typeof setTimeout> | null = null;
    let told = '',
      toldAt = 0,
      followed = '';
    const tell = (): void => {
      waiting = null;
      const show = currentShow(),
        memory = memoryNow(),
        text = held(memory),
        now = performance.now();
      // Told again, a fade would begin again where it was then.
      if (text === told && now - toldAt < PLACE_EVERY_MS) return;
      told = text;
      toldAt = now;
      theEngine()?.tellSeconds({
        type: 'standing',
        name: show.name,
        edition: editionOf(show),
        memory,
      });
    };
    const stop = useSession.subscribe((now, before) => {
      if (now.standing && now.standing !== before.standing) {
        const { name, edition: theirs, memory: raw } = now.standing,
          memory = parseMemory(raw);
        useFirst.setState({ name, same: theirs === editionOf(currentShow()) });
        if (memory) {
          const text = held(memory);
          followMemory(memory, text !== followed);
          followed = text;
        }
      }
      // Loaded anew while the first is gone, it must not wait for it.
      const { standby } = now.outlets ?? {},
        { address } = useFirst.getState();
      // Not heard yet, it may be gone still.
      if (
        address !== null &&
        standby &&
        standby !== before.outlets?.standby &&
        (standby.heard || standby.state === 'drives')
      )
        void keep({ address, drove: standby.state === 'drives' ? { armed: standby.armed } : null });
      // Whatever is performed changes one of these; where the sound is, is told with the next report.
      if ((now.outlets?.seconds ?? 0) > 0 && now !== before) waiting ??= setTimeout(tell, TELL_EVERY_MS);
    });
    return () => {
      stop();
      if (waiting) clearTimeout(waiting);
    };
  }, [running]);
}
