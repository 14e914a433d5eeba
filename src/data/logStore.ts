import Dexie from 'dexie';
import type { LogLine } from '../core/log';
import { db, keep } from './database';

/** So many nights are kept. */
const NIGHTS_MOST = 60;
const HOURS_12 = 12 * 3600 * 1000;

/** The night that a moment belongs to: from noon to noon, by the day on which it began, as 2026-11-28 in local time. */
export function nightOf(at: number): string {
  const d = new Date(at - HOURS_12),
    two = (n: number): string => String(n).padStart(2, '0');
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
}

/** Keeps lines behind those that are kept. @throws KeepError */
export async function keepLines(lines: readonly LogLine[]): Promise<void> {
  await keep(() => db().log.bulkAdd(lines.map((l) => ({ ...l, night: nightOf(l.at) }))));
}
/** The nights that there are, the newest first. */
export async function keptNights(): Promise<string[]> {
  const nights = await db().log.orderBy('night').uniqueKeys();
  return nights.map(String).reverse();
}
/** A night's lines in their order, and the number of the last of them: from there it is read on. @param after - only those after this */
export async function linesOf(
  night: string,
  after = 0,
): Promise<{ readonly lines: LogLine[]; readonly last: number }> {
  const kept = await db()
    .log.where('[night+n]')
    .between([night, after], [night, Dexie.maxKey], false)
    .toArray();
  return {
    lines: kept.map(({ n: _n, night: _night, ...line }) => line),
    last: kept.at(-1)?.n ?? after,
  };
}
/** Lets go of the oldest nights. */
export async function dropOldNights(): Promise<void> {
  const nights = await keptNights();
  for (const night of nights.slice(NIGHTS_MOST)) await db().log.where('night').equals(night).delete();
}
