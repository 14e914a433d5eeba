declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    readonly size: number;
    /** Complex transform of interleaved real and imaginary parts. */
    transform(out: number[], data: number[]): void;
    /** Transform of real numbers; fills the first half of `out` only. */
    realTransform(out: number[], data: number[]): void;
  }
}

declare module '*/ensure.mjs' {
  /** A digest of files, by their names and contents. */
  export function digest(files: readonly string[]): string;
  /** All files in folders (or files) of the project, in order. */
  export function filesIn(...folders: readonly string[]): string[];
}
