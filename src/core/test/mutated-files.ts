import { planPassage } from "../engine.ts";
import { readBytes, writeBytes } from "../formats/files.ts";
import type { Extension } from "../formats/written.ts";
import { parsePassage } from "../passage/parse.ts";
import { demoPassages } from "./demos.ts";
import { joined } from "./midi-bytes.ts";
import { seeded } from "./random-passages.ts";

const FORMATS: readonly Extension[] = ["resthand.json", "musicxml", "mxl", "mid", "txt"];

/** What reading damaged files came to. */
export interface FuzzResult {
  read: number;
  refused: number;
  slowestMs: number;
  /** What must never be: an exception, a passage that is none, a refusal without a fault. */
  broken: string[];
}

/** Files of every readable format with bytes changed, cut, doubled and shuffled; the same seed gives the same files. */
export function readMutated(count: number, seed: number): FuzzResult {
  const random = seeded(seed);
  const files = demoPassages().flatMap((passage) => FORMATS.map((format) => ({ format, bytes: writeBytes(passage, format).bytes })));
  const result: FuzzResult = { read: 0, refused: 0, slowestMs: 0, broken: [] };
  for (let i = 0; i < count; i++) {
    const { format, bytes } = files[Math.floor(random() * files.length)]!;
    const damaged = mutate(bytes, random);
    const begun = performance.now();
    try {
      const read = readBytes(damaged);
      if (!read.ok) {
        result.refused++;
        if (read.faults.length === 0 || read.faults.some((f) => f.place === "" || f.says === "")) result.broken.push(`${i} ${format}: refused without a fault`);
      } else {
        result.read++;
        if (!parsePassage(JSON.parse(JSON.stringify(read.value.passage))).ok) result.broken.push(`${i} ${format}: read as what is no passage`);
        else if (i % 50 === 0) planPassage(read.value.passage, { why: "nothing" });
      }
    } catch (error) {
      result.broken.push(`${i} ${format}: ${(error as Error).message}`);
    }
    result.slowestMs = Math.max(result.slowestMs, performance.now() - begun);
  }
  return result;
}

function mutate(bytes: Uint8Array, random: () => number): Uint8Array {
  let out = Uint8Array.from(bytes);
  const times = 1 + Math.floor(random() ** 2 * 4);
  for (let t = 0; t < times; t++) {
    const at = Math.floor(random() * Math.max(1, out.length));
    const length = Math.floor(random() * 40);
    switch (Math.floor(random() * 8)) {
      case 0:
        out[at] = Math.floor(random() * 256);
        break;
      case 5:
      case 6:
      case 7:
        // Another sign of the same kind: what damages meaning and not form.
        out[at] = out[at]! >= 48 && out[at]! <= 57 ? 48 + Math.floor(random() * 10) : out[at]! ^ 1;
        break;
      case 1:
        out = out.slice(0, at);
        break;
      case 2:
        out = joined([out.slice(0, at), out.slice(at + length)]);
        break;
      case 3:
        out = joined([out.slice(0, at + length), out.slice(at)]);
        break;
      default: {
        const word = SPITEFUL[Math.floor(random() * SPITEFUL.length)]!;
        out = joined([out.slice(0, at), new TextEncoder().encode(word), out.slice(at)]);
      }
    }
  }
  return out;
}

/** Words that break careless readers. */
const SPITEFUL = [
  "-1",
  "0",
  "1e308",
  "NaN",
  "99999999999",
  "<note>",
  "</part>",
  "&#0;",
  "&amp;",
  "]]>",
  "\0",
  "\uFEFF",
  "__proto__",
  "|",
  "-----",
  "x",
  "null",
  "[[[[",
];
