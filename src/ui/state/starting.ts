'use client';

/**
 * A show that takes all of the browser's time cannot be closed, and would open by itself at the next start. So what is being
 * opened is noted before, and the note is taken away once the window answers: a note that is still there speaks of a show that did
 * not come to life.
 */
const KEY = 'batucada-starting';
/** A window that answered for so long is alive. */
const ALIVE_MS = 2500;

/** Whether this show was being opened when the window was last seen. Asked once: the next start tries again. */
export function didNotStart(id: string): boolean {
  const noted = localStorage.getItem(KEY);
  localStorage.removeItem(KEY);
  return noted === id;
}

let stop: (() => void) | null = null;
/** Notes that a show is being opened, until this window has shown that it lives. */
export function watchStart(id: string): void {
  stop?.();
  localStorage.setItem(KEY, id);
  const from = performance.now();
  let turned = 0,
    last = from;
  const alive = (): void => {
    clearInterval(timer);
    removeEventListener('pagehide', left);
    localStorage.removeItem(KEY);
    stop = null;
  };
  // Turns that come in time; a window that hangs between them has not come to life yet.
  const timer = setInterval(() => {
    const now = performance.now();
    turned = now - last < 1500 ? turned + now - last : 0;
    last = now;
    if (turned > ALIVE_MS) alive();
  }, 250);
  // Whoever leaves a window that answers, leaves by choice.
  const left = (): void => {
    if (performance.now() - last < 1500) alive();
  };
  addEventListener('pagehide', left);
  stop = alive;
}
