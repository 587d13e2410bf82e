import { backbeats, barLength, beatsOf, beatTicks } from "../music/beats.ts";
import { fractionOf, TICKS_PER_WHOLE, ticksOf } from "../music/ticks.ts";
import { type Pattern, type PatternPlace, parsePattern } from "../passage/pattern.ts";
import type { Note, Rule, Stroke } from "../passage/schema.ts";
import { setTone } from "../passage/tones.ts";
import { strokeDirections } from "../timeline/strokes.ts";
import { type Draft, deaden, isPlayed } from "./draft.ts";
import type { RuleReport } from "./report.ts";
import { strum } from "./strum.ts";

type Rules = { [K in Rule["kind"]]: (draft: Draft, rule: Extract<Rule, { kind: K }>, bars: readonly number[], kept: ReadonlySet<string>) => RuleReport };

const told = (changed: number, says: string, none = "Nothing to change here."): RuleReport => ({ changed, says: changed > 0 ? says : none, clashes: [] });
const times = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;
const SIXTEENTH = TICKS_PER_WHOLE / 16;
const EIGHTH = TICKS_PER_WHOLE / 8;
const UNITS = { eighth: EIGHTH, triplet: TICKS_PER_WHOLE / 12, sixteenth: SIXTEENTH } as const;

const RULES: Rules = {
  /** Notes alone, as a start: dead strokes that hold nothing go, everything else is played open. Strokes in `kept` stay. */
  plain(draft, _rule, bars, kept) {
    let changed = 0;
    for (const b of bars) {
      const bar = draft.bars[b]!;
      bar.strokes = bar.strokes.filter((stroke) => {
        if (stroke.notes.length > 0 || kept.has(stroke.id ?? "")) return true;
        changed++;
        return false;
      });
      for (const stroke of bar.strokes) if (makePlain(stroke)) changed++;
    }
    return told(changed, `${times(changed, "stroke")} back to plain notes`);
  },

  pattern(draft, rule, bars) {
    const read = parsePattern(rule.pattern);
    return read.ok ? strum(draft, read.pattern, bars) : told(0, "", read.says);
  },

  strokes(draft, { school, order }, bars) {
    if (draft.settings.playsWith === "fingers" || draft.settings.playsWith === "slap")
      return told(0, "", "Fingers pluck: down and up are for a pick or a thumb that strums.");
    let changed = 0;
    let place = 0;
    for (const b of bars) {
      const bar = draft.bars[b]!;
      const open = { ...bar, strokes: bar.strokes.map(({ stroke: _, ...rest }) => rest as Stroke) };
      const ways = strokeDirections(open, { ...draft.settings, playsWith: "pick", strokes: school }, draft.strings);
      bar.strokes.forEach((stroke, s) => {
        if (stroke.stroke === "none") return;
        const way = school === "free" && order ? (order[place++ % order.length] === "d" ? "down" : "up") : ways[s]!;
        if (stroke.stroke !== way) changed++;
        stroke.stroke = way;
      });
    }
    const words = {
      pendulum: "as the pendulum swings",
      down: "all down",
      economy: "on the way to the next string",
      free: (order ?? "ddud").toUpperCase().split("").join(" "),
    };
    return told(changed, `${times(changed, "stroke")} ${words[school]}`);
  },

  backbeat(draft, { as }, bars) {
    let changed = 0;
    for (const b of bars)
      for (const tick of backbeats(draft.bars[b]!.meter)) {
        const stroke = draft.strokeAt(b, tick);
        if (stroke?.as === as) continue;
        if (stroke) deaden(stroke, as, draft.all());
        else draft.dead(b, tick, as, draft.all(), null, EIGHTH);
        changed++;
      }
    return told(changed, `${times(changed, as)} on the backbeat`);
  },

  ghosts(draft, { unit }, bars) {
    let changed = 0;
    for (const b of bars)
      for (let tick = 0; tick < barLength(draft.bars[b]!.meter); tick += UNITS[unit]) {
        if (draft.strokeAt(b, tick) || !draft.held(b, tick)) continue;
        draft.dead(b, tick, "ghost", draft.across(draft.held(b, tick)), null, UNITS[unit]);
        changed++;
      }
    return told(changed, `${times(changed, "ghost stroke")} on the empty ${unit}s`);
  },

  "muted-roots"(draft, _rule, bars) {
    let changed = 0;
    eachPlayed(draft, bars, (stroke) => {
      const lowest = Math.max(...stroke.notes.map((note) => note.string));
      for (const note of stroke.notes) if (setTone(note, note.string === lowest && isBassString(draft, note.string) ? "palm" : "open")) changed++;
    });
    return told(changed, `${times(changed, "note")}: bass under the palm, the tune open`);
  },

  "palm-but-accents"(draft, _rule, bars) {
    let changed = 0;
    let accents = 0;
    eachPlayed(draft, bars, (stroke) => {
      if (stroke.accent) accents++;
      for (const note of stroke.notes) if (note.tone !== "ghost" && setTone(note, stroke.accent ? "open" : "palm")) changed++;
    });
    return told(changed, `${times(changed, "note")} changed: all under the palm${accents > 0 ? `, ${times(accents, "accent")} open` : ""}`);
  },

  "shuffle-ups"(draft, _rule, bars) {
    let changed = 0;
    const wanted = new Set(bars);
    for (const b of bars)
      for (const stroke of [...draft.bars[b]!.strokes]) {
        const tick = ticksOf(stroke.at);
        const { meter } = draft.bars[b]!;
        if (!isPlayed(stroke) || tick % beatTicks(meter) !== 0) continue;
        const [bar, at] = tick >= EIGHTH ? [b, tick - EIGHTH] : [b - 1, barLength(draft.bars[b - 1]?.meter ?? meter) - EIGHTH];
        if (!wanted.has(bar)) continue;
        const before = draft.strokeAt(bar, at);
        if (before?.as === "ghost" && before.stroke === "up") continue;
        if (before) {
          deaden(before, "ghost", draft.across(draft.held(bar, at)));
          before.stroke = "up";
        } else draft.dead(bar, at, "ghost", draft.across(draft.held(bar, at)), "up", EIGHTH);
        changed++;
      }
    const straight = draft.passage.feel === "straight" ? " The feel is straight: this groove is swung." : "";
    return told(changed, `${times(changed, "dead up-stroke")}, each just before a down-stroke.${straight}`);
  },

  "boom-brush"(draft, { brush }, bars) {
    const down = (sign: PatternPlace["sign"]): PatternPlace => ({ sign, accent: false, stroke: "down" });
    return perMeter(
      draft,
      bars,
      (beats) => [Array.from({ length: beats }, () => [down("bass"), down("treble")])],
      (pattern, some) => strum(draft, pattern, some, brush),
    );
  },

  "thumb-swing"(draft, _rule, bars) {
    if (draft.settings.playsWith !== "thumb") return told(0, "", "This groove is for a hand that plays with thumb and nails: choose such a player.");
    const place = (sign: PatternPlace["sign"], stroke: "down" | "up"): PatternPlace => ({ sign, accent: false, stroke });
    const back = place("treble", "up");
    const groove = (beats: number): Pattern => [Array.from({ length: beats }, (_, k) => [place(k % 2 === 0 ? "bass" : "chuck", "down"), back])];
    const result = perMeter(draft, bars, groove, (pattern, some) => strum(draft, pattern, some));
    // The nail lands on the middle strings alone; on the way back the index catches one string.
    const middle = draft.all().slice(Math.floor(draft.strings / 3), Math.ceil((5 * draft.strings) / 6));
    for (const b of bars)
      for (const stroke of draft.bars[b]!.strokes) {
        if (stroke.as === "chuck") stroke.strings = middle;
        else if (stroke.stroke === "up" && stroke.notes.length > 1) stroke.notes = stroke.notes.filter((note) => note.string === caught(stroke.notes, middle));
      }
    return result.changed > 0 ? { ...result, says: `${result.says}: thumb, nail on the backbeat, index on the way back` } : result;
  },

  "rest-after-bass"(draft, _rule, bars) {
    let changed = 0;
    eachPlayed(draft, bars, (stroke) => {
      for (const note of stroke.notes) {
        const length = ticksOf(note.length ?? stroke.length);
        if (!isBassString(draft, note.string) || length < EIGHTH || note.letRing) continue;
        note.length = fractionOf(length / 2);
        changed++;
      }
    });
    return told(changed, `${times(changed, "bass note")} half as long, the rest is silence`);
  },

  "pressed-accents"(draft, _rule, bars) {
    const { palmLift, palmLand } = draft.settings.moveMs;
    let changed = 0;
    let tightest = Number.POSITIVE_INFINITY;
    const strokes = played(draft);
    strokes.forEach(({ stroke, bar, ms }, i) => {
      const [before, after] = [strokes[i - 1], strokes[i + 1]];
      const isPalm = (other: typeof before) => other?.stroke.notes.some((note) => note.tone === "palm");
      if (!bars.includes(bar) || !stroke.accent || !isPalm(before) || !isPalm(after)) return;
      const room = Math.min(ms - before!.ms - palmLift, after!.ms - ms - palmLand);
      if (room >= 0) return;
      tightest = Math.min(tightest, room);
      for (const note of stroke.notes) setTone(note, "palm");
      changed++;
    });
    return told(
      changed,
      `${times(changed, "accent")} by pressure: the palm is up to ${Math.ceil(-tightest)} ms short of lifting and landing again`,
      "The palm has time to lift for every accent.",
    );
  },
};

/** Applies one rule to bars of a draft. Strokes in `kept` are there on purpose. */
export function applyRule(draft: Draft, rule: Rule, bars: readonly number[], kept: ReadonlySet<string>): RuleReport {
  const apply = RULES[rule.kind] as (draft: Draft, rule: Rule, bars: readonly number[], kept: ReadonlySet<string>) => RuleReport;
  return apply(draft, rule, bars, kept);
}

function makePlain(stroke: Stroke): boolean {
  const before = JSON.stringify(stroke);
  if (stroke.notes.length > 0) {
    delete stroke.as;
    delete stroke.strings;
  }
  if (stroke.stroke !== "none") delete stroke.stroke;
  delete stroke.accent;
  delete stroke.click;
  for (const note of stroke.notes) setTone(note, "open");
  return JSON.stringify(stroke) !== before;
}

/** Bars of one meter at a time, since a groove has as many beats as its bar. */
function perMeter(
  draft: Draft,
  bars: readonly number[],
  groove: (beats: number) => Pattern,
  write: (pattern: Pattern, bars: number[]) => RuleReport,
): RuleReport {
  const all: RuleReport = { changed: 0, says: "", clashes: [] };
  for (const beats of new Set(bars.map((b) => beatsOf(draft.bars[b]!.meter)))) {
    const one = write(
      groove(beats),
      bars.filter((b) => beatsOf(draft.bars[b]!.meter) === beats),
    );
    all.changed += one.changed;
    all.says = one.says;
    all.clashes.push(...one.clashes);
  }
  if (all.changed > 0) all.says = `${times(all.changed, "stroke")} over ${times(bars.length, "bar")}`;
  return all;
}

function eachPlayed(draft: Draft, bars: readonly number[], change: (stroke: Stroke) => void): void {
  for (const b of bars) for (const stroke of draft.bars[b]!.strokes) if (isPlayed(stroke) && stroke.notes.length > 0) change(stroke);
}

/** Strings that carry the bass: all of a bass, the lower half of a guitar (common practice). */
function isBassString(draft: Draft, string: number): boolean {
  return draft.passage.instrument.kind === "electric-bass" || string > draft.strings / 2;
}

function caught(notes: readonly Note[], middle: readonly number[]): number {
  const own = notes.map((note) => note.string);
  return own.filter((s) => middle.includes(s)).at(-1) ?? Math.min(...own);
}

/** The strokes that sound, in order, with their times in ms as written without swing. */
function played(draft: Draft): { stroke: Stroke; bar: number; ms: number }[] {
  let tempo = draft.passage.tempo;
  let ms = 0;
  return draft.bars.flatMap((bar, b) => {
    tempo = bar.tempo ?? tempo;
    const perTick = 240_000 / tempo / TICKS_PER_WHOLE;
    const start = ms;
    ms += barLength(bar.meter) * perTick;
    return bar.strokes
      .filter((stroke) => isPlayed(stroke) && stroke.notes.length > 0)
      .map((stroke) => ({ stroke, bar: b, ms: start + ticksOf(stroke.at) * perTick }));
  });
}
