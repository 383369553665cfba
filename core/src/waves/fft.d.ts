declare module 'fft.js' {
  /** Radix-4 transform of a fixed size, a power of two. */
  export default class FFT {
    constructor(size: number)
    createComplexArray(): number[]
    /** Half spectrum of a real signal, re and im in turn. */
    realTransform(out: number[], data: ArrayLike<number>): void
  }
}
