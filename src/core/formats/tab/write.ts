import { barLength } from "../../music/beats.ts";
import { gcd, TICKS_PER_WHOLE, type Ticks, ticksOf } from "../../music/ticks.ts";
import { bendOf } from "../../passage/bends.ts";
import type { Fault } from "../../passage/parse.ts";
import type { Bar, Note, Passage, Stroke } from "../../passage/schema.ts";
import { settingsOf } from "../../passage/settings.ts";
import { countOf } from "../../timeline/counts.ts";
import { strokeDirections } from "../../timeline/strokes.ts";

const LINE_WIDTH = 96;

/**
 * The passage as plain-text tablature: strings with the tuning on the left, palm-mute spans and strokes above, counts
 * below. Remarks name what the notation cannot hold.
 */
export function writeTab(passage: Passage): { text: string; remarks: Fault[] } {
  const remarks: Fault[] = [];
  const bars = passage.bars.map((bar, b) => barText(passage, bar, b, remarks));
  const label = Math.max(...passage.instrument.tuning.map((name) => name.length));
  const lines: string[] = [passage.title, `Tempo: ${Math.round(passage.tempo)}`, ""];
  for (let b = 0; b < bars.length; ) {
    let width = label + 1;
    const row: BarText[] = [];
    while (b < bars.length && (row.length === 0 || width + bars[b]!.width + 1 <= LINE_WIDTH)) {
      width += bars[b]!.width + 1;
      row.push(bars[b++]!);
    }
    const over = (part: (bar: BarText) => string) => `${" ".repeat(label + 1)}${row.map((bar) => part(bar).padEnd(bar.width)).join(" ")}`.trimEnd();
    for (const line of [over((bar) => bar.meter), over((bar) => bar.palm), over((bar) => bar.strokes)]) if (line.trim() !== "") lines.push(line);
    passage.instrument.tuning.forEach((name, s) => {
      lines.push(`${name.padEnd(label)}|${row.map((bar) => bar.strings[s]).join("|")}|`);
    });
    lines.push(
      over((bar) => bar.counts),
      "",
    );
  }
  if (passage.instrument.capo > 0) remarks.push({ place: "file", says: `the capo at fret ${passage.instrument.capo} is left out` });
  if (passage.feel !== "straight") remarks.push({ place: "file", says: "the swing is left out" });
  remarks.push({ place: "file", says: "lengths are left out: a note lasts up to the next one; so are grips, player, gain, pins, treatments and tags" });
  return { text: `${lines.join("\n")}\n`, remarks };
}

interface BarText {
  width: number;
  meter: string;
  palm: string;
  strokes: string;
  strings: string[];
  counts: string;
}

function barText(passage: Passage, bar: Bar, b: number, remarks: Fault[]): BarText {
  const strings = passage.instrument.tuning.length;
  const length = barLength(bar.meter);
  const beat = TICKS_PER_WHOLE / bar.meter[1];
  const grid = gridOf(bar, beat);
  const slots = length / grid;
  const cells = bar.strokes.map((stroke) => ({ slot: Math.round(ticksOf(stroke.at) / grid), stroke, marks: marksOf(stroke, strings) }));
  const widest = Math.max(2, ...cells.flatMap(({ marks }) => marks.map((mark) => mark.length + 1)));
  const column = (slot: number) => 1 + slot * widest;
  const width = 1 + slots * widest;
  const lanes = Array.from({ length: strings }, () => new Array<string>(width).fill("-"));
  const signs = (fill: string) => new Array<string>(width).fill(fill);
  const [palm, way, counts] = [signs(" "), signs(" "), signs(" ")];
  const ways = strokeDirections(bar, settingsOf(passage), strings);
  cells.forEach(({ slot, stroke, marks }, i) => {
    marks.forEach((mark, s) => {
      // A slur's or slide's letter stands before the fret: the fret keeps its column.
      const lead = /^[hp/t]/.test(mark) ? 1 : 0;
      for (let k = 0; k < mark.length; k++) lanes[s]![column(slot) - lead + k] = mark[k]!;
    });
    if (stroke.stroke === "down" || stroke.stroke === "up") way[column(slot)] = ways[i] === "down" ? "D" : "U";
    if (isUnderPalm(stroke)) {
      const end = Math.min(width - 1, column(slot) + widest - 1);
      for (let k = column(slot); k < end; k++) palm[k] = "-";
      palm[column(slot)] = "P";
      palm[column(slot) + 1] = "M";
    }
    lossOf(stroke, bar, b, remarks);
  });
  for (let slot = 0; slot < slots; slot++) {
    const tick = slot * grid;
    const word =
      tick % beat === 0 ? String(tick / beat + 1) : tick % beat === beat / 2 ? "&" : tick % beat === beat / 4 ? "e" : tick % beat === (3 * beat) / 4 ? "a" : "";
    for (let k = 0; k < word.length; k++) counts[column(slot) + k] = word[k]!;
  }
  const before = passage.bars[b - 1];
  const isNew = before ? before.meter.join() !== bar.meter.join() : bar.meter.join() !== "4,4";
  if (bar.tempo !== undefined && b > 0) remarks.push({ place: `bar ${b + 1}`, says: `the tempo of ${bar.tempo} is left out` });
  if (bar.pickup) remarks.push({ place: `bar ${b + 1}`, says: "the pick-up is written as a whole bar" });
  return {
    width,
    meter: isNew ? ` ${bar.meter.join("/")}` : "",
    palm: palm.join(""),
    strokes: way.join(""),
    strings: lanes.map((lane) => lane.join("")),
    counts: counts.join(""),
  };
}

/** The coarsest grid of the bar's strokes, no finer than the counts can name: a quarter of a beat. Finer bars are spaced by their own grid. */
function gridOf(bar: Bar, beat: Ticks): Ticks {
  return bar.strokes.reduce((grid, stroke) => gcd(grid, ticksOf(stroke.at)), beat / 2);
}

function isUnderPalm(stroke: Stroke): boolean {
  return (stroke.as ?? "play") === "play" && stroke.notes.some((note) => note.tone === "palm");
}

/** What stands on each string, string 1 first. */
function marksOf(stroke: Stroke, strings: number): string[] {
  const isDead = stroke.as !== undefined && stroke.as !== "play";
  return Array.from({ length: strings }, (_, s) => {
    const note = stroke.notes.find((n) => n.string === s + 1);
    if (isDead) return (stroke.strings ?? stroke.notes.map((n) => n.string)).includes(s + 1) ? "x" : "";
    return note ? markOf(note) : "";
  });
}

const FROM: Readonly<Record<string, string>> = { hammer: "h", pull: "p", slide: "/", tap: "t" };

function markOf(note: Note): string {
  const lead = FROM[note.from ?? "stroke"] ?? "";
  if (note.tone === "ghost") return `${lead}(${note.fret})`;
  if (note.harmonic) return `${lead}<${note.fret}>`;
  return `${lead}${note.fret}${bendText(note)}${note.vibrato ? "~" : ""}`;
}

/** "b9" up to the sound of fret 9, "r7" let back to that of 7. */
function bendText(note: Note): string {
  const bend = bendOf(note);
  if (!bend) return "";
  const whole = (semitones: number) => note.fret + Math.round(semitones);
  return `b${whole(Math.max(1, bend.back || bend.most))}${bend.back === 0 ? `r${note.fret}` : ""}`;
}

function lossOf(stroke: Stroke, bar: Bar, b: number, remarks: Fault[]): void {
  const place = `bar ${b + 1}, ${countOf(ticksOf(stroke.at), bar)}`;
  const lost: string[] = [];
  if (stroke.as === "chuck" || stroke.as === "click" || stroke.as === "rake") lost.push(`the ${stroke.as} is written as dead notes`);
  if (stroke.as && stroke.as !== "play" && stroke.notes.length > 0) lost.push("what the hand holds through the dead stroke");
  if (stroke.click) lost.push("the click beside it");
  if (stroke.accent) lost.push("the accent");
  if (stroke.chord) lost.push(`the chord name ${stroke.chord}`);
  if (stroke.stroke && stroke.stroke !== "down" && stroke.stroke !== "up") lost.push(`the stroke ${stroke.stroke}`);
  if (stroke.strings && (stroke.as ?? "play") === "play") lost.push("the strings it goes over");
  if (stroke.notes.some((note) => note.finger !== undefined)) lost.push("fingers");
  if (stroke.notes.some((note) => note.letRing)) lost.push("let ring");
  if (stroke.notes.some((note) => note.by)) lost.push("picking fingers");
  if (isUnderPalm(stroke) && stroke.notes.some((note) => note.tone !== "palm")) lost.push("that only some notes are palm-muted");
  if (stroke.notes.some((note) => note.mute)) lost.push("how firmly the palm lies");
  const bends = stroke.notes.map((note) => ({ bend: bendOf(note), usual: bendOf({ bend: 1, string: note.string }) }));
  if (bends.some(({ bend }) => bend !== null && bend.from > 0)) lost.push("that a bent string is struck bent");
  if (bends.some(({ bend }) => bend !== null && !(Number.isInteger(bend.most) && Number.isInteger(bend.back ?? 0)))) lost.push("quarter-tones of bends");
  if (bends.some(({ bend, usual }) => bend !== null && bend.side !== usual?.side)) lost.push("to which side a string is bent");
  if (lost.length > 0) remarks.push({ place, says: `left out: ${lost.join(", ")}` });
}
