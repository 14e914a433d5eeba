import type { Page } from 'puppeteer-core';
import type { MeasureHandle } from '../src/ui/state/session';
import { choose, enter, named, press, tap, until } from './support';

/** Walks through the interface by visible names, and counts: every press, every choice from a list, every file chooser, every entry is one. */
export class Walk {
  actions = 0;
  constructor(readonly page: Page) {}

  async press(name: string, role = 'button'): Promise<void> {
    this.actions++;
    await press(this.page, role, name);
  }
  /** Presses what a dialog of this name has under another; the page behind it may have the same. */
  async pressIn(dialog: string, name: string): Promise<void> {
    this.actions++;
    await named(this.page, 'dialog', dialog);
    await this.#mark(`“${name}” in “${dialog}”`, '[role=dialog] button', name);
  }
  /** Presses what matches the selector and says just this. */
  async #mark(what: string, selector: string, text: string): Promise<void> {
    await until(what, () =>
      this.page.$$eval(
        selector,
        (all, t) => {
          const found = all.find((e) => (e.textContent ?? '').trim() === t);
          document.querySelector('[data-walk]')?.removeAttribute('data-walk');
          found?.setAttribute('data-walk', 'here');
          return found !== undefined;
        },
        text,
      ),
    );
    await tap(this.page, '[data-walk=here]');
  }
  async key(key: 'Escape' | '1' | '2' | '3'): Promise<void> {
    this.actions++;
    await until(
      'nothing in the way',
      async () =>
        (await this.page.$('[role=menu],[role=listbox],[role=presentation].MuiModal-root')) === null,
    );
    await this.page.keyboard.press(key);
  }
  /** Opens a menu or a dialog, and presses what in it begins with this. */
  async menu(button: string, item: string): Promise<void> {
    await until(
      'no menu in the way',
      async () => (await this.page.$('[role=menu],[role=presentation].MuiModal-root')) === null,
    );
    await this.press(button);
    this.actions++;
    await this.#mark(`“${item}” in the menu of “${button}”`, '[role=menuitem]', item);
    await until('the menu closed', async () => (await this.page.$('[role=menu]')) === null);
  }
  /** Chooses files where pressing a thing opens the chooser; the press is counted by itself. */
  async files(open: () => Promise<void>, files: readonly string[]): Promise<void> {
    const chooser = this.page.waitForFileChooser();
    await open();
    this.actions++;
    await (await chooser).accept([...files]);
  }
  /** Chooses from a list: opening it is one, choosing another. */
  async choose(list: string, option: string): Promise<void> {
    this.actions += 2;
    await choose(this.page, list, option);
  }
  /** Types into a field. */
  async enter(field: string, value: string): Promise<void> {
    this.actions++;
    await enter(this.page, field, value);
  }

  /** Least and greatest of parameters' numbers over so many seconds. */
  measure(keys: readonly string[], seconds: number): Promise<(readonly [least: number, greatest: number])[]> {
    return this.page.evaluate(
      async (names, ms) => {
        const { batucadaMeasure: m } = window as unknown as { batucadaMeasure: MeasureHandle };
        const seen = names.map(() => [Infinity, -Infinity] as [number, number]),
          end = performance.now() + ms;
        while (performance.now() < end) {
          names.forEach((k, i) => {
            // One number, or one of a row: “figure/parameter#3”.
            const [key, member] = k.split('#') as [string, string?],
              x = member === undefined ? m.parameter(key) : (m.row(key)[Number(member)] ?? NaN);
            if (!Number.isFinite(x)) return;
            seen[i]![0] = Math.min(seen[i]![0], x);
            seen[i]![1] = Math.max(seen[i]![1], x);
          });
          await new Promise((r) => setTimeout(r, 20));
        }
        return seen;
      },
      [...keys],
      seconds * 1000,
    );
  }
}
