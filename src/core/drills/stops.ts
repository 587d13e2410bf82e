import { ticksAt } from "../edit/range.ts";
import { fractionOf, TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import type { Bar, Passage, Stroke } from "../passage/schema.ts";
import { countOf } from "../timeline/counts.ts";
import { placeOf } from "./contacts.ts";
import { barOf, emptyLike, meterFor } from "./figure-passage.ts";
import { type At, excess, type Found, isSounding } from "./found.ts";
import type { Candidate } from "./types.ts";

/** A rest is a stop from here on. */
const SHORTEST = TICKS_PER_WHOLE / 8;
const MOST = 2;

/** Up to a rest and silent there; then from stop to stop. */
export function toEachStop(found: Found): Candidate[] {
  const { passage, steps } = found;
  const stops = steps.filter((at) => at.to - at.from >= SHORTEST && at.index > 0 && isStop(at, steps[at.index - 1]!));
  const loudest = stops
    .map((at) => ({ at, value: at.step.strings.reduce((sum, string) => sum + excess(string), 0) }))
    .filter(({ value }) => value > 0)
    .sort((a, b) => b.value - a.value)
    .slice(0, MOST);
  return loudest.map(({ at, value }, i): Candidate => {
    const { from: start } = steps.find(({ step }) => step.bar === at.step.bar)!;
    // From the stop before where it lies in this bar or the one before, else from the bar's beginning.
    const before = stops.findLast(({ index }) => index < at.index);
    const from =
      before && before.to >= ticksAt(passage, { bar: Math.max(0, at.step.bar - 2), tick: 0 }) && before.to < at.from
        ? before.to
        : start < at.from
          ? start
          : steps[at.index - 1]!.from;
    const bar = barOf(passage, from, at.to);
    const where = `bar ${at.step.bar}, ${countOf(ticksOf(at.step.at), passage.bars[at.step.bar - 1]!)}`;
    const title = `To the stop: ${where}`;
    const made: Passage = {
      ...emptyLike(passage, title),
      bars: [
        { ...bar, id: "stop0" },
        { ...structuredClone(bar), id: "stop1" },
      ],
    };
    return {
      id: `to-each-stop ${i + 1}`,
      kind: "to-each-stop",
      title,
      does: `Play up to ${where} and stop there; wait, listen, and go on to the next stop.`,
      listensFor: "Silence on the beat: no string hums on.",
      hand: "both",
      focus: {
        ...placeOf(steps.find((one) => one.from >= from) ?? at, at),
        strings: at.step.strings.filter((string) => excess(string) > 0).map(({ string }) => string),
      },
      strokes: "play",
      sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
      why: "what rings into a rest is heard alone",
      value: (value * stops.length) / found.bars,
      usual: 3,
      passage: made,
    };
  });
}

function isStop(at: At, before: At): boolean {
  return before.step.strings.some(isSounding) && !at.step.strings.some(isSounding) && at.step.strings.every(({ state }) => state !== "free");
}

/** Notes that make a sweep. */
const SWEEP = 3;

/** A sweep or a rake that grows by a string. */
export function stringByString(found: Found): Candidate[] {
  const sweep = sweepIn(found);
  if (sweep) return [drillOf(found, sweep, "sweep")];
  const raked = found.steps.find(({ stroke }) => stroke?.as === "rake" && rakedStrings(stroke).length > 0);
  const next = raked && found.steps.find((at) => at.index > raked.index && at.stroke !== undefined && (at.stroke.as ?? "play") === "play");
  return raked && next ? [drillOf(found, [raked, next], "rake")] : [];
}

/** The longest run of single notes from string to neighbouring string, all struck the same way. */
function sweepIn({ steps }: Found): readonly At[] | null {
  const struck = steps.filter(({ stroke }) => stroke !== undefined);
  let best: readonly At[] = [];
  let run: At[] = [];
  const stringOf = (at: At) =>
    at.stroke!.notes.length === 1 && (at.stroke!.as ?? "play") === "play" && (at.stroke!.notes[0]!.from ?? "stroke") === "stroke"
      ? at.stroke!.notes[0]!.string
      : null;
  const wayOf = ({ step }: At) => step.actions.find(({ does, direction }) => does === "stroke" && direction)?.direction;
  for (const at of struck) {
    const last = run.at(-1);
    const move = last && stringOf(at) !== null && stringOf(last) !== null ? stringOf(at)! - stringOf(last)! : 0;
    const way = run.length > 1 ? stringOf(run[1]!)! - stringOf(run[0]!)! : move;
    const goesOn = last?.to === at.from && Math.abs(move) === 1 && move === way && wayOf(at) !== undefined && wayOf(at) === wayOf(last);
    run = goesOn ? [...run, at] : stringOf(at) === null ? [] : [at];
    if (run.length > best.length) best = run;
  }
  return best.length >= SWEEP ? best : null;
}

function drillOf(found: Found, run: readonly At[], what: "sweep" | "rake"): Candidate {
  const { passage } = found;
  const title = what === "sweep" ? "String by string: the sweep" : "String by string: the rake";
  const bars = what === "sweep" ? grownSweep(run) : grownRake(run[0]!, run[1]!);
  const strings = what === "sweep" ? run.map(({ stroke }) => stroke!.notes[0]!.string) : [...rakedStrings(run[0]!.stroke!)];
  const value = run.reduce((sum, at) => sum + at.step.strings.reduce((own, string) => own + excess(string), 0), 0) / found.bars;
  return {
    id: `string-by-string ${what}`,
    kind: "string-by-string",
    title,
    does:
      what === "sweep"
        ? "Two strings and a rest, three strings and a rest, and so on: one motion of the hand, a finger off as the next comes down."
        : "Into the note over one string, then two, and so on: one motion, each string dead under its finger.",
    listensFor: what === "sweep" ? "Each note alone: the one before is over when the next begins." : "Knocks that lead into one clear note.",
    hand: "both",
    focus: { ...placeOf(run[0]!, run.at(-1)!), strings },
    strokes: "play",
    sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
    why: what === "sweep" ? "notes that run into each other make a chord of it" : "a rake that rings is a chord",
    value,
    usual: 3,
    passage: { ...emptyLike(passage, title), bars: bars.map((bar, k) => ({ ...bar, id: `grow${k}` })) },
  };
}

/** The first two notes, the first three, …, each with as long a rest behind it. */
function grownSweep(run: readonly At[]): Bar[] {
  return run.slice(1).map((_, k): Bar => {
    const own = run.slice(0, k + 2);
    const start = own[0]!.from;
    const length = own.at(-1)!.to - start;
    const strokes = own.map(({ stroke, from, to }): Stroke => ({ ...bare(stroke!), at: fractionOf(from - start), length: fractionOf(to - from) }));
    return { meter: meterFor(2 * length), strokes };
  });
}

function rakedStrings({ strings, notes }: Stroke): readonly number[] {
  return strings ?? notes.map(({ string }) => string);
}

/** One string before the note, then two, …. */
function grownRake(rake: At, target: At): Bar[] {
  const strings = rakedStrings(rake.stroke!);
  const start = rake.from;
  return strings.map((_, k): Bar => {
    const own = strings.slice(strings.length - 1 - k);
    const raked: Stroke = {
      ...bare(rake.stroke!),
      strings: [...own],
      notes: rake.stroke!.notes.filter(({ string }) => own.includes(string)),
      at: "0",
      length: fractionOf(target.from - start),
    };
    const note: Stroke = { ...bare(target.stroke!), at: fractionOf(target.from - start), length: fractionOf(target.to - target.from) };
    return { meter: meterFor(2 * (target.to - start)), strokes: [raked, note] };
  });
}

function bare({ id: _, ...stroke }: Stroke): Stroke {
  return structuredClone(stroke);
}
