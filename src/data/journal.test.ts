import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { ferryShow } from '../core/ferry';
import {
  apply,
  changeShaping,
  type History,
  lastStep,
  muteRoute,
  newHistory,
  redo,
  seal,
  setRest,
  undo,
} from '../core/show';
import { Journal, withUnsaved } from './journal';

const hash = '0'.repeat(64);
const show = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});

/** The browser's small store, as far as the journal uses it. */
class Small {
  readonly kept = new Map<string, string>();
  full = false;
  getItem(key: string): string | null {
    return this.kept.get(key) ?? null;
  }
  setItem(key: string, value: string): void {
    if (this.full) throw new Error('QuotaExceededError');
    this.kept.set(key, value);
  }
  removeItem(key: string): void {
    this.kept.delete(key);
  }
}
let small: Small;
beforeEach(() => {
  small = new Small();
  Object.assign(globalThis, { localStorage: small });
});
afterEach(() => {
  delete (globalThis as { localStorage?: unknown }).localStorage;
});

/** A session's edits, noted as they are made. */
function session(
  journal: Journal,
  from: History,
): { history: History; do(next: History): void; mark(next: History, step: 'undo' | 'redo' | 'seal'): void } {
  const s = {
    history: from,
    do(next: History): void {
      const step = lastStep(s.history, next);
      s.history = next;
      if (step) journal.note(step);
    },
    mark(next: History, step: 'undo' | 'redo' | 'seal'): void {
      s.history = next;
      journal.note({ step });
    },
  };
  return s;
}
const plain = ({ show, past, future }: History): object => ({ show, past, future });

describe('what was not saved any more', () => {
  it('is there again: edits, a whole drag, undo and redo, as if it had been saved', () => {
    const journal = new Journal(),
      base = newHistory(show);
    journal.begin(show.id, 7);
    const s = session(journal, base);
    s.do(apply(s.history, 'mute', muteRoute('route-1', true)));
    for (let i = 1; i <= 30; i++)
      s.do(apply(s.history, 'amount', changeShaping('route-2', { amount: i / 30 }), 'drag'));
    s.mark(seal(s.history), 'seal');
    s.do(apply(s.history, 'amount', changeShaping('route-2', { amount: 0.5 }), 'drag'));
    s.do(apply(s.history, 'move', setRest({ thing: 'ferry', parameter: 'height' }, 4)));
    s.mark(undo(s.history), 'undo');
    s.mark(undo(s.history), 'undo');
    s.mark(redo(s.history), 'redo');
    expect(plain(withUnsaved(base, 7))).toEqual(plain(s.history));
    expect(s.history.past.length).toBe(3);
  });
  it('ends with what was saved, and goes on from there', () => {
    const journal = new Journal(),
      base = newHistory(show);
    journal.begin(show.id, 7);
    const s = session(journal, base);
    s.do(apply(s.history, 'mute', muteRoute('route-1', true)));
    const steps = journal.length,
      saved = s.history;
    // While that is being written, the next is made.
    s.do(apply(s.history, 'mute', muteRoute('route-2', true)));
    journal.saved(8, steps);
    expect(plain(withUnsaved(saved, 8))).toEqual(plain(s.history));
    journal.saved(9, journal.length);
    expect(small.kept.size).toBe(0);
  });
  it('is left alone by another show, and by another saving of this one', () => {
    const journal = new Journal(),
      base = newHistory(show);
    journal.begin(show.id, 7);
    session(journal, base).do(apply(base, 'mute', muteRoute('route-1', true)));
    expect(withUnsaved(base, 8)).toBe(base);
    const other = newHistory({ ...show, id: 'other' });
    expect(withUnsaved(other, 7)).toBe(other);
  });
  it('is nothing where the store is full or damaged', () => {
    const journal = new Journal(),
      base = newHistory(show);
    journal.begin(show.id, 7);
    small.full = true;
    session(journal, base).do(apply(base, 'mute', muteRoute('route-1', true)));
    expect(withUnsaved(base, 7)).toBe(base);
    small.kept.set('batucada-unsaved', '{"id":');
    expect(withUnsaved(base, 7)).toBe(base);
  });
});
