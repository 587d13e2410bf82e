import { barLength, type Meter } from "../music/beats.ts";
import { parsePattern } from "../passage/pattern.ts";
import type { Place } from "../passage/place.ts";
import type { Passage, Rule } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import { FAMILIES, type Family, RHYTHMS, SIGNS, type Sign } from "./families.ts";
import { divisionsOf, type Grid, gridFor } from "./grid.ts";
import type { Wishes } from "./types.ts";

/** A way to strum a whole passage, not planned yet. */
export interface Candidate {
  name: string;
  family: string;
  rules: readonly Rule[];
}

/** A rule's line holds so many characters. */
const LONGEST_LINE = 400;
/** A treatment holds forty rules, of which one makes the notes plain. */
const MOST_RULES = 39;

/** Every family in every rhythm that fits the passage, each once, in a fixed order. */
export function candidatesFor(passage: Passage, settings: Settings, wishes: Wishes): Candidate[] {
  const tempo = passage.goalTempo ?? passage.tempo;
  const isSwung = passage.feel !== "straight";
  const found = new Map<string, Candidate>();
  for (const family of FAMILIES) {
    if (!family.playsWith.includes(settings.playsWith) || (family.onBackbeat && wishes.drummer)) continue;
    if (family.feel && (family.feel === "swung") !== isSwung) continue;
    for (const finest of [false, true]) {
      const grids = passage.bars.map(({ meter }, b) => {
        const divisions = divisionsOf(passage, meter, tempo);
        return gridFor(meter, finest ? divisions.at(-1)! : divisions[0]!, heardIn(wishes.heard, b, meter));
      });
      if (!grids.every((grid) => grid !== null) || (family.perBeat && !grids.every(({ perBeat }) => family.perBeat!.includes(perBeat)))) continue;
      for (const rhythm of RHYTHMS) {
        const lines = grids.map((grid, b) => lineOf(family, rhythm, grid, heardIn(wishes.heard, b, grid.meter)));
        const rules = rulesFor(
          lines,
          passage.bars.map(({ meter }) => meter.join("/")),
        );
        const key = JSON.stringify(rules);
        if (found.has(key) || rules.length > MOST_RULES) continue;
        found.set(key, { name: `${family.name}, ${rhythm.name}`, family: family.name, rules: [{ kind: "plain" }, ...rules] });
      }
    }
  }
  return [...found.values()];
}

function heardIn(heard: readonly Place[], bar: number, meter: Meter): number[] {
  return heard.filter((place) => place.bar === bar && place.tick < barLength(meter)).map(({ tick }) => tick);
}

/** One bar: what must be heard sounds openly, whatever the family would put there. */
function lineOf(family: Family, rhythm: (typeof RHYTHMS)[number], grid: Grid, heard: readonly number[]): string {
  const must = new Set(heard.map((tick) => grid.slots.findIndex((slot) => slot.tick === tick)));
  const accent: Sign = family.playsWith.includes("fingers") ? SIGNS.accentPinch : SIGNS.accent;
  const signs = grid.slots.map((slot, i) => (must.has(i) ? accent : family.fill(slot, rhythm.sounds(slot, i, grid), grid)));
  const beats = Array.from({ length: signs.length / grid.perBeat }, (_, k) =>
    signs
      .slice(k * grid.perBeat, (k + 1) * grid.perBeat)
      .map(({ text }) => text)
      .join(""),
  );
  return beats.join(" ");
}

/** Lines bar by bar as rules: the shortest line that repeats through a stretch of one meter, cut where it would be too long. */
function rulesFor(lines: readonly string[], meters: readonly string[]): Rule[] {
  const rules: Rule[] = [];
  for (let from = 0; from < lines.length; ) {
    let to = from;
    while (to + 1 < lines.length && meters[to + 1] === meters[from] && lines.slice(from, to + 2).join(" | ").length <= LONGEST_LINE) to++;
    const own = lines.slice(from, to + 1);
    const period = Array.from({ length: own.length }, (_, n) => n + 1).find((n) => own.every((line, i) => line === own[i % n]))!;
    const pattern = own.slice(0, period).join(" | ");
    const everywhere = from === 0 && to === lines.length - 1;
    rules.push({ kind: "pattern", pattern, ...(everywhere ? {} : { bars: { from: from + 1, to: to + 1 } }) });
    from = to + 1;
  }
  // A defect of the tables, not of what somebody typed.
  for (const rule of rules) if (rule.kind === "pattern" && !parsePattern(rule.pattern).ok) throw new Error(`no pattern: ${rule.pattern}`);
  return rules;
}
