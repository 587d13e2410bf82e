import { expect, it } from "vitest";
import { freshTreatment } from "../../core/edit/treatments.ts";
import { ruleSchema } from "../../core/passage/schema.ts";
import { STARTERS } from "../../core/writer/starters.ts";
import { isOnBackbeat, RULE_KINDS, RULE_WORDS } from "./rule-words.ts";

it("every rule has a name of its own, words, and a valid beginning", () => {
  expect(new Set(RULE_KINDS.map((kind) => RULE_WORDS[kind].title)).size).toBe(RULE_KINDS.length);
  for (const kind of RULE_KINDS) {
    const { says, fresh } = RULE_WORDS[kind];
    expect(says).not.toBe("");
    expect(ruleSchema.safeParse(fresh).success, kind).toBe(true);
    expect(fresh.kind).toBe(kind);
  }
});

it("no rule of the document is missing in the Writer", () => {
  const kinds = ruleSchema.options.map((option) => option.shape.kind.value);
  expect([...RULE_KINDS].sort()).toEqual([...kinds].sort());
});

it("a starter that strikes on the backbeat is known as one, so that a drummer is asked for", () => {
  for (const { name, rules, onBackbeat } of STARTERS) expect(isOnBackbeat(rules), name).toBe(onBackbeat ?? false);
});

it("a new treatment has a name that is free", () => {
  const first = freshTreatment([], "a");
  const second = freshTreatment([first], "b");
  expect([first.name, second.name]).toEqual(["Treatment 1", "Treatment 2"]);
  expect(second.id).not.toBe(first.id);
  expect(freshTreatment([second], "c").name).toBe("Treatment 1");
});
