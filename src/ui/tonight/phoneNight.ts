'use client';
import { useEffect } from 'react';
import { PHONE_THINGS_MOST, type PhoneNight, type PhoneShown } from '../../core/protocols';
import { findParameter, parameterKey, type PhoneDeed, type PhoneThing } from '../../core/show';
import { cueWords, deedWords, phoneThings } from '../../core/stage';
import { live } from '../live/live';
import { type Session, theEngine, useSession } from '../state/session';

/** Phones are told no more often than this. */
const TELL_EVERY_MS = 60;

function nightOf({ history: { show }, stage, dark, freeze, hands }: Session): PhoneNight {
  const nameOf = (id: string | null): string | null => {
      const cue = show.cues.find((c) => c.id === id);
      return cue ? cueWords(cue).slice(0, 400) : null;
    },
    look = show.looks.find((l) => l.id === stage.look),
    cue = show.cues.find((c) => c.id === stage.cue),
    next = show.cues.find((c) => c.id === stage.next);
  const standsOf = (deed: PhoneDeed): number => {
    switch (deed.do) {
      case 'dark':
        return Number(dark);
      case 'freeze':
        return Number(freeze);
      case 'look':
        return Number(deed.look === stage.look);
      case 'cue':
        return Number(deed.cue === stage.cue);
      case 'master':
        return stage.masters[deed.master] ?? 1;
      case 'hand': {
        const found = findParameter(show, deed)?.parameter,
          key = parameterKey(deed);
        if (found?.kind !== 'number') return 0;
        const now = hands[key]?.[0] ?? live.parameter(key);
        return now === now ? Math.min(1, Math.max(0, (now - found.min) / (found.max - found.min))) : 0;
      }
      default:
        return 0;
    }
  };
  const shown = ({ id, deed, size }: PhoneThing): PhoneShown => ({
    id,
    deed,
    size,
    label: deed.do === 'go' ? 'Go' : deedWords(deed, show).slice(0, 80),
    note:
      deed.do !== 'go'
        ? ''
        : next
          ? `${nameOf(next.id)}\n${next.note}`.slice(0, 400)
          : 'that was the last one',
    stands: standsOf(deed),
    able: deed.do !== 'go' || next !== undefined,
  });
  return {
    name: show.name,
    now: look && cue?.look !== look.id ? look.name : nameOf(stage.cue),
    things: phoneThings(show).slice(0, PHONE_THINGS_MOST).map(shown),
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
          now.hands !== before.hands ||
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
