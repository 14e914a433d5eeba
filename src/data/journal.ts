import { again, type History, type HistoryStep } from '../core/show';

/**
 * What was done since the show was last saved, written at once: the store takes its time, and a page may go without a word. Kept in
 * the browser's own small store, because that is written before the call returns.
 */
const KEY = 'batucada-unsaved';

interface Unsaved {
  readonly id: string;
  /** When the show that the steps lead on from was saved; 0 when it never was. */
  readonly from: number;
  readonly steps: readonly HistoryStep[];
}

export class Journal {
  #id = '';
  #from = 0;
  #steps: string[] = [];

  /** Another show, or another beginning of it. @param savedAt - when it was last saved */
  begin(id: string, savedAt: number): void {
    this.#id = id;
    this.#from = savedAt;
    this.#steps = [];
    write('');
  }
  note(step: HistoryStep): void {
    this.#steps.push(JSON.stringify(step));
    this.#write();
  }
  /** How many steps were noted so far; what is saved covers them. */
  get length(): number {
    return this.#steps.length;
  }
  /** The show was saved with its first so many steps. */
  saved(savedAt: number, steps: number): void {
    this.#from = savedAt;
    this.#steps = this.#steps.slice(steps);
    this.#write();
  }
  #write(): void {
    write(
      this.#steps.length === 0
        ? ''
        : `{"id":${JSON.stringify(this.#id)},"from":${this.#from},"steps":[${this.#steps.join()}]}`,
    );
  }
}

function write(text: string): void {
  try {
    if (text) localStorage.setItem(KEY, text);
    else localStorage.removeItem(KEY);
  } catch {
    // An edit too large for it: the next save, within the second, has it.
    try {
      localStorage.removeItem(KEY);
    } catch {
      /* there is none at all */
    }
  }
}

/** A kept history with what was done to it and not saved any more. @param savedAt - of the kept show */
export function withUnsaved(history: History, savedAt: number): History {
  try {
    const unsaved = JSON.parse(localStorage.getItem(KEY) ?? 'null') as Unsaved | null;
    if (unsaved?.id !== history.show.id || unsaved.from !== savedAt) return history;
    return unsaved.steps.reduce(again, history);
  } catch {
    return history;
  }
}
