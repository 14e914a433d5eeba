/**
 * One engine at a time: the window that holds this lock runs the show; others wait, or take it over when told to.
 * The lock goes with the window, however it ends.
 */
const NAME = 'batucada-engine';

export interface Seat {
  /** Gives the seat up. */
  leave(): void;
}

/**
 * @param seated - called when this window may run the show
 * @param lost - called when another window has taken it over
 * @param take - true to take it from whoever has it
 */
export function standForEngine(seated: () => void, lost: () => void, take = false): Seat {
  let leave: () => void = () => undefined;
  const done = new Promise<void>((resolve) => {
    leave = resolve;
  });
  const stop = new AbortController();
  let sitting = false;
  navigator.locks
    .request(NAME, take ? { steal: true } : { signal: stop.signal }, async () => {
      sitting = true;
      seated();
      await done;
    })
    .catch(() => {
      if (sitting) lost();
    });
  return {
    leave: () => {
      sitting = false;
      stop.abort();
      leave();
    },
  };
}
