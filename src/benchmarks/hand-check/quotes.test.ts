import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { demoPassages } from "../../core/test/demos.ts";
import { CHECKED, passageCalled, quotedIn, quoteOf } from "./quotes.ts";

const quoted = quotedIn(readFileSync(CHECKED, "utf8"));

it("all demo tunes and thirty passages of the yardstick are checked", () => {
  const demos = demoPassages().map(({ title }) => title);
  for (const title of demos) expect(quoted.map((one) => one.title)).toContain(title);
  expect(quoted.length - demos.length).toBeGreaterThanOrEqual(30);
  expect(new Set(quoted.map(({ title }) => title)).size).toBe(quoted.length);
});

it.each(quoted)("$title: the plan is the one that was read", ({ title, quote }) => {
  expect(quoteOf(passageCalled(title))).toBe(quote);
});
