import { describe, expect, it } from "vitest";
import type { Action, PlanDocument } from "../document/plan.ts";
import { planPassage, planStages } from "../engine.ts";
import { type Press, pressedAt } from "../fingering/hand-state.ts";
import { partsOf } from "../hands/parts.ts";
import type { Passage } from "../passage/schema.ts";
import { somePassages } from "../test/any-passage.ts";
import { demoPassages } from "../test/demos.ts";
import { randomPassage } from "../test/random-passages.ts";
import { phraseOf } from "../words/actions.ts";
import { type Body, type Known, nothingKnown } from "./known.ts";
import { habitsAfter, hear, strokesKnown, toldAfter } from "./reading.ts";

/** Contacts of a step as "hand part finger strings", with the frets of fingers that press or rest, from the plan and from what a reader of actions knows. */
function inPlan({ strings }: PlanDocument["steps"][number]): string[] {
  const groups = new Map<string, number[]>();
  for (const { string, touchedBy } of strings)
    for (const { hand, part, finger, fret } of touchedBy) {
      // Idle fingers lie together: nobody is told which of them is on a string.
      const who = hand === "fretting" && part === "spare" ? "" : (finger ?? "");
      const key = `${hand} ${part} ${who}${hand === "fretting" && (part === "press" || part === "ease") ? ` at ${fret}` : ""}`;
      groups.set(key, [...(groups.get(key) ?? []), string]);
    }
  return [...groups].map(([key, on]) => `${key} ${[...new Set(on)].sort()}`).sort();
}

function known({ presses, resting, groups }: Known): string[] {
  const nameOf = ({ hand, part, finger }: Body) =>
    `${hand} ${part} ${finger ?? ""}${part === "ease" ? ` at ${resting.find((press) => press.finger === finger)?.fret}` : ""}`;
  const all = new Map<string, readonly number[]>([...groups].map(([body, on]) => [nameOf(body), on]));
  for (const { finger, fret, strings } of onTop(presses)) {
    const key = `fretting press ${finger} at ${fret}`;
    all.set(key, [...(all.get(key) ?? []), ...strings]);
  }
  return [...all].map(([key, on]) => `${key} ${[...new Set(on)].sort()}`).sort();
}

/** Where two fingers press one string, the higher one is told of. */
function onTop(presses: readonly Press[]): Press[] {
  return presses
    .map((press) => ({ ...press, strings: press.strings.filter((string) => pressedAt(presses, string) === press.fret) }))
    .filter(({ strings }) => strings.length > 0);
}

/** Every action that was met, once. */
const met = new Map<string, Action>();

const ascending = (strings: readonly number[]) => [...new Set(strings)].sort((a, b) => a - b);

const areDead = (notes: readonly { tone: string }[]) => notes.length > 0 && notes.every(({ tone }) => tone === "ghost");

const DEAD_WHATEVER = new Set(["chuck", "click", "rake"]);

describe("actions", () => {
  const check = (passage: Passage) => {
    const plan = planPassage(passage, { why: "nothing", pinPrices: false });
    for (const { actions } of plan.steps) for (const action of actions) met.set(JSON.stringify(action), action);
    // Nobody can press two frets with one finger: such a passage is reported as faulty, not played.
    if (plan.issues.some(({ code }) => code === "finger-in-two-places")) return;
    const planned = planStages(passage).timeline.steps;
    let reader = nothingKnown(passage.instrument.tuning.length);
    plan.steps.forEach((step, i) => {
      const where = `${passage.title}, step ${i}, bar ${step.bar} at ${step.at}: ${JSON.stringify(step.actions)}`;
      const heard = hear(reader, step.actions);
      const strokes = strokesKnown(heard);
      expect(ascending(strokes.flatMap(({ strings }) => strings)), where).toEqual(ascending([...(step.struck ?? []), ...(step.clicked ?? [])]));
      const { stroke } = planned[i]!;
      // A single pluck of a muffled string is not called dead: its finger lies there as it is said.
      const isSwept = step.actions.some(({ does, by }) => does === "stroke" && by !== "T");
      if (stroke && step.struck && !DEAD_WHATEVER.has(stroke.as))
        expect(strokes[0]?.sounds, where).toBe(stroke.as === "play" && stroke.kind !== "none" && !(isSwept && areDead(stroke.notes)));
      reader = toldAfter(habitsAfter(reader, heard), heard.actions);
      expect(known(reader), where).toEqual(inPlan(step));
    });
  };
  it.each(demoPassages().map((passage) => [passage.title, passage] as const))(
    "whoever hears only the actions of %s knows every contact and every stroke",
    (_, passage) => check(passage),
  );
  it("so for 500 random passages", () => {
    for (let seed = 1; seed <= 200; seed++) check(randomPassage(seed, 4));
    for (const passage of somePassages(14, 300)) check(passage);
  });
  it("whatever field of one of them changes, something else is said", () => {
    let tried = 0;
    for (const action of met.values())
      for (const other of changed(action)) {
        tried++;
        expect(phraseOf(other), `${JSON.stringify(action)} ${JSON.stringify(other)}`).not.toBe(phraseOf(action));
      }
    expect(met.size).toBeGreaterThan(1000);
    expect(tried).toBeGreaterThan(3000);
  });
});

/** What one finger does by itself. */
const ALONE: readonly Action["does"][] = ["press", "let-go", "hold", "lift"];

/** The same action with one field changed, in every way that keeps it an action of its hand. */
function changed(action: Action): Action[] {
  const others: Action[] = [];
  const { hand, does, part, places, strings, by, from, to, direction, chord } = action;
  const otherFinger = (finger: Action["by"]) => (typeof finger === "number" ? (finger === 4 ? 3 : 4) : finger === "m" ? "a" : "m");
  if (places?.length) {
    const [first, ...rest] = places;
    others.push({ ...action, places: [{ ...first!, string: first!.string + 1 }, ...rest] });
    others.push({ ...action, places: [{ ...first!, finger: otherFinger(first!.finger)! }, ...rest] });
    if (first!.fret !== undefined) others.push({ ...action, places: [{ ...first!, fret: first!.fret + 1 }, ...rest] });
    if (rest.length > 0) others.push({ ...action, places: rest });
  }
  if (does === "stroke")
    for (const other of [undefined, "dead", "open", "slap", "dead slap", "pop"]) if (other !== part && by !== "T") others.push(withPart(action, other));
  if (part !== undefined && (does === "rest" || does === "lift") && part !== "fret-wrap" && by !== "p")
    for (const other of partsOf(hand)) if (other !== part && other !== "press" && part !== "press") others.push({ ...action, part: other });
  if (strings?.length) {
    others.push({ ...action, strings: strings.map((s) => s + 1) });
    others.push({ ...action, strings: [...strings, Math.max(...strings) + 1] });
  }
  if (by !== undefined && by !== "p" && by !== "T") others.push({ ...action, by: otherFinger(by)! });
  if (from !== undefined) others.push({ ...action, from: from + 1 });
  if (to !== undefined) others.push({ ...action, to: to + 1 });
  if (by !== undefined && !part && ALONE.includes(does)) for (const other of ALONE) if (other !== does) others.push({ ...action, does: other });
  if (does === "stroke" && part === undefined && by !== "T")
    others.push({ ...action, does: "rake" }, { ...action, does: "chuck" }, { ...action, does: "click" });
  const turned = { down: "up", up: "down", bass: "treble", treble: "bass" } as const;
  if (direction !== undefined) others.push({ ...action, direction: turned[direction] });
  if (chord !== undefined) others.push({ ...action, chord: `${chord}7` });
  return others;
}

function withPart({ part: _, ...action }: Action, part: string | undefined): Action {
  return part === undefined ? action : { ...action, part };
}
