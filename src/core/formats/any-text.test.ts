import fc from "fast-check";
import { XMLValidator } from "fast-xml-parser";
import { describe, expect, it } from "vitest";
import { parsePassage } from "../passage/parse.ts";
import { asText } from "../passage/text.ts";
import { passageOf, stroke } from "../test/build.ts";
import { readBytes, writeBytes } from "./files.ts";
import { WRITTEN } from "./written.ts";

/** Anything that a string can hold: control characters, halves of characters, signs of every format. */
const anything = fc.oneof(
  fc.array(fc.integer({ min: 0, max: 0xffff }), { maxLength: 30 }).map((units) => String.fromCharCode(...units)),
  fc.string({ unit: "binary", maxLength: 30 }),
  fc
    .array(
      fc.constantFrom(
        "\0",
        "\u0001",
        "\u001f",
        "\u007f",
        "\ud800",
        "\udc00",
        "\ufffe",
        "\uffff",
        "<",
        "&",
        "]]>",
        '"',
        ",",
        "\r",
        "\n",
        "=1+1",
        "é",
        "\u{1d11e}",
      ),
      { maxLength: 12 },
    )
    .map((signs) => signs.join("")),
);

const base = passageOf([stroke("0", "1/4", "6/3 5/5 4/5")]);
const withText = (title: string, other: string) =>
  parsePassage({
    ...base,
    title: `T${title}`,
    tags: [`t${other}`.slice(0, 40)],
    notes: other,
    treatments: [{ id: "one", name: `n${other}`.slice(0, 80), rules: [], overrides: {} }],
    bars: base.bars.map((bar) => ({ ...bar, strokes: bar.strokes.map((s) => ({ ...s, chord: other.slice(0, 40) })) })),
  });

describe("any text whatever", () => {
  it("is accepted with what no text has taken out, and nothing else", () => {
    fc.assert(
      fc.property(anything, (text) => {
        const cleaned = asText(text);
        expect(new TextDecoder().decode(new TextEncoder().encode(cleaned))).toBe(cleaned);
        const isControl = (code: number) => (code < 32 && code !== 9 && code !== 10 && code !== 13) || code === 0xfffe || code === 0xffff;
        expect([...cleaned].some((sign) => isControl(sign.codePointAt(0)!))).toBe(false);
        expect(asText(cleaned)).toBe(cleaned);
        const read = withText(text, text);
        expect(read.ok && read.value.title).toBe(`T${cleaned}`);
      }),
      { seed: 16, numRuns: 500 },
    );
  });
  it("is written in every format, well-formed, and read back from a document as it was", () => {
    fc.assert(
      fc.property(anything, anything, (title, other) => {
        const read = withText(title, other);
        if (!read.ok) throw new Error(read.faults[0]!.says);
        for (const { extension } of WRITTEN) {
          const { bytes } = writeBytes(read.value, extension, { withPlan: true });
          const text = new TextDecoder().decode(bytes);
          if (extension === "musicxml" || extension === "svg") expect(XMLValidator.validate(text), extension).toBe(true);
          if (extension === "resthand.json") {
            const back = readBytes(bytes);
            expect(back.ok && back.value.passage).toEqual(read.value);
          }
          if (extension === "musicxml" || extension === "mxl" || extension === "mid" || extension === "txt") expect(readBytes(bytes).ok, extension).toBe(true);
        }
      }),
      { seed: 17, numRuns: 60 },
    );
  });
});
