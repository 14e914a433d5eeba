import type { Milliseconds } from '../units';
import { LINE_KINDS, type LineKind, type LogLine } from './line';

/** ms since 1970 as ISO 8601 has it: whoever has a clock can say it. */
export type Iso = (at: Milliseconds) => string;

/** Lines as JSON, one each, with their time as ISO 8601 beside it. */
export function logAsJsonLines(lines: readonly LogLine[], iso: Iso): string {
  return lines.map((l) => `${JSON.stringify({ time: iso(l.at), ...l })}\n`).join('');
}

const COLUMNS = ['time', 'kind', 'who', 'what', 'number'] as const;
/** The same as a table (RFC 4180). A cell that a spreadsheet would take for a formula is quoted as text. */
export function logAsCsv(lines: readonly LogLine[], iso: Iso): string {
  const rows = lines.map((l) => [iso(l.at), l.kind, l.who, l.what, l.number ?? ''].map(cell).join());
  return [COLUMNS.join(), ...rows, ''].join('\r\n');
}
function cell(value: string | number): string {
  if (typeof value === 'number') return String(value);
  const text = /^[=+@\t\r-]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** What a night was, in numbers. */
export interface NightSummary {
  readonly from: number;
  readonly to: number;
  readonly counts: Readonly<Record<LineKind, number>>;
  /** Faults that were not mended when the log ends. */
  readonly open: number;
  /** In dBFS; NaN where nothing was heard. */
  readonly loudest: number;
}
export function summaryOf(lines: readonly LogLine[]): NightSummary {
  const counts = Object.fromEntries(LINE_KINDS.map((k) => [k, 0])) as Record<LineKind, number>;
  let loudest = NaN;
  for (const { kind, number } of lines) {
    counts[kind]++;
    if (kind === 'level' && number !== undefined && !(number <= loudest)) loudest = number;
  }
  return {
    from: lines[0]?.at ?? NaN,
    to: lines.at(-1)?.at ?? NaN,
    counts,
    open: Math.max(0, counts.fault - counts.mended),
    loudest,
  };
}
