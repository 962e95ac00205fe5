/** What is used of fft.js. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    realTransform(out: number[], data: readonly number[]): void;
  }
}
