/** Pairs what was found with what is true. */

export interface Tally {
  tp: number;
  fp: number;
  fn: number;
  /** How long after its truth each was known, and by how much its time is off, in seconds. */
  readonly late: number[];
  readonly off: number[];
}
export const tally = (): Tally => ({ tp: 0, fp: 0, fn: 0, late: [], off: [] });
export function add(to: Tally, m: Tally): void {
  to.tp += m.tp;
  to.fp += m.fp;
  to.fn += m.fn;
  to.late.push(...m.late);
  to.off.push(...m.off);
}

/** Pairs found with true onsets, each once, nearest first within the tolerance. Those near a faint note are neither right nor wrong. */
export function match(
  found: readonly (readonly number[])[],
  truth: readonly number[],
  faint: readonly number[],
  tolerance: number,
): Tally {
  const pairs: [number, number, number][] = [];
  found.forEach(([t], i) =>
    truth.forEach((x, k) => {
      const d = Math.abs(t! - x);
      if (d <= tolerance) pairs.push([d, i, k]);
    }),
  );
  pairs.sort((a, b) => a[0] - b[0]);
  const usedF = new Set<number>(),
    usedT = new Set<number>(),
    late: number[] = [],
    off: number[] = [];
  for (const [, i, k] of pairs) {
    if (usedF.has(i) || usedT.has(k)) continue;
    usedF.add(i);
    usedT.add(k);
    late.push(found[i]![1]! - truth[k]!);
    off.push(found[i]![0]! - truth[k]!);
  }
  const fp = found.filter(
    ([t], i) => !usedF.has(i) && !faint.some((x) => Math.abs(x - t!) < tolerance),
  ).length;
  return { tp: usedF.size, fp, fn: truth.length - usedT.size, late, off };
}

type Counts = Pick<Tally, 'tp' | 'fp' | 'fn'>;
export const fOf = ({ tp, fp, fn }: Counts): number => (2 * tp) / Math.max(1, 2 * tp + fp + fn);
export const precisionOf = ({ tp, fp }: Counts): number => tp / Math.max(1, tp + fp);
export const recallOf = ({ tp, fn }: Counts): number => tp / Math.max(1, tp + fn);
