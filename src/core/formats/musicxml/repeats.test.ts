import { describe, expect, it } from "vitest";
import type { Fault } from "../../passage/parse.ts";
import { packScore, unpackScore } from "./archive.ts";
import { unfolded } from "./repeats.ts";
import { all, parseXml } from "./tree.ts";

/** Measures by name: "A ||: B :||" as their marks; the order in which they are played. */
function played(...measures: [name: string, marks?: string][]): { order: string; remarks: string[] } {
  const xml = `<part>${measures.map(([name, marks = ""]) => `<measure number="${name}">${marks}</measure>`).join("")}</part>`;
  const read = parseXml(xml);
  if (!read.ok) throw new Error(read.faults[0]!.says);
  const remarks: Fault[] = [];
  const order = unfolded(all(read.value, "measure"), remarks)
    .map((measure) => measure.attributes.number)
    .join("");
  return { order, remarks: remarks.map((r) => r.says) };
}

const forward = '<barline location="left"><repeat direction="forward"/></barline>';
const backward = (times = "") => `<barline location="right"><repeat direction="backward"${times && ` times="${times}"`}/></barline>`;
const ending = (number: string) => `<barline location="left"><ending number="${number}" type="start"/></barline>`;

describe("repeats", () => {
  it("without a forward mark go back to the beginning, with one to it", () => {
    expect(played(["A"], ["B", backward()], ["C"]).order).toBe("ABABC");
    expect(played(["A"], ["B", forward], ["C", backward()], ["D"]).order).toBe("ABCBCD");
  });

  it("are played as often as they say; the next ones begin after them", () => {
    expect(played(["A", forward + backward("4")], ["B", forward + backward()]).order).toBe("AAAABB");
  });

  it("first and second endings", () => {
    expect(played(["A", forward], ["B", ending("1") + backward()], ["C", ending("2")], ["D"]).order).toBe("ABACD");
    expect(played(["A", forward], ["B", ending("1, 2") + backward("3")], ["C", ending("3")]).order).toBe("ABABAC");
  });

  it("are reported; jumps are reported and not followed; absurd numbers of times end", () => {
    expect(played(["A", backward()]).remarks).toEqual(["repeats are written out: 1 bars became 2"]);
    expect(played(["A", '<sound dalsegno="x"/>']).remarks).toEqual(['"dalsegno" is not followed']);
    expect(played(["A", backward("1000000")]).order.length).toBeLessThan(100);
    expect(played(["A"], ["B"])).toEqual({ order: "AB", remarks: [] });
  });
});

describe("compressed scores", () => {
  it("give back what was packed, the same bytes every time", () => {
    const score = "<score-partwise>é & ü</score-partwise>";
    expect(unpackScore(packScore(score))).toEqual({ ok: true, value: score });
    expect(packScore(score)).toEqual(packScore(score));
  });

  it("damaged ones are refused in words", () => {
    const packed = packScore("<score-partwise/>");
    for (const bytes of [packed.slice(0, 60), new Uint8Array([0x50, 0x4b, 3, 4]), packed.map((b, i) => (i > 30 && i < 80 ? 255 : b))]) {
      const read = unpackScore(bytes);
      if (read.ok) expect.fail("was unpacked");
      expect(read.faults[0]!.says).toMatch(/archive/);
    }
  });
});
