import type { PlanDocument, PlannedString } from "../document/plan.ts";
import { planPassage } from "../engine.ts";
import { parsePassage } from "../passage/parse.ts";
import { INSTRUMENT_PRESETS } from "../passage/presets.ts";
import { type Instrument, PASSAGE_VERSION, type Passage, type PassageInput } from "../passage/schema.ts";

/** Short ways to write passages in tests. */

type BarInput = PassageInput["bars"][number];
export type StrokeInput = NonNullable<BarInput["strokes"]>[number];
type NoteInput = NonNullable<StrokeInput["notes"]>[number];

const BY_NAME: Readonly<Record<string, string>> = {
  electric: "Electric guitar",
  acoustic: "Steel-string acoustic",
  nylon: "Nylon-string guitar",
  bass: "Bass, four strings",
  bass5: "Bass, five strings",
  seven: "Electric guitar, seven strings",
};

export function instrument(name: keyof typeof BY_NAME & string): Instrument {
  return INSTRUMENT_PRESETS.find((p) => p.name === BY_NAME[name])!.instrument;
}

/** "5/3" string 5 at fret 3; "5/3p" palm-muted, "5/3x" dead, "5/3~2" finger 2. Several with spaces. */
export function notes(text: string): NoteInput[] {
  return text.split(" ").map((word) => {
    const match = /^(\d)\/(\d+)([px]?)(?:~([1-4T]))?$/.exec(word);
    if (!match) throw new Error(`not a note: ${word}`);
    const [, string, fret, tone, finger] = match;
    return {
      string: Number(string),
      fret: Number(fret),
      ...(tone === "p" ? { tone: "palm" as const } : tone === "x" ? { tone: "ghost" as const } : {}),
      ...(finger ? { finger: finger === "T" ? ("T" as const) : (Number(finger) as 1 | 2 | 3 | 4) } : {}),
    };
  });
}

export function stroke(at: string, length: string, what: string, more: Partial<StrokeInput> = {}): StrokeInput {
  return { at, length, notes: what === "" ? [] : notes(what), ...more };
}

/** Notes one after the other on an even grid; "-" is a rest. */
export function line(unit: number, words: string[]): StrokeInput[] {
  return words.flatMap((word, i) => (word === "-" ? [] : [stroke(`${i}/${unit}`, `1/${unit}`, word.replaceAll("+", " "))]));
}

export interface Setting {
  on?: keyof typeof BY_NAME & string;
  player?: PassageInput["player"];
  gain?: "clean" | "edge" | "high";
  ring?: "written" | "bloom";
  tempo?: number;
  meter?: [number, 2 | 4 | 8];
}

export function passageOf(strokes: StrokeInput[] | StrokeInput[][], setting: Setting = {}): Passage {
  const bars = (Array.isArray(strokes[0]) ? strokes : [strokes]) as StrokeInput[][];
  const parsed = parsePassage({
    format: "rest-hand-passage",
    version: PASSAGE_VERSION,
    title: "test",
    instrument: instrument(setting.on ?? "electric"),
    player: setting.player ?? {},
    ...(setting.gain ? { gain: setting.gain } : {}),
    ring: setting.ring ?? "written",
    tempo: setting.tempo ?? 90,
    bars: bars.map((s) => ({ meter: setting.meter ?? [4, 4], strokes: s })),
  });
  if (!parsed.ok) throw new Error(parsed.faults.map((f) => `${f.place}: ${f.says}`).join("; "));
  return parsed.value;
}

export function plan(strokes: StrokeInput[] | StrokeInput[][], setting: Setting = {}): PlanDocument {
  return planPassage(passageOf(strokes, setting), { why: "everything" });
}

/** The string at the step that begins at a place (bar from 1). */
export function at(document: PlanDocument, bar: number, place: string, string: number): PlannedString {
  const step = document.steps.find((s) => s.bar === bar && s.at === place);
  if (!step) throw new Error(`no step at bar ${bar}, ${place}: ${document.steps.map((s) => `${s.bar}:${s.at}`).join(" ")}`);
  return step.strings[string - 1]!;
}

/** Parts on a string, presses left out: "underside", "tip+palm". */
export function parts(string: PlannedString): string {
  return string.touchedBy
    .filter((t) => t.part !== "press")
    .map((t) => t.part)
    .sort()
    .join("+");
}
