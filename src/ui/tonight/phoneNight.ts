'use client';
import { useEffect } from 'react';
import { PHONE_LOOKS_MOST, PHONE_MASTERS_MOST, type PhoneNight } from '../../core/protocols';
import { mastersOf, cueWords } from '../../core/stage';
import { type Session, theEngine, useSession } from '../state/session';

/** Phones are told no more often than this. */
const TELL_EVERY_MS = 60;

function nightOf({ history: { show }, stage, dark, freeze }: Session): PhoneNight {
  const cueName = (id: string | null): string | null => {
      const cue = show.cues.find((c) => c.id === id);
      return cue ? cueWords(cue).slice(0, 400) : null;
    },
    look = show.looks.find((l) => l.id === stage.look),
    cue = show.cues.find((c) => c.id === stage.cue);
  // Those on keys first: they are meant to be taken at any time.
  const looks = [...show.looks.filter((l) => l.key !== null), ...show.looks.filter((l) => l.key === null)];
  return {
    name: show.name,
    now: look && cue?.look !== look.id ? look.name : cueName(stage.cue),
    next: cueName(stage.next),
    note: show.cues.find((c) => c.id === stage.next)?.note ?? '',
    looks: looks.slice(0, PHONE_LOOKS_MOST).map((l) => ({ id: l.id, name: l.name, on: l.id === stage.look })),
    masters: mastersOf(show)
      .slice(0, PHONE_MASTERS_MOST)
      .map(({ id, label }) => ({ id, label: label.slice(0, 80), value: stage.masters[id] ?? 1 })),
    dark,
    freeze,
  };
}

/** Keeps phones told of the night, whatever place this window shows. */
export function usePhonesTold(): void {
  useEffect(() => {
    let told = '',
      by: unknown = null,
      waiting: ReturnType<typeof setTimeout> | null = null;
    const tell = (): void => {
      waiting = null;
      const engine = theEngine();
      if (!engine) return;
      const night = nightOf(useSession.getState()),
        text = JSON.stringify(night);
      if (text === told && engine === by) return;
      told = text;
      by = engine;
      engine.showPhones(night);
    };
    tell();
    const stop = useSession.subscribe((now, before) => {
      if (
        waiting === null &&
        (now.stage !== before.stage ||
          now.history.show !== before.history.show ||
          now.dark !== before.dark ||
          now.freeze !== before.freeze)
      )
        waiting = setTimeout(tell, TELL_EVERY_MS);
    });
    return () => {
      stop();
      if (waiting) clearTimeout(waiting);
    };
  }, []);
}
