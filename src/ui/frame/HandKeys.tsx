'use client';
import { useEffect } from 'react';
import { currentShow, theEngine, touchMaker } from '../state/session';
import { isTyped } from './typing';

/** Letters that press a button of the show, for as long as they are held. */
export function HandKeys() {
  useEffect(() => {
    const held = new Set<string>();
    const of = (key: string): readonly string[] =>
      currentShow()
        .makers.filter((m) => m.making.kind === 'button' && m.making.key === key)
        .map((m) => m.id);
    const gripped = (key: string): boolean =>
      currentShow().grips.some(({ touch }) => touch.by === 'key' && touch.key === key);
    const release = (key: string): void => {
      for (const id of of(key)) touchMaker(id, 0);
      if (gripped(key)) theEngine()?.moved({ by: 'key', key, down: false });
    };
    const down = (e: KeyboardEvent): void => {
      if (e.repeat || e.ctrlKey || e.metaKey || e.altKey || isTyped(e)) return;
      const key = e.key.toLowerCase();
      for (const id of of(key)) {
        held.add(key);
        touchMaker(id, 1);
      }
      if (gripped(key)) {
        held.add(key);
        theEngine()?.moved({ by: 'key', key, down: true });
      }
    };
    const up = (e: KeyboardEvent): void => {
      const key = e.key.toLowerCase();
      if (held.delete(key)) release(key);
    };
    // A key that goes up in another window is never heard of.
    const leave = (): void => {
      for (const key of held) release(key);
      held.clear();
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', leave);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', leave);
    };
  }, []);
  return null;
}
