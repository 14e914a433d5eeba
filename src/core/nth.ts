/** Which of a row of events count: every so many, beginning with one of them. */
export interface Nth {
  /** 1 for each; 2 for every second, … to {@link NTH_MOST}. */
  readonly every: number;
  /** The first that counts, from 0 to `every` − 1. */
  readonly from: number;
}
export const NTH_MOST = 1024;

/** @param n - the event's number, whole; it may be below 0 */
export function isNth(n: number, { every, from }: Nth): boolean {
  const rest = (n - from) % every;
  return rest === 0;
}
