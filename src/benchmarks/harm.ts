import { cpus } from "node:os";
import { ABSURD_FORMATS } from "../core/test/absurd-files.ts";
import { HOSTILE } from "../core/test/hostile-files.ts";
import { Readers } from "../core/test/readers.ts";

/*
 * What files that mean harm cost: each of the hostile ones whole, a half and a quarter of it, and 20,000 absurd ones. The promise
 * is 5 s and 500 MB for each; what grows faster than its size would keep none.
 */

const ABSURD = 20_000;
const HEAP_MB = 500;
/** Twice the size may take so many times as long before it is called more than linear. */
const MOST_GROWTH = 2.6;
/** What is too much is refused within so many ms. */
const LATE_MS = 1_000;
/** Times below are noise. */
const LEAST_MS = 300;

process.stdout.write(`\nFiles that mean harm, read in a thread with a heap of ${HEAP_MB} MB\n`);
process.stdout.write(`${"".padEnd(48)} quarter    half   whole (ms)   MB\n`);
const readers = new Readers(HEAP_MB);
let [slowest, largest, faster, late] = [0, 0, 0, 0];
for (const [index, { name }] of HOSTILE.entries()) {
  const times: number[] = [];
  let megabytes = 0;
  let broken: string | null = null;
  let isTooMuch = false;
  for (const size of [0.25, 0.5, 1]) {
    // The first time is the compiler's.
    await readers.hostile(index, size);
    const read = await readers.hostile(index, size);
    times.push(read.ms);
    megabytes = Math.max(megabytes, read.megabytes);
    broken ??= read.broken;
    isTooMuch = read.says.some((says) => says.includes("more than the"));
  }
  const [, half, whole] = times as [number, number, number];
  const grows = whole > LEAST_MS && whole / half > MOST_GROWTH;
  slowest = Math.max(slowest, whole);
  largest = Math.max(largest, megabytes);
  if (grows) faster++;
  const isLate = isTooMuch && whole > LATE_MS;
  if (isLate) late++;
  const said = [broken === null ? [] : `BROKEN: ${broken.split("\n")[0]}`, grows ? "grows faster than its size" : [], isLate ? "refused late" : []]
    .flat()
    .join(", ");
  process.stdout.write(`${name.padEnd(48)} ${times.map((ms) => ms.toFixed(0).padStart(7)).join(" ")} ${megabytes.toFixed(0).padStart(9)}   ${said}\n`);
}
await readers.close();
process.stdout.write(
  `slowest ${slowest.toFixed(0)} ms (promise 5000), most memory ${largest.toFixed(0)} MB (promise 500), faster than linear: ${faster}, too much and refused after more than a second: ${late}\n`,
);

process.stdout.write(`\n${ABSURD} absurd files, well-formed by the grammar of their format\n`);
const each = Math.ceil(ABSURD / ABSURD_FORMATS.length);
const waiting = [...ABSURD_FORMATS];
const work = async () => {
  for (let format = waiting.shift(); format; format = waiting.shift()) {
    const own = new Readers(HEAP_MB);
    const { broken, read, refused, slowestMs } = await own.absurd(format, 1_000, each);
    await own.close();
    process.stdout.write(
      `${format.padEnd(12)} ${read} read, ${refused} refused, ${broken.length} broken, the slowest with all that was written of it ${slowestMs.toFixed(0)} ms\n`,
    );
    for (const fault of broken.slice(0, 5)) process.stdout.write(`  ${fault}\n`);
  }
};
await Promise.all(Array.from({ length: Math.min(2, cpus().length) }, work));
