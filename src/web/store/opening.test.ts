import { describe, expect, it } from "vitest";
import { passageOf, stroke } from "../../core/test/build.ts";
import type { Draft } from "./drafts.ts";
import { openingOf } from "./opening.ts";

const written = passageOf([stroke("0", "1/4", "6/3")]);
const edited = { ...written, title: "another" };
const change = { patches: [], inverse: [] };
const draft = (more: Partial<Draft> = {}): Draft => ({
  passage: written,
  version: 4,
  past: [change],
  future: [change],
  cursor: { bar: 0, tick: 10080, string: 6 },
  unsaved: false,
  ...more,
});
const there = (version: number, passage = written) => ({ kind: "there" as const, stored: { passage, version } });

describe("a passage is opened", () => {
  it("from the library where the browser kept nothing: at its beginning, without a history", () => {
    expect(openingOf("a", there(4), null)).toEqual({
      id: "a",
      passage: written,
      version: 4,
      past: [],
      future: [],
      cursor: { bar: 0, tick: 0, string: 1 },
      save: "saved",
    });
  });
  it("with the history and the cursor of this browser where the library has the same version", () => {
    expect(openingOf("a", there(4), draft())).toMatchObject({ past: [change], future: [change], cursor: { tick: 10080, string: 6 }, save: "saved" });
  });
  it("without a history that another version has overtaken: undo would take back what it never did", () => {
    expect(openingOf("a", there(5, edited), draft())).toMatchObject({ passage: edited, version: 5, past: [], future: [], save: "saved" });
  });
  it("from the browser where that holds what the library lacks, and is saved on", () => {
    expect(openingOf("a", there(4), draft({ passage: edited, unsaved: true }))).toMatchObject({ passage: edited, version: 4, save: "unsaved" });
  });
  it("as stale where both were changed: nothing is overwritten", () => {
    expect(openingOf("a", there(7), draft({ passage: edited, unsaved: true }))).toMatchObject({ passage: edited, version: 4, save: "stale" });
  });
  it("as saved where an unsaved draft came to the library after all, whatever the order of its fields", () => {
    const same = Object.fromEntries(Object.entries(written).reverse()) as typeof written;
    expect(openingOf("a", there(5), draft({ passage: same, unsaved: true }))).toMatchObject({ version: 5, save: "saved" });
  });
  it("from the browser while the library is away, and not at all where it has none", () => {
    expect(openingOf("a", { kind: "away" }, draft({ passage: edited, unsaved: true }))).toMatchObject({ passage: edited, save: "unsaved" });
    expect(openingOf("a", { kind: "away" }, draft())).toMatchObject({ passage: written, save: "saved" });
    expect(openingOf("a", { kind: "away" }, null)).toBeNull();
  });
  it("never where the library has it no more: a draft does not bring it back", () => {
    expect(openingOf("a", { kind: "gone" }, draft({ unsaved: true }))).toBeNull();
  });
});
