declare module "fft.js" {
  type Numbers = number[] | Float64Array;
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    realTransform(out: Numbers, data: Numbers): void;
  }
}
