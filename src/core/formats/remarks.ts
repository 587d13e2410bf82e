import type { Fault } from "../passage/parse.ts";

/** More remarks than anybody reads are counted and not kept. */
const MOST = 300;

/** Takes what a reader or a writer has to say about a file. */
export interface RemarkTaker {
  push(remark: Fault): void;
}

/** What a reader was not sure of, in the order of the file. */
export class Remarks implements RemarkTaker {
  private readonly kept: Fault[] = [];
  private more = 0;

  push(remark: Fault): void {
    if (this.kept.length < MOST) this.kept.push(remark);
    else this.more++;
  }

  all(): Fault[] {
    return this.more === 0 ? this.kept : [...this.kept, { place: "file", says: `${this.more} more remarks like these` }];
  }
}
