import { XMLBuilder } from "fast-xml-parser";
import type { PlanDocument } from "../../document/plan.ts";
import { HANDS } from "../../hands/parts.ts";
import { barLength } from "../../music/beats.ts";
import { gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../music/ticks.ts";
import { bendOf } from "../../passage/bends.ts";
import type { Fault } from "../../passage/parse.ts";
import type { Bar, Note, Passage, Stroke, WrittenGrip } from "../../passage/schema.ts";
import { openPitches } from "../../passage/settings.ts";
import { countOf } from "../../timeline/counts.ts";
import type { Staves } from "../written.ts";
import { type Element, el } from "./element.ts";
import { type HandWords, PLAN_KEY, planWords } from "./plan-words.ts";
import { SETTINGS_FIELD, settingsText } from "./settings-field.ts";
import { clefs, type Layer, layersOf } from "./staves.ts";
import { isStraight, spelled, type Tuplet, typesOf } from "./values.ts";

/** MusicXML counts in these: ticks of the document. */
export const DIVISIONS = TICKS_PER_WHOLE / 4;

/**
 * The passage as MusicXML 4.0 (W3C Community Group Report, 2021), score-partwise, one part on two staves that say the same, or on
 * one of them. With a plan, the strings each hand damps stand over and under it. Remarks name what the format cannot hold.
 */
export function writeMusicXml(passage: Passage, plan?: PlanDocument, staves: Staves = "both"): { text: string; remarks: Fault[] } {
  const remarks: Fault[] = [];
  const leads = leadsInto(passage);
  const words = plan ? planWords(plan) : [];
  const measures = passage.bars.map((bar, b) => measure(passage, bar, b, words, leads, staves, remarks));
  const score = el(
    "score-partwise",
    [
      el("work", [el("work-title", passage.title)]),
      el("identification", [
        el("encoding", [el("software", "Rest Hand")]),
        el("miscellaneous", [el("miscellaneous-field", settingsText(passage), { name: SETTINGS_FIELD })]),
      ]),
      el("part-list", [el("score-part", [el("part-name", PART_NAMES[passage.instrument.kind])], { id: "P1" })]),
      el("part", measures, { id: "P1" }),
    ],
    { version: "4.0" },
  );
  const builder = new XMLBuilder({ preserveOrder: true, ignoreAttributes: false, format: true, suppressEmptyNode: true, processEntities: true });
  return { text: `<?xml version="1.0" encoding="UTF-8"?>\n${(builder.build([score]) as string).trim()}\n`, remarks };
}

const PART_NAMES = {
  "electric-guitar": "Electric Guitar",
  "acoustic-guitar": "Acoustic Guitar",
  "nylon-guitar": "Classical Guitar",
  "electric-bass": "Electric Bass",
} as const;

type Leads = ReadonlyMap<Note, NonNullable<Note["from"]>>;

/** Notes from which the next one on their string is hammered, pulled or slid to. */
function leadsInto({ bars }: Passage): Leads {
  const leads = new Map<Note, NonNullable<Note["from"]>>();
  const last = new Map<number, Note>();
  for (const bar of bars)
    for (const stroke of bar.strokes)
      for (const note of stroke.notes) {
        const before = last.get(note.string);
        if (before && note.from && note.from !== "stroke" && note.from !== "tap") leads.set(before, note.from);
        last.set(note.string, note);
      }
  return leads;
}

/** What is written at one moment: notes of one stroke that last equally long. */
interface Group {
  start: Ticks;
  length: Ticks;
  stroke: Stroke;
  notes: readonly Note[];
  /** The first group of its stroke carries what belongs to the stroke. */
  leads: boolean;
}

function measure(passage: Passage, bar: Bar, b: number, words: readonly HandWords[], leads: Leads, staves: Staves, remarks: Fault[]): Element {
  const before = passage.bars[b - 1];
  const length = barLength(bar.meter);
  const isNewMeter = !before || before.meter[0] !== bar.meter[0] || before.meter[1] !== bar.meter[1];
  const first = bar.strokes[0];
  const from = bar.pickup && first ? Math.min(...bar.strokes.map((stroke) => ticksOf(stroke.at))) : 0;
  const attributes = [
    b === 0 ? el("divisions", DIVISIONS) : null,
    b === 0 ? el("key", [el("fifths", 0)]) : null,
    isNewMeter ? el("time", [el("beats", bar.meter[0]), el("beat-type", bar.meter[1])]) : null,
    ...(b === 0 ? clefs(passage, staves) : []),
  ].filter((e) => e !== null);
  const content: Element[] = [];
  if (attributes.length > 0) content.push(el("attributes", attributes));
  const tempo = b === 0 ? (bar.tempo ?? passage.tempo) : bar.tempo;
  if (tempo !== undefined) content.push(tempoDirection(tempo, b === 0 ? passage.feel : "straight"));
  content.push(...planDirections(words, b, from), ...(bar.grips ?? []).map((grip) => gripFrame(passage, grip, from)));
  const voices = voicesOf(bar, b, length, remarks);
  const layers = layersOf(voices.length, staves);
  layers.forEach((layer, l) => {
    if (l > 0) content.push(el("backup", [el("duration", length - from)]));
    const written: Element[] = [];
    let at = from;
    for (const group of voices[layer.of] ?? []) {
      if (group.start > at) written.push(...rests(at, group.start - at, layer));
      written.push(...notesOf(passage, group, layer, leads));
      at = group.start + group.length;
    }
    if (at < length) written.push(...rests(at, length - at, layer));
    content.push(...bracketed(written));
  });
  return el("measure", content, { number: b + 1, ...(from > 0 ? { implicit: "yes" } : {}) });
}

/** A grip as a chord frame at its moment, frets counted as in the notes; one that lets go is the chord "none". */
function gripFrame({ instrument }: Passage, { at, chord, notes }: WrittenGrip, from: Ticks): Element {
  const offset = el("offset", Math.max(0, ticksOf(at) - from));
  const root = el("root", [el("root-step", "C")]);
  if (notes.length === 0) return el("harmony", [root, el("kind", "none"), offset], { "print-object": "no" });
  const frame = el("frame", [
    el("frame-strings", instrument.tuning.length),
    el("frame-frets", Math.max(1, ...notes.map(({ fret }) => fret))),
    ...notes.map(({ string, fret, finger }) =>
      el("frame-note", [el("string", string), el("fret", fret), finger === undefined ? null : el("fingering", finger)]),
    ),
  ]);
  // The name stands as text: it may be any, and the root is only there because the format asks for one.
  return el("harmony", [root, el("kind", "other", { text: chord ?? "" }), frame, offset]);
}

function tempoDirection(tempo: number, feel: Passage["feel"]): Element {
  const swing = feel === "straight" ? null : swingOf(feel);
  return el(
    "direction",
    [el("direction-type", [el("metronome", [el("beat-unit", "quarter"), el("per-minute", tempo)])]), el("sound", swing ? [swing] : [], { tempo })],
    { placement: "above" },
  );
}

function swingOf({ swing, ratio }: Exclude<Passage["feel"], "straight">): Element {
  const first = Math.round(ratio * 100);
  const common = gcd(first, 100);
  return el("swing", [el("first", first / common), el("second", 100 / common), el("swing-type", swing === "eighth" ? "eighth" : "16th")]);
}

/** The plan as directions at their moments: the fretting hand over the staff, the picking hand under it. */
function planDirections(plan: readonly HandWords[], b: number, from: Ticks): Element[] {
  const direction = (hand: HandWords["hand"], words: string, at: Ticks) =>
    el("direction", [el("direction-type", [el("words", words, { "font-size": 7 })]), el("offset", at)], {
      placement: hand === "fretting" ? "above" : "below",
    });
  const key = b === 0 && plan.length > 0 ? HANDS.map((hand) => direction(hand, PLAN_KEY[hand], 0)) : [];
  return [...key, ...plan.filter(({ bar }) => bar === b + 1).map(({ hand, says, at }) => direction(hand, says, ticksOf(at) - from))];
}

/** Groups of notes sorted into voices in which nothing overlaps. */
function voicesOf(bar: Bar, b: number, barEnd: Ticks, remarks: Fault[]): Group[][] {
  const groups = bar.strokes.flatMap((stroke): Group[] => {
    const start = ticksOf(stroke.at);
    const isDead = stroke.as !== undefined && stroke.as !== "play";
    const notes = isDead || stroke.strings || stroke.click ? allNotes(stroke) : stroke.notes;
    const lengths = [...new Set(notes.map((note) => ticksOf(note.length ?? stroke.length)))].sort((a, b) => a - b);
    return lengths.map((length, i) => ({
      start,
      length: clipped(length, barEnd - start, () =>
        remarks.push({ place: `bar ${b + 1}, ${countOf(start, bar)}`, says: "a sound over the bar line is cut there" }),
      ),
      stroke,
      notes: notes.filter((note) => ticksOf(note.length ?? stroke.length) === length),
      leads: i === 0,
    }));
  });
  const voices: Group[][] = [];
  for (const group of groups.sort((a, b) => a.start - b.start)) {
    const free = voices.find((voice) => voice.at(-1)!.start + voice.at(-1)!.length <= group.start);
    if (free) free.push(group);
    else voices.push([group]);
  }
  return voices;
}

function clipped(length: Ticks, room: Ticks, onCut: () => void): Ticks {
  if (length > room) onCut();
  return Math.min(length, room);
}

/** Struck and clicked strings without a note of their own stand as x on the open string. */
const CROSSED: unique symbol = Symbol("crossed");
type Crossed = Note & { [CROSSED]?: "crossed" | "clicked" };

function allNotes(stroke: Stroke): Crossed[] {
  const own = new Set([...stroke.notes.map((note) => note.string), ...(stroke.click ?? [])]);
  const crossed = (stroke.strings ?? []).filter((string) => !own.has(string)).map((string): Crossed => ({ string, fret: 0, [CROSSED]: "crossed" }));
  const clicked = (stroke.click ?? []).map((string): Crossed => ({ string, fret: 0, [CROSSED]: "clicked" }));
  return [...stroke.notes, ...crossed, ...clicked];
}

function rests(start: Ticks, ticks: Ticks, { of, voice, staff }: Layer): Element[] {
  const onStaff = staff === null ? null : el("staff", staff);
  if (of > 0) return [el("forward", [el("duration", ticks), el("voice", voice), onStaff])];
  return typesOf(ticks, start).map(({ ticks: part, type, dots, tuplet }) =>
    el("note", [
      el("rest", []),
      el("duration", part),
      el("voice", voice),
      type ? el("type", type) : null,
      ...dots.map(() => el("dot", [])),
      tuplet ? timeModification(tuplet) : null,
      onStaff,
    ]),
  );
}

function timeModification({ actual, normal }: Tuplet): Element {
  return el("time-modification", [el("actual-notes", actual), el("normal-notes", normal)]);
}

/** Brackets over the tuplets of a voice: each goes on until it has filled a straight note value. */
function bracketed(written: readonly Element[]): readonly Element[] {
  let filled = 0;
  let last: Element | null = null;
  let kind = "";
  const end = () => {
    if (last) notationsIn(last).push(el("tuplet", [], { type: "stop", number: 1 }));
    last = null;
  };
  for (const element of written) {
    const content = (element.note ?? []) as Element[];
    if (content.some((e) => "chord" in e)) continue;
    const tuplet = content.find((e) => "time-modification" in e);
    if (!tuplet || JSON.stringify(tuplet) !== kind) end();
    if (!tuplet) continue;
    if (!last) {
      filled = 0;
      kind = JSON.stringify(tuplet);
      notationsIn(element).push(el("tuplet", [], { type: "start", number: 1, bracket: "yes" }));
    }
    last = element;
    filled += Number((content.find((e) => "duration" in e)!.duration as { "#text": string }[])[0]!["#text"]);
    if (isStraight(filled)) end();
  }
  end();
  return written;
}

/** The notations of a note, made when it has none, as rests do. */
function notationsIn(note: Element): Element[] {
  const content = note.note as Element[];
  const own = content.find((e) => "notations" in e);
  if (own) return own.notations as Element[];
  const made = el("notations", []);
  content.push(made);
  return made.notations as Element[];
}

function notesOf(passage: Passage, group: Group, { voice, staff, hasPlaces }: Layer, leads: Leads): Element[] {
  const open = openPitches(passage.instrument);
  const parts = typesOf(group.length, group.start);
  return parts.flatMap(({ ticks, type, dots, tuplet }, p) =>
    [...group.notes]
      .sort((a, c) => a.string - c.string)
      .map((note: Crossed, n) => {
        const { step, alter, octave } = spelled(open[note.string - 1]! + note.fret);
        const isDead = note.tone === "ghost" || note[CROSSED] !== undefined || (group.stroke.as !== undefined && group.stroke.as !== "play");
        return el("note", [
          n > 0 ? el("chord", []) : null,
          el("pitch", [el("step", step), alter === 0 ? null : el("alter", alter), el("octave", octave)]),
          el("duration", ticks),
          p > 0 ? el("tie", [], { type: "stop" }) : null,
          p < parts.length - 1 ? el("tie", [], { type: "start" }) : null,
          el("voice", voice),
          type ? el("type", type) : null,
          ...dots.map(() => el("dot", [])),
          tuplet ? timeModification(tuplet) : null,
          isDead ? el("notehead", "x") : null,
          staff === null ? null : el("staff", staff),
          notations(group, note, n === 0 && p === 0, { begins: p === 0, ends: p === parts.length - 1, hasPlaces }, leads.get(note)),
          note.tone === "palm" && hasPlaces ? el("play", [el("mute", "palm")]) : null,
        ]);
      }),
  );
}

function notations(
  group: Group,
  note: Crossed,
  leads: boolean,
  { begins, ends, hasPlaces }: { begins: boolean; ends: boolean; hasPlaces: boolean },
  into: Note["from"],
): Element {
  const { stroke } = group;
  const isLead = leads && group.leads;
  const technical = [
    isLead && stroke.stroke === "down" ? el("down-bow", []) : null,
    isLead && stroke.stroke === "up" ? el("up-bow", []) : null,
    note.harmonic && begins ? el("harmonic", [el("natural", [])]) : null,
    note.by && begins ? el("pluck", note.by) : isLead && PLUCKED.has(stroke.stroke ?? "") ? el("pluck", stroke.stroke!) : null,
    begins && note.from === "tap" ? el("tap", []) : null,
    typeof note.finger === "number" && begins ? el("fingering", note.finger) : null,
    el("fret", note.fret),
    el("string", note.string),
    begins && note.from === "hammer" ? el("hammer-on", [], { type: "stop", number: 1 }) : null,
    begins && note.from === "pull" ? el("pull-off", [], { type: "stop", number: 1 }) : null,
    ends && into === "hammer" ? el("hammer-on", [], { type: "start", number: 1 }) : null,
    ends && into === "pull" ? el("pull-off", [], { type: "start", number: 1 }) : null,
    ...(begins ? bends(note) : []),
    ...(begins ? otherWords(stroke, note, isLead) : []).map((word) => el("other-technical", word)),
  ];
  return el("notations", [
    begins ? null : el("tied", [], { type: "stop" }),
    ends ? null : el("tied", [], { type: "start" }),
    ends && note.letRing ? el("tied", [], { type: "let-ring" }) : null,
    begins && note.from === "slide" ? el("slide", [], { type: "stop", number: 1 }) : null,
    ends && into === "slide" ? el("slide", [], { type: "start", number: 1 }) : null,
    begins && note.vibrato ? el("ornaments", [el("wavy-line", [], { type: "start" }), el("wavy-line", [], { type: "stop" })]) : null,
    hasPlaces ? el("technical", technical) : null,
    begins && stroke.accent && isLead ? el("articulations", [el("accent", [])]) : null,
  ]);
}

const PLUCKED: ReadonlySet<string> = new Set(["p", "i", "m", "a", "c"]);

/** A bend in its parts: struck bent, drawn up, let back. */
function bends(note: Crossed): Element[] {
  const bend = bendOf(note);
  if (!bend) return [];
  const { from, most, back } = bend;
  const part = (semitones: number, ...way: Element[]) => el("bend", [el("bend-alter", semitones), ...way]);
  return [
    ...(from > 0 ? [part(from, el("pre-bend", []))] : []),
    ...(most > from ? [part(most - from)] : []),
    ...(back === null ? [] : [part(most - back, el("release", []))]),
  ];
}

/** What MusicXML has no element of its own for, as technical words. */
function otherWords(stroke: Stroke, note: Crossed, isLead: boolean): string[] {
  const words: string[] = [];
  if (isLead && stroke.as && stroke.as !== "play") words.push(stroke.as);
  if (isLead && (stroke.stroke === "slap" || stroke.stroke === "pop")) words.push(stroke.stroke);
  if (isLead && stroke.stroke === "none") words.push("no stroke");
  if (isLead && PLUCKED.has(stroke.stroke ?? "")) words.push(`stroke ${stroke.stroke}`, ...(note.by ? ["own finger"] : []));
  if (isLead && stroke.chord) words.push(`chord ${stroke.chord}`);
  if (note[CROSSED]) words.push(note[CROSSED]);
  else if (stroke.strings && !stroke.strings.includes(note.string)) words.push("held");
  if (note.by && stroke.stroke === undefined) words.push("note finger");
  if (note.finger === "T") words.push("thumb over");
  if (note.mute) words.push(`${note.mute} mute`);
  if (typeof note.bend === "object" && note.bend.towards) words.push(`bent to ${note.bend.towards}`);
  if (stroke.notes.length > 0 && stroke.strings && isLead) words.push("strings");
  return words;
}
