import v8 from "node:v8";
import { expect, it } from "vitest";
import { passageOf, stroke } from "../test/build.ts";
import { settingsOf } from "./settings.ts";

// Spread from another object, settings had another layout each time, and all code compiled for the last ones was thrown away.
it("settings made again and again have one layout in V8", () => {
  v8.setFlagsFromString("--allow-natives-syntax");
  const haveSameLayout = new Function("a", "b", "return %HaveSameMap(a, b)") as (a: object, b: object) => boolean;
  const all = Array.from({ length: 40 }, () => settingsOf(passageOf([stroke("0", "1/4", "6/3")])));
  expect(all.filter((settings) => !haveSameLayout(settings, all[0]!))).toHaveLength(0);
});
