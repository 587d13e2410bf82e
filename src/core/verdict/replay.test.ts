import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { isDown, placeHeld } from "../grips/grips.ts";
import type { Passage } from "../passage/schema.ts";
import { somePassages } from "../test/any-passage.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { replay } from "../test/replay.ts";
import { outcomesOf, type PlannedStages } from "./verdict.ts";

/** What a grip that is down holds besides the notes that sound. */
function heldAt({ grips, timeline }: PlannedStages, i: number) {
  const { sounding } = timeline.steps[i]!;
  const grip = grips.held[i]!;
  return isDown(grip, sounding) ? grip.places.filter(({ string }) => placeHeld(grip, sounding, string)) : [];
}

function strays(passage: Passage): { said: string[]; heard: string[] } {
  const planned = planStages(passage);
  const outcomes = outcomesOf(planned);
  const said = outcomes.flatMap((o, i) => o.strings.filter((s) => s.state === "stray").map((s) => `${i}/${s.string}`));
  const steps = outcomes.map((o, i) => ({
    step: planned.timeline.steps[i]!,
    intents: planned.intent[i]!,
    contacts: [...o.fretting.contacts, ...o.picking.contacts],
    presses: planned.fingering.hands[i]!.presses,
    held: heldAt(planned, i),
  }));
  return { said, heard: replay(passage, steps) };
}

it("playing the touches back on the string model, apart from the planner, hears the strays it says and no others", () => {
  const demos = demoPassages();
  const randoms = Array.from({ length: 400 }, (_, i) => randomPassage(5000 + i, 7));
  let all = 0;
  for (const passage of [...demos, ...randoms, ...somePassages(41, 400)]) {
    const { said, heard } = strays(passage);
    all += said.length;
    expect(heard, passage.title).toEqual(said);
  }
  expect(all).toBeGreaterThan(50);
});
