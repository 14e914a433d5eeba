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
