import { LETTERS_MOST, type LettersForm } from '../../core/figures';

/** One letter where it stands. Lengths in units of the size that it was measured at; x from the middle of the block, y of its foot up. */
export interface LaidLetter {
  readonly text: string;
  readonly x: number;
  readonly y: number;
  /** How far to its line's own next letter. */
  readonly wide: number;
  /** Which line of the text it belongs to, from 1, and how high that line's block would stand if it were alone. */
  readonly line: number;
  readonly yAlone: number;
  /** Its place among all letters and among those of its line, and how many the line has. */
  readonly inAll: number;
  readonly inLine: number;
  readonly ofLine: number;
}

/**
 * Sets a text: lines that are longer than `wide` are broken between words, and a word that is longer than that between its letters.
 * Spaces are no letters. At most {@link LETTERS_MOST}; what comes after them is left out.
 * @param measure - how long a run of text is @param row - from one row to the next @param wide - 0: nothing is broken
 */
export function layLetters(
  text: string,
  align: LettersForm['align'],
  wide: number,
  row: number,
  measure: (text: string) => number,
): { readonly letters: readonly LaidLetter[]; readonly width: number; readonly height: number } {
  const rows: { readonly text: string; readonly line: number }[] = [];
  text.split('\n').forEach((line, i) => {
    for (const part of broken(line, wide, measure)) rows.push({ text: part, line: i + 1 });
  });
  const width = Math.max(0, ...rows.map((r) => measure(r.text))),
    height = rows.length * row;
  const letters: LaidLetter[] = [];
  rows.forEach((r, i) => {
    const own = rows.filter((o) => o.line === r.line),
      first = rows.indexOf(own[0]!);
    const long = measure(r.text),
      from = align === 'left' ? -width / 2 : align === 'right' ? width / 2 - long : -long / 2;
    // The foot of a row lies a quarter of the row above its lower end.
    const y = height / 2 - (i + 0.75) * row,
      yAlone = (own.length * row) / 2 - (i - first + 0.75) * row;
    const all = [...new Intl.Segmenter(undefined, { granularity: 'grapheme' }).segment(r.text)];
    for (const { segment, index } of all) {
      if (segment.trim() === '') continue;
      const x = measure(r.text.slice(0, index)),
        end = measure(r.text.slice(0, index + segment.length));
      letters.push({
        text: segment,
        x: from + x,
        y,
        wide: end - x,
        line: r.line,
        yAlone,
        inAll: letters.length,
        inLine: 0,
        ofLine: 0,
      });
    }
  });
  const kept = letters.slice(0, LETTERS_MOST),
    counts = new Map<number, number>();
  const placed = kept.map((l) => {
    const inLine = counts.get(l.line) ?? 0;
    counts.set(l.line, inLine + 1);
    return { ...l, inLine };
  });
  return { letters: placed.map((l) => ({ ...l, ofLine: counts.get(l.line)! })), width, height };
}

function broken(line: string, wide: number, measure: (text: string) => number): string[] {
  if (wide <= 0 || measure(line) <= wide) return [line];
  const out: string[] = [];
  let now = '';
  for (let word of line.split(' ')) {
    const with_ = now === '' ? word : `${now} ${word}`;
    if (measure(with_) <= wide) {
      now = with_;
      continue;
    }
    if (now !== '') out.push(now);
    // A word by itself that is too long.
    while (word.length > 1 && measure(word) > wide) {
      let n = word.length - 1;
      while (n > 1 && measure(word.slice(0, n)) > wide) n--;
      out.push(word.slice(0, n));
      word = word.slice(n);
    }
    now = word;
  }
  if (now !== '') out.push(now);
  return out;
}

/** Numbers of one letter in the table that comes with its sheet. */
export const LETTER_NUMBERS = 16;
