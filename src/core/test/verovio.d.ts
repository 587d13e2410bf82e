/** What the tests use of the engraver, which ships no types. */
declare module "verovio/wasm" {
  export default function createVerovioModule(): Promise<object>;
}

declare module "verovio/esm" {
  export const LOG_OFF: number;
  export function enableLog(level: number, module: object): void;
  export class VerovioToolkit {
    constructor(module: object);
    /** 1 when the data were taken. */
    loadData(data: string): number;
    getMEI(): string;
  }
}
