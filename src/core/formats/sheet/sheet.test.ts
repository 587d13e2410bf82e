import { XMLValidator } from "fast-xml-parser";
import { describe, expect, it } from "vitest";
import type { PlannedString } from "../../document/plan.ts";
import { planPassage } from "../../engine.ts";
import { passageOf, stroke } from "../../test/build.ts";
import { demoPassages } from "../../test/demos.ts";
import { randomPassage } from "../../test/random-passages.ts";
import { clauseOf } from "../../words/actions.ts";
import { PAPERS, sheetOf, sheetSvg } from "./sheet.ts";

const plan = (passage: ReturnType<typeof randomPassage>) => planPassage(passage, { why: "nothing" });
const words = (svg: string) =>
  [...svg.matchAll(/<text[^>]*>([^<]*)</g)].map((m) => m[1]!.replaceAll("&amp;", "&").replaceAll("&lt;", "<").replaceAll("&gt;", ">"));

describe("the sheet", () => {
  it("is well-formed SVG whatever is written, on both papers", () => {
    const odd = structuredClone(demoPassages()[0]!);
    odd.title = 'Rope & <Anchor> "9"';
    for (const passage of [...demoPassages(), odd, ...Array.from({ length: 30 }, (_, seed) => randomPassage(seed, 3))])
      for (const paper of ["a4", "letter"] as const) expect(XMLValidator.validate(sheetSvg(passage, plan(passage), paper)), passage.title).toBe(true);
  });

  it("holds every bar once, every system within the paper's width and half its height", () => {
    for (const passage of demoPassages()) {
      const systems = sheetOf(passage, plan(passage));
      const bars = systems.flatMap((system) => [...system.svg.matchAll(/font-size="9"[^>]*>(\d+)</g)].map((m) => Number(m[1])));
      expect(bars).toEqual(passage.bars.map((_, b) => b + 1));
      for (const { widthPx, heightPx } of systems) {
        expect(widthPx).toBeLessThanOrEqual(PAPERS.a4.widthPx);
        // 297 mm less margins are 1009 px.
        expect(heightPx, passage.title).toBeLessThan(1009);
      }
    }
  });

  it("says what each hand does and what still rings", () => {
    const passage = demoPassages()[0]!;
    const document = plan(passage);
    const said = words(sheetSvg(passage, document)).join(" ").replaceAll(/\s+/g, " ");
    for (const { actions } of document.steps) {
      const clause = clauseOf(actions.filter(({ hand }) => hand === "fretting"));
      if (clause !== "") expect(said).toContain(`(${clause})`);
    }
    expect(said).toMatch(/STILL RINGS: [^(]*\(string 5\)/);
    for (const sign of ["sounds", "palm-muted", "rings astray", "fretting hand damps", "picking hand damps"]) expect(said).toContain(sign);
  });

  it("what sounds over a bar line goes on in the next bar, the last step of all too", () => {
    // A whole note on 3, tied over into bar 2 by its length, and nothing after it.
    const passage = passageOf([[stroke("1/2", "1", "4/5")], []]);
    const [system] = sheetOf(passage, plan(passage));
    const sounding = [...system!.svg.matchAll(/<rect x="([\d.]+)" y="[\d.]+" width="([\d.]+)" height="4"\/>/g)].map((m) => [Number(m[1]), Number(m[2])]);
    const line2 = Number(/<line x1="([\d.]+)" x2="\1"[^>]*\/><text x="[\d.]+" y="[\d.]+" font-size="9" text-anchor="end">2</.exec(system!.svg)![1]);
    expect(sounding.filter(([x]) => x! < line2)).toHaveLength(1);
    expect(sounding.filter(([x]) => x! > line2)).toHaveLength(1);
    expect(sounding[0]![1]).toBeCloseTo(sounding[1]![1]!, 6);
  });

  it("marks every touch with its hand's sign where it begins and where a line begins, and at no other place", () => {
    for (const passage of demoPassages()) {
      const document = plan(passage);
      const systems = sheetOf(passage, document).map(({ svg }) => svg);
      const drawn = systems.join("");
      const opening = systems.map((system) => Number(/font-size="9"[^>]*>(\d+)</.exec(system)![1]));
      for (const [hand, sign] of [
        ["fretting", /a4 4\.5 0 0 0 8 0z/g],
        ["picking", /v-4h8v4z/g],
      ] as const) {
        const damps = ({ touchedBy }: PlannedString) =>
          touchedBy.some((t) => t.part !== "press" && (t.hand === hand || (hand === "fretting" && t.hand === "aid")));
        const begins = document.steps.flatMap((step, i) =>
          step.strings.filter(
            (string, s) => damps(string) && !(i > 0 && damps(document.steps[i - 1]!.strings[s]!) && !(step.at === "0" && opening.includes(step.bar))),
          ),
        );
        expect([...drawn.matchAll(sign)], `${passage.title}, ${hand}`).toHaveLength(begins.length);
      }
    }
  });
});
