const NAMES = ['C', 'C♯', 'D', 'E♭', 'E', 'F', 'F♯', 'G', 'A♭', 'A', 'B♭', 'B'] as const;
const STEPS: Readonly<Record<string, number>> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };

/** A key by name; 60 is C4. */
export function keyName(key: number): string {
  return `${NAMES[((key % 12) + 12) % 12]!}${Math.floor(key / 12) - 1}`;
}
/** The key of a name such as C4, f#3 or B♭2, or of its number; null for what is none from 0 to 127. */
export function keyOfName(name: string): number | null {
  const said = /^\s*([a-g])([#♯b♭]?)(-?\d)\s*$/i.exec(name);
  const key = said
    ? STEPS[said[1]!.toLowerCase()]! +
      (said[2] === '#' || said[2] === '♯' ? 1 : said[2] ? -1 : 0) +
      12 * (Number(said[3]) + 1)
    : /^\s*\d+\s*$/.test(name)
      ? Number(name)
      : NaN;
  return key >= 0 && key <= 127 ? key : null;
}
