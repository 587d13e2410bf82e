import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ABSURD_FORMATS } from "../test/absurd-files.ts";
import { HOSTILE } from "../test/hostile-files.ts";
import { Readers } from "../test/readers.ts";

/* Files that mean harm, read in a thread with a bounded heap: one that eats more ends the thread, and with it the test. */

/** Of the size at which they do most harm; whole ones are read by `npm run bench`. */
const SIZE = 0.1;
const HEAP_MB = 256;

let readers: Readers;
beforeAll(() => {
  readers = new Readers(HEAP_MB);
});
afterAll(() => readers.close());

describe("files that are meant to do harm", () => {
  it.each(HOSTILE.map(({ name }, i) => [name, i] as const))("%s: read, or refused in words", async (_, index) => {
    const { broken, faults, says } = await readers.hostile(index, SIZE);
    expect(broken).toBeNull();
    expect(faults).toBeLessThanOrEqual(100);
    for (const sentence of says) expect(sentence.length).toBeLessThan(400);
  });
});

describe("files that are well-formed and absurd, by a grammar for each format", () => {
  it.each(ABSURD_FORMATS)("%s: 90 are read and written, or refused in words", async (format) => {
    const { broken, read, refused } = await readers.absurd(format, 1, 90);
    expect(broken).toEqual([]);
    expect(read).toBeGreaterThan(3);
    expect(refused).toBeGreaterThan(3);
  });
});
