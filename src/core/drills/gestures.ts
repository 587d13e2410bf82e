import type { Action } from "../document/plan.ts";
import { ticksAt } from "../edit/range.ts";
import { ticksOf } from "../music/ticks.ts";
import type { Bar, Passage } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { gestureAt } from "../verdict/gestures.ts";
import { placeOf } from "./contacts.ts";
import { barOf, emptyLike } from "./figure-passage.ts";
import { type At, does, excess, type Found, keepers } from "./found.ts";
import type { Candidate, Strain } from "./types.ts";

const MINUTES = 3;
/** Gestures of one plan that are drilled at most. */
const MOST = 3;
/** What limits the hands weighs so much more than what only rings. */
const LIMITING = 3;

/** One change of a hand: the two steps around it as a loop, then with a step before and one after. */
export function oneGesture(found: Found): Candidate[] {
  const { plan, steps } = found;
  const limit = plan.limits.hands;
  const limitAt = limit?.bar === undefined ? undefined : stepAt(found, limit.bar, limit.at!);
  const tight = plan.bottlenecks.flatMap(({ bar, at }) => stepAt(found, bar, at) ?? []);
  const forced = new Set([...(limitAt ? [limitAt] : []), ...tight]);
  const all = steps
    .filter((at) => at.index > 0)
    .flatMap((at) =>
      (["fretting", "picking"] as const).flatMap((hand) => {
        if (gestureAt(at.step, hand) === null) return [];
        return [{ at, hand, value: ringsWithout(at, steps[at.index - 1]!, hand) * (forced.has(at) ? LIMITING : 1), isLimit: forced.has(at) }];
      }),
    )
    .filter(({ value, isLimit }) => value > 0 || isLimit)
    .sort((a, b) => Number(b.isLimit) - Number(a.isLimit) || b.value - a.value);
  const seen = new Set<string>();
  const kinds = all.filter(({ at, hand }) => {
    const kind = kindOf(at, hand);
    if (seen.has(kind)) return false;
    seen.add(kind);
    return true;
  });
  return kinds.slice(0, MOST).map((one) => drillFor(found, one));
}

function stepAt({ steps }: Found, bar: number, at: string): At | undefined {
  return steps.find(({ step }) => step.bar === bar && step.at === at);
}

/** The same change somewhere else is the same drill. */
function kindOf({ step }: At, hand: Action["hand"]): string {
  const done = new Set(step.actions.filter((action) => action.hand === hand).map((action) => action.does));
  return `${hand} ${[...done]
    .filter((what) => what !== "stroke" && what !== "pluck" && what !== "follow")
    .sort()
    .join("+")}`;
}

/** What would ring if the hand did not come there. */
function ringsWithout(at: At, before: At, hand: Action["hand"]): number {
  return at.step.strings.reduce((sum, string, s) => {
    const then = new Set(keepers(before.step.strings[s]!).map((touch) => `${touch.hand} ${touch.part}`));
    const isNew = keepers(string).some((touch) => touch.hand === hand && !then.has(`${touch.hand} ${touch.part}`));
    return sum + (isNew ? excess(string) : 0);
  }, 0);
}

function drillFor(found: Found, { at, hand, value, isLimit }: { at: At; hand: Action["hand"]; value: number; isLimit: boolean }): Candidate {
  const { steps, passage } = found;
  const struck = steps.filter(({ stroke }) => stroke !== undefined);
  const before = struck.findLast(({ index }) => index < at.index) ?? steps[0]!;
  const earlier = struck.findLast(({ index }) => index < before.index) ?? before;
  const next = struck.find(({ index }) => index > at.index);
  const end = ticksAt(passage, { bar: passage.bars.length, tick: 0 });
  // Up to where the music goes on after the change.
  const inner = at.stroke ? at.to : Math.max(at.to, next ? next.to : at.to);
  const loop = barOf(passage, before.from, Math.min(end, inner));
  const around = barOf(passage, earlier.from, Math.min(end, next ? Math.max(inner, next.to) : inner));
  const copies = (bar: Bar, name: string) => [0, 1].map((k): Bar => ({ ...structuredClone(bar), id: `${name}${k}` }));
  const sentence = hand === "fretting" ? at.step.fretting : at.step.picking;
  const bar = passage.bars[at.step.bar - 1]!;
  const where = `bar ${at.step.bar}, ${countOf(ticksOf(at.step.at), bar)}`;
  const title = `One change of the ${hand} hand: ${where}`;
  const made: Passage = { ...emptyLike(passage, title), bars: [...copies(loop, "a"), ...copies(around, "b")] };
  const strings = at.step.strings.filter((string) => keepers(string).some((touch) => touch.hand === hand)).map(({ string }) => string);
  const strain = strainAt(at);
  return {
    id: `one-gesture ${kindOf(at, hand)}`,
    kind: "one-gesture",
    title,
    does: `Over and over from the stroke before into ${where}: ${sentence.replace(/\.$/, "").replace(/^./, (letter) => letter.toLowerCase())}; then with a stroke before and one after.`,
    listensFor: "The hand is there in time, and nothing sounds in between.",
    hand,
    focus: { ...placeOf(before, at), strings },
    strokes: "play",
    sounds: { right: { damping: "planned" }, fails: { damping: hand === "fretting" ? "picking" : "fretting" } },
    why: isLimit ? "it limits the hands" : "what it keeps away rings loud",
    ...(strain ? { strain } : {}),
    value: value / found.bars + (isLimit ? LIMITING : 0),
    usual: MINUTES,
    passage: made,
  };
}

/** What of a step strains a hand. */
export function strainAt(at: At): Strain | null {
  if (does(at, "fretting", "bend").length > 0) return "bend";
  if (does(at, "fretting", "thumb-over").length > 0) return "thumb over";
  if (does(at, "fretting", "lay").length > 0) return "across";
  const down = does(at, "fretting", "down", "press").flatMap(({ places = [] }) => places);
  const barred = down.some(
    ({ finger, fret, string }) => finger === 1 && down.some((other) => other.finger === 1 && other.fret === fret && Math.abs(other.string - string) >= 2),
  );
  return barred ? "barre" : null;
}

/** Slurs and bends, one of each kind: pulled out, out and back. */
export function oneSlur(found: Found): Candidate[] {
  const { passage, steps } = found;
  const seen = new Set<string>();
  return steps.flatMap((at): Candidate[] => {
    const note = at.stroke?.notes.find(({ from, bend }) => (from ?? "stroke") !== "stroke" || bend !== undefined);
    if (!note) return [];
    const isBend = note.bend !== undefined;
    const kind = isBend ? "bend" : note.from!;
    if (seen.has(kind)) return [];
    seen.add(kind);
    const struck = steps.filter(({ stroke }) => stroke !== undefined);
    const before = isBend ? at : (struck.findLast(({ index, stroke }) => index < at.index && stroke!.notes.some(({ string }) => string === note.string)) ?? at);
    const bar = barOf(passage, before.from, at.to);
    const title = isBend
      ? `One bend: string ${note.string}, fret ${note.fret}`
      : `One slur: ${SLURS[kind] ?? kind} to fret ${note.fret} on string ${note.string}`;
    const made: Passage = { ...emptyLike(passage, title), bars: [0, 1].map((k) => ({ ...structuredClone(bar), id: `s${k}` })) };
    const others = at.step.strings.filter((string) => string.string !== note.string && excess(string) > 0);
    const value = others.reduce((sum, string) => sum + excess(string), 0) / found.bars;
    return [
      {
        id: `one-slur ${kind}`,
        kind: "one-slur",
        title,
        does: isBend
          ? "Pull it up, hold it, let it back; slowly, against a pitch you trust."
          : "Back and forth, the one note struck, the other by the finger alone.",
        listensFor:
          others.length > 0
            ? `Both notes are clear; string${others.length > 1 ? "s" : ""} ${others.map(({ string }) => string).join(" and ")} beside it stay still.`
            : "Both notes are clear, the strings beside stay still.",
        hand: "fretting",
        focus: { ...placeOf(before, at), strings: [note.string] },
        strokes: "play",
        sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
        why: isBend ? "a bend shoves the strings beside it" : "a finger that leaves plucks its string and brushes the next",
        ...(isBend ? { strain: "bend" as const } : {}),
        value: value + 1,
        usual: 2,
        passage: made,
      },
    ];
  });
}

const SLURS: Readonly<Record<string, string>> = { hammer: "hammer", pull: "pull", slide: "slide", tap: "tap" };
