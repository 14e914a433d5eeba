'use client';
import { useEffect } from 'react';
import { isTyped } from '../frame/typing';
import { currentShow, perform } from '../state/session';
import { setLocked, useView } from '../state/view';

const HELD_MS = 1000;

/** Keys of Tonight: letters take their looks; L locks, and opens when it is held. */
export function NightKeys() {
  useEffect(() => {
    let opening: ReturnType<typeof setTimeout> | null = null;
    const down = (e: KeyboardEvent): void => {
      if (e.repeat || e.ctrlKey || e.metaKey || e.altKey || isTyped(e)) return;
      const key = e.key.toLowerCase();
      if (key === 'l') {
        if (!useView.getState().locked) setLocked(true);
        else opening = setTimeout(() => setLocked(false), HELD_MS);
        return;
      }
      const look = currentShow().looks.find((l) => l.key === key);
      if (look) perform({ do: 'look', look: look.id });
    };
    const up = (): void => {
      if (opening) clearTimeout(opening);
      opening = null;
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', up);
    return () => {
      up();
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', up);
    };
  }, []);
  return null;
}
