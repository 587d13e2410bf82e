import type { TouchedBy } from "../document/plan.ts";
import type { Passage } from "../passage/schema.ts";
import { isChuck } from "../perform/mistakes.ts";
import { countOf } from "../timeline/counts.ts";
import { outcomesOf, type PlannedStages } from "../verdict/verdict.ts";
import { touchWords } from "../words/contacts.ts";
import type { Finding, TakeResult } from "./take.ts";

/** A finding in a player's words. */
export interface Said {
  /** "Bar 2, 3 &": where it begins. */
  place: string;
  /** From 1. */
  bar: number;
  /** Written place in the bar. */
  tick: number;
  says: string;
  /** What would have kept the string still. */
  keeper: TouchedBy | null;
  /** A place of a string that cannot be told has none. */
  finding: Finding | null;
  fromMs: number;
  toMs: number;
}

export type Judged = Extract<TakeResult, { kind: "judged" }>;

/** What a take says, in its order: first what went wrong, then what the plan itself lets ring, then what cannot be told. */
export interface SaidTake {
  wrong: Said[];
  planned: Said[];
  untold: Said[];
}

/** A take in a player's words; of a passage that was played several times over, its bars are those of once. */
export function saidOf(passage: Passage, planned: PlannedStages, result: Judged, times = 1): SaidTake {
  const { steps } = planned.timeline;
  const outcomes = outcomesOf(planned);
  const begun = (finding: Finding) =>
    finding.string === undefined
      ? finding.step
      : (result.strokes.findLast(({ ms, step }) => ms !== null && ms <= finding.fromMs + 20 && step >= finding.step)?.step ?? finding.step);
  const at = (step: number) => {
    const { bar, atTicks } = steps[step]!;
    const once = passage.bars.length / times;
    const time = times === 1 ? "" : ` the ${ordinal(1 + Math.floor(bar / once))} time`;
    const own = 1 + (bar % once);
    return { bar: own, tick: atTicks, place: `Bar ${own}, ${countOf(atTicks, passage.bars[bar]!)}${time}` };
  };
  const said = (finding: Finding): Said => {
    const step = begun(finding);
    const touches = finding.kind === "stray" || finding.kind === "open" ? outcomes[step]!.strings[finding.string! - 1]!.touchedBy : [];
    const keeper = touches.find(({ part }) => part !== "press") ?? touches[0] ?? null;
    return {
      ...at(step),
      says: words(finding, keeper, isChuck(steps[step]!)),
      keeper,
      finding: { ...finding, step },
      fromMs: finding.fromMs,
      toMs: finding.toMs,
    };
  };
  const strays = (isPlanned: boolean) => result.findings.filter((finding) => (finding.planned ?? false) === isPlanned).map(said);
  const untold = result.untold.map(
    ({ step, string, fromMs, toMs }): Said => ({
      ...at(step),
      says: `Whether string ${string} rings on cannot be told: something else sounds at its pitch. Play the two apart to hear it.`,
      keeper: null,
      finding: null,
      fromMs,
      toMs,
    }),
  );
  return { wrong: strays(false), planned: strays(true), untold };
}

function words({ kind, string, fromMs, toMs, byMs = 0, planned, over }: Finding, keeper: TouchedBy | null, isDead: boolean): string {
  const stroke = isDead ? "chuck" : "stroke";
  if (kind === "late") return byMs > 0 ? `This ${stroke} came ${byMs} ms late.` : `This ${stroke} came ${-byMs} ms early.`;
  if (kind === "missed") return `Nothing was heard of this ${stroke}.`;
  if (kind === "open") return `The note on string ${string} rang open: it should be muffled${keeper ? `, by ${touchWords(keeper)}` : ""}.`;
  if (kind === "hole") return `The note on string ${string} ended early: there is a hole before what follows.`;
  if (kind === "silent") return `The note on string ${string} did not speak.`;
  const long = `String ${string} rang ${over ? "on " : ""}for ${((toMs - fromMs) / 1000).toFixed(1)} s where it should be still`;
  if (planned) return `${long}; the plan itself lets it ring, another fingering takes that away.`;
  return keeper ? `${long}. What keeps it: ${touchWords(keeper)}.` : `${long}.`;
}

/** Up-strokes that are so far off are told, and that are so much softer or louder: clearly, from there on. */
const UNEVEN_UP_MS = 8;
const UNEVEN_UP_DB = 3;
const CLEARLY_DB = 6;

/** What is uneven in the up-strokes, in a sentence; nothing where they are as the down-strokes. */
function upsOf({ upMs, upDb }: Pick<Judged, "upMs" | "upDb">): string {
  const late = upMs !== null && Math.abs(upMs) >= UNEVEN_UP_MS ? `come ${Math.abs(Math.round(upMs))} ms ${upMs > 0 ? "late" : "early"}` : "";
  const how =
    upDb !== null && Math.abs(upDb) >= UNEVEN_UP_DB ? `${Math.abs(upDb) < CLEARLY_DB ? "a little" : "clearly"} ${upDb < 0 ? "softer" : "louder"}` : "";
  if (late && how) return ` Up-strokes ${late} against down-strokes, and are ${how}.`;
  if (late) return ` Up-strokes ${late} against down-strokes.`;
  return how ? ` Up-strokes are ${how} than down-strokes.` : "";
}

const UNJUDGED = {
  silence: "Nothing is to be heard in this take.",
  another: "This does not sound like this passage: another one, another tuning, or too much else in it.",
} as const;

/** What a whole take is like, in one sentence or two. */
export function summaryOf(passage: Pick<Passage, "tempo">, result: TakeResult): string {
  if (result.kind !== "judged") return UNJUDGED[result.kind];
  const count = (kind: Finding["kind"]) => result.findings.filter((finding) => finding.kind === kind && !finding.planned).length;
  const parts = [
    [count("stray"), "string rang that should be still", "strings rang that should be still"],
    [count("open"), "muffled note rang open", "muffled notes rang open"],
    [count("silent"), "note did not speak", "notes did not speak"],
    [count("missed"), "stroke is not to be heard", "strokes are not to be heard"],
    [count("hole"), "note ended early", "notes ended early"],
    [count("late"), "stroke came off its beat", "strokes came off their beat"],
  ] as const;
  const found = parts.filter(([many]) => many > 0).map(([many, one, more]) => `${many} ${many === 1 ? one : more}`);
  const evenMs = evenMsOf(result.strokes);
  const even = evenMs === null ? "" : ` Half of the strokes are within ${evenMs} ms of an even beat.`;
  const tempo = Math.abs(result.tempo / passage.tempo - 1) > 0.03 ? ` Played at ${result.tempo} quarters a minute; written are ${passage.tempo}.` : "";
  const clipped = result.clipped > 3 ? " It is recorded too loud and clipped: turn it down, faint rings are hidden." : "";
  return `${found.length === 0 ? "Only what was meant rang." : `${list(found)}.`}${even}${upsOf(result)}${tempo}${clipped}`;
}

/** Half of the strokes are so near an even beat, in whole ms; null where too few were heard. */
export function evenMsOf(strokes: Judged["strokes"]): number | null {
  const offs = strokes.flatMap(({ offMs }) => (offMs === null ? [] : [Math.abs(offMs)])).sort((a, b) => a - b);
  return offs.length > 0 ? Math.max(1, Math.round(offs[Math.floor(offs.length / 2)]!)) : null;
}

function ordinal(n: number): string {
  const ending = n % 100 >= 11 && n % 100 <= 13 ? "th" : ({ 1: "st", 2: "nd", 3: "rd" }[n % 10] ?? "th");
  return `${n}${ending}`;
}

function list(items: readonly string[]): string {
  return items.length < 2 ? (items[0] ?? "") : `${items.slice(0, -1).join(", ")} and ${items.at(-1)}`;
}
