import { describe, expect, it } from "vitest";
import { parsePassage } from "../passage/parse.ts";
import type { Treatment } from "../passage/schema.ts";
import { line, passageOf } from "../test/build.ts";
import { applyEdit } from "./edit.ts";
import { withNames } from "./treatments.ts";

const fresh = (id: string, more: Partial<Treatment> = {}): Treatment => ({ id, name: `Treatment ${id}`, rules: [], overrides: {}, ...more });

describe("treatments of a passage", () => {
  it("give every stroke a name of its own, and leave names that are there", () => {
    const passage = passageOf(line(8, ["6/3", "5/5", "6/3"]));
    passage.bars[0]!.strokes[1]!.id = "stroke-1";
    applyEdit(passage, { kind: "set-treatment", treatment: fresh("a") });
    const names = passage.bars[0]!.strokes.map((stroke) => stroke.id);
    expect(names[1]).toBe("stroke-1");
    expect(new Set(names).size).toBe(3);
  });

  it("names are known ahead as they will be given", () => {
    const passage = passageOf([line(8, ["6/3", "5/5"]), line(4, ["6/3"])]);
    const ahead = withNames(passage);
    expect(passage.bars[0]!.strokes[0]!.id).toBeUndefined();
    applyEdit(passage, { kind: "set-treatment", treatment: fresh("a") });
    expect(ahead.bars).toEqual(passage.bars);
  });

  it("are replaced by id, kept in order, and taken away; the last one leaves nothing behind", () => {
    const passage = passageOf(line(4, ["6/3"]));
    for (const id of ["a", "b"]) applyEdit(passage, { kind: "set-treatment", treatment: fresh(id) });
    applyEdit(passage, { kind: "set-treatment", treatment: fresh("a", { name: "first" }) });
    expect(passage.treatments!.map((t) => t.name)).toEqual(["first", "Treatment b"]);
    expect(applyEdit(passage, { kind: "remove-treatment", id: "nobody" })).toBe(false);
    for (const id of ["a", "b"]) expect(applyEdit(passage, { kind: "remove-treatment", id })).toBe(true);
    expect("treatments" in passage).toBe(false);
    expect(parsePassage(structuredClone(passage)).ok).toBe(true);
  });

  it("what would leave a document that is not valid is refused", () => {
    const passage = passageOf(line(4, ["6/3"]));
    const before = structuredClone(passage);
    const wrong = [
      fresh("a", { name: "" }),
      fresh("a", { rules: [{ kind: "pattern", pattern: "q" }] }),
      fresh("a", { rules: [{ kind: "plain", bars: { from: 3, to: 1 } }] }),
      fresh("a", { rules: [{ kind: "strokes", school: "free", order: "xx" }] }),
    ];
    for (const treatment of wrong) expect(applyEdit(passage, { kind: "set-treatment", treatment }), JSON.stringify(treatment)).toBe(false);
    expect(applyEdit(passage, { kind: "promote-treatment", id: "a" })).toBe(false);
    expect(passage).toEqual(before);
  });

  it("sixteen fit, a seventeenth does not", () => {
    const passage = passageOf(line(4, ["6/3"]));
    for (let i = 0; i < 16; i++) expect(applyEdit(passage, { kind: "set-treatment", treatment: fresh(`t${i}`) })).toBe(true);
    expect(applyEdit(passage, { kind: "set-treatment", treatment: fresh("one more") })).toBe(false);
  });

  it("promoted twice under the same name, what was has another name", () => {
    const passage = passageOf(line(8, ["6/3", "5/5"]));
    for (const id of ["a", "b"]) applyEdit(passage, { kind: "set-treatment", treatment: fresh(id, { rules: [{ kind: "palm-but-accents" }] }) });
    applyEdit(passage, { kind: "promote-treatment", id: "a" });
    applyEdit(passage, { kind: "promote-treatment", id: "b" });
    expect(passage.treatments!.map((t) => t.name)).toEqual(["as it was", "as it was (2)"]);
  });
});
