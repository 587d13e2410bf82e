import { ticksOf } from "../music/ticks.ts";
import type { Bar, Note, Passage, Stroke } from "../passage/schema.ts";
import { gestureAt } from "../verdict/gestures.ts";
import { type At, excess, type Found, keepers, keptBy } from "./found.ts";
import { strainAt } from "./gestures.ts";
import type { Candidate, Focus } from "./types.ts";

/** Bars of a passage that are enough for a drill of strokes. */
const BARS = 4;
/** Strings that make a stroke a strum. */
const STRUM = 3;
/** A hand that does so many things a bar besides playing deserves time alone. */
const BUSY_HAND = 2;
/** Neither hand alone: a hand that holds less of the strings than this share is no partner. */
const PARTNER_SHARE = 0.1;

/** What a drill of strokes gives where nothing of it would ring, in dB a bar. */
const LEAST = 4;
/** What one change of a hand is worth, in dB a bar. */
const PER_GESTURE = 4;
/** Of all that is kept from ringing, the palm's share from which it is worth its own drill. */
const PALM_SHARE = 0.25;

function excessAt({ step }: At): number {
  return step.strings.reduce((sum, string) => sum + excess(string), 0);
}

/** What is done with all strokes of a passage, or with all of them in its first bars. */
function bars(found: Found): { passage: Passage; focus: Focus; steps: readonly At[] } {
  const count = Math.min(BARS, found.bars);
  const steps = found.steps.filter(({ step }) => step.bar <= count);
  const { pins: _, treatments: _treatments, ...rest } = found.passage;
  const strings = found.passage.instrument.tuning.map((_string, s) => s + 1);
  const last = steps.at(-1);
  return {
    passage: { ...rest, bars: structuredClone(found.passage.bars.slice(0, count)) },
    focus: { fromBar: 1, fromAt: steps[0]?.step.at ?? "0", toBar: last?.step.bar ?? 1, toAt: last?.step.at ?? "0", strings },
    steps,
  };
}

function strokesOf(all: readonly Bar[]): Stroke[] {
  return all.flatMap(({ strokes }) => strokes);
}

const isDead = ({ as = "play" }: Stroke) => as !== "play";

/** What an arm does that strums; fingers pluck. */
const SWINGS: ReadonlySet<string> = new Set(["stroke", "brush", "chuck"]);
/** From this share of strokes on across chords it is strummed. */
const STRUMMED_SHARE = 0.25;

/** A passage in which chords are struck across, or strokes are dead. */
function isStrummed({ steps, passage }: Found): boolean {
  const struck = steps.filter(({ stroke }) => stroke !== undefined);
  const across = struck.filter(({ step }) => (step.struck?.length ?? 0) >= STRUM && step.actions.some(({ does }) => SWINGS.has(does))).length;
  return across >= STRUMMED_SHARE * struck.length || strokesOf(passage.bars).some(isDead);
}

function fretted({ notes }: Stroke): Note[] {
  return notes.flatMap(({ string, fret, finger }) => (fret > 0 ? [{ string, fret, ...(finger === undefined ? {} : { finger }) }] : []));
}

/** All strings deadened, only the strokes. */
export function deadGroove(found: Found): Candidate[] {
  if (!isStrummed(found)) return [];
  const { passage, focus, steps } = bars(found);
  // The hand lies in the first shape of the music, and stays there.
  const [first] = strokesOf(passage.bars)
    .flatMap((stroke) => [fretted(stroke)].filter((own) => own.length > 0))
    .sort((a, b) => Number(b.length > 1) - Number(a.length > 1));
  const shape = first ?? [];
  const struck = new Map(steps.map(({ step }) => [`${step.bar} ${ticksOf(step.at)}`, step.struck]));
  for (const [b, bar] of passage.bars.entries()) {
    delete bar.grips;
    bar.strokes = bar.strokes.map((stroke): Stroke => {
      const { accent: _, click: _click, chord: _chord, notes, ...rest } = stroke;
      const strings = struck.get(`${b + 1} ${ticksOf(stroke.at)}`) ?? stroke.strings ?? notes.map(({ string }) => string);
      return {
        ...rest,
        as: stroke.as === "chuck" ? "chuck" : "ghost",
        strings: [...strings].sort((x, y) => y - x),
        notes: stroke.as === "chuck" ? [] : shape.map((note) => ({ ...note })),
      };
    });
  }
  const dead = strokesOf(found.passage.bars).filter(isDead).length / found.bars;
  const atDead = found.steps.filter(({ stroke }) => stroke !== undefined && isDead(stroke)).reduce((sum, at) => sum + excessAt(at), 0);
  const title = "Dead groove";
  return [
    {
      id: "dead-groove",
      kind: "dead-groove",
      title,
      does: "Rest the fretting hand on all strings, without pressure, and play the strokes alone.",
      listensFor: dead > 0 ? "Even strokes, and the dead ones on their beats: nothing has a pitch." : "Even strokes, down as loud as up: nothing has a pitch.",
      hand: "picking",
      focus,
      strokes: "play",
      sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
      why: dead > 0 ? "the groove is in its dead strokes" : "the strokes come before the strings",
      value: Math.max(LEAST, atDead / found.bars),
      usual: 2,
      passage: { ...passage, title },
    },
  ];
}

/** Strokes alone over open strings: the picking hand cannot lean on the fretting hand. */
export function openStrings(found: Found): Candidate[] {
  const isPalm = keptBy(found, ({ hand, part }) => hand === "picking" && part === "palm");
  const muted = strokesOf(found.passage.bars).some(({ notes }) => notes.some(({ tone }) => tone === "palm"));
  const all = keptBy(found, () => true);
  if (!muted && (isPalm < PALM_SHARE * all || isPalm === 0)) return [];
  const { passage, focus } = bars(found);
  for (const bar of passage.bars) {
    delete bar.grips;
    bar.strokes = bar.strokes
      .filter(({ notes }) => notes.every(({ from = "stroke" }) => from === "stroke"))
      .map(({ chord: _, ...stroke }) => ({ ...stroke, notes: stroke.notes.map(opened) }));
  }
  const title = "Open strings";
  return [
    {
      id: "open-strings",
      kind: "open-strings",
      title,
      does: "The strokes alone over open strings; the fretting hand stays off.",
      listensFor: "The direction of each stroke, and the strings that the palm keeps: it must do that alone.",
      hand: "picking",
      focus,
      strokes: "play",
      sounds: { right: { damping: "picking" }, fails: { damping: "none" } },
      why: "the fretting hand cannot cheat",
      value: isPalm + (muted ? 1 : 0),
      usual: 2,
      passage: { ...passage, title, player: { ...passage.player, damps: "picking" } },
    },
  ];
}

function opened({ string, tone, mute }: Note): Note {
  return { string, fret: 0, ...(tone ? { tone } : {}), ...(mute ? { mute } : {}) };
}

/** The fretting hand alone, to the click. */
export function silentHand(found: Found): Candidate[] {
  const gestures = found.steps.filter(({ step }) => gestureAt(step, "fretting") !== null).length / found.bars;
  if (gestures < BUSY_HAND) return [];
  const { passage, focus } = bars(found);
  const title = "Silent hand";
  const strain = found.steps.map(strainAt).find((one) => one !== null);
  return [
    {
      id: "silent-hand",
      kind: "silent-hand",
      title,
      does: "The fretting hand's grips and changes to the click, without a stroke.",
      listensFor: "Nothing at all: a finger that plucks as it leaves, or hammers as it comes, is heard.",
      hand: "fretting",
      focus,
      strokes: "silent",
      sounds: { right: { damping: "planned" }, fails: { damping: "picking" } },
      why: `${Math.round(10 * gestures) / 10} changes of this hand a bar`,
      ...(strain ? { strain } : {}),
      value: PER_GESTURE * gestures,
      usual: 2,
      passage: { ...passage, title },
    },
  ];
}

/** The passage with one hand's damping: what rings now is the other hand's. */
export function oneHand(found: Found): Candidate[] {
  const share = (hand: "fretting" | "picking") =>
    found.steps.reduce(
      (sum, { step }) =>
        sum +
        step.strings.reduce(
          (own, string) => own + (keepers(string).length > 0 && keepers(string).every((touch) => touch.hand === hand) ? excess(string) : 0),
          0,
        ),
      0,
    );
  const [fretting, picking] = [share("fretting"), share("picking")];
  const all = fretting + picking;
  if (all === 0 || Math.min(fretting, picking) < PARTNER_SHARE * all) return [];
  const hand = fretting >= picking ? "fretting" : "picking";
  const other = hand === "fretting" ? "picking" : "fretting";
  const { passage, focus } = bars(found);
  const title = `One hand: the ${hand} hand damps`;
  const held = found.passage.instrument.tuning
    .map((_, s) => s + 1)
    .filter((string) =>
      found.steps.some(
        ({ step }) =>
          excess(step.strings[string - 1]!) > 0 &&
          keepers(step.strings[string - 1]!).every((touch) => touch.hand === other) &&
          keepers(step.strings[string - 1]!).length > 0,
      ),
    );
  return [
    {
      id: `one-hand ${hand}`,
      kind: "one-hand",
      title,
      does: `Play it while only the ${hand} hand keeps strings quiet; the ${other} hand just plays.`,
      listensFor: `Which strings ring now${held.length > 0 ? ` (${held.join(", ")})` : ""}: those the ${other} hand holds.`,
      hand,
      focus,
      strokes: "play",
      sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
      why: "both hands share the work",
      value: Math.min(fretting, picking) / found.bars,
      usual: 2,
      passage: { ...passage, title, player: { ...passage.player, damps: hand } },
    },
  ];
}

/** Ghosts only, with the chords changing inside. */
export function changeWhileScratching(found: Found): Candidate[] {
  const ghosts = strokesOf(found.passage.bars).filter(({ as }) => as === "ghost").length;
  const shapes = new Set(
    strokesOf(found.passage.bars).flatMap(({ notes }) =>
      notes.length > 1
        ? [
            notes
              .map(({ string, fret }) => `${string}/${fret}`)
              .sort()
              .join(" "),
          ]
        : [],
    ),
  );
  if (ghosts === 0 || shapes.size < 2) return [];
  const { passage, focus, steps } = bars(found);
  for (const bar of passage.bars)
    bar.strokes = bar.strokes.map((stroke): Stroke => {
      const { accent: _, click: _click, ...rest } = stroke;
      return {
        ...rest,
        as: "ghost",
        strings: stroke.strings ?? stroke.notes.map(({ string }) => string).sort((a, b) => b - a),
        notes: stroke.notes.map(({ string, fret, finger }) => ({ string, fret, ...(finger === undefined ? {} : { finger }) })),
      };
    });
  const title = "Change while scratching";
  const ghosted = steps.filter(({ stroke }) => stroke?.as === "ghost");
  const value = ghosted.reduce((sum, at) => sum + excessAt(at), 0) / passage.bars.length;
  return [
    {
      id: "change-while-scratching",
      kind: "change-while-scratching",
      title,
      does: "Every stroke a ghost; the hand changes its chords inside, resting on the strings.",
      listensFor: "No open string comes through, least of all at a change.",
      hand: "fretting",
      focus,
      strokes: "play",
      sounds: { right: { damping: "planned" }, fails: { damping: "none" } },
      why: "a hand that lifts to change lets the strings ring",
      value,
      usual: 3,
      passage: { ...passage, title },
    },
  ];
}

/** All of it, from slow to the goal; and once, cold, where the goal is near. */
export function wholes(found: Found, isNear: boolean): Candidate[] {
  const { pins, treatments: _, ...rest } = found.passage;
  const passage: Passage = { ...rest, ...(pins ? { pins } : {}), bars: structuredClone(found.passage.bars) };
  const last = found.steps.at(-1);
  const focus: Focus = {
    fromBar: 1,
    fromAt: found.steps[0]?.step.at ?? "0",
    toBar: last?.step.bar ?? 1,
    toAt: last?.step.at ?? "0",
    strings: found.passage.instrument.tuning.map((_string, s) => s + 1),
  };
  const common = { hand: "both", focus, strokes: "play", sounds: { right: { damping: "planned" }, fails: { damping: "none" } }, passage } as const;
  const whole: Candidate = {
    ...common,
    id: "whole",
    kind: "whole",
    title: "The whole",
    does: "All of it, slowly enough to be clean, then a step faster.",
    listensFor: "Everything: what sounds is meant, what is not meant is silent.",
    why: "parts are for the whole",
    value: 0,
    usual: 5,
  };
  const once: Candidate = {
    ...common,
    id: "once",
    kind: "once",
    title: "Once, cold",
    does: "One time through at the goal, as if someone listened.",
    listensFor: "What comes without a second try.",
    why: "the goal is near",
    value: 0,
    usual: 1,
  };
  return isNear ? [whole, once] : [whole];
}
