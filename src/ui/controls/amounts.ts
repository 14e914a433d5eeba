/** A file's size in words, in powers of ten as the machine's own file list has it. */
export function sizeText(bytes: number): string {
  return bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
/** A length as a clock has it: 0:07, 12:40, 1:02:03. */
export function clockText(seconds: number): string {
  const s = Math.floor(seconds),
    two = (n: number): string => String(n).padStart(2, '0');
  return s >= 3600
    ? `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`
    : `${Math.floor(s / 60)}:${two(s % 60)}`;
}
