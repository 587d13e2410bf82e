import type { Rule } from "../../core/passage/schema.ts";

/** What a rule is called, what it does, and what a new one is like. */
export const RULE_WORDS: { readonly [K in Rule["kind"]]: { title: string; says: string; fresh: Extract<Rule, { kind: K }> } } = {
  plain: { title: "Plain notes", says: "A clean slate: mutes, chucks, ghosts and accents go, the notes stay", fresh: { kind: "plain" } },
  pattern: { title: "Strum pattern", says: "Strums the chords by a pattern that repeats", fresh: { kind: "pattern", pattern: "s. ss .s ss" } },
  strokes: { title: "Stroke order", says: "Which way every stroke goes", fresh: { kind: "strokes", school: "pendulum" } },
  backbeat: { title: "Backbeat", says: "Chucks or clicks on 2 and 4", fresh: { kind: "backbeat", as: "chuck" } },
  ghosts: { title: "Dead-note fill", says: "Ghost strokes wherever nothing is struck", fresh: { kind: "ghosts", unit: "sixteenth" } },
  "muted-roots": { title: "Muted roots, open melody", says: "Bass notes under the palm, what is above them open", fresh: { kind: "muted-roots" } },
  "palm-but-accents": {
    title: "Palm all but accents",
    says: "Everything under the palm; accents are where the mute is not",
    fresh: { kind: "palm-but-accents" },
  },
  "shuffle-ups": { title: "Limp", says: "A dead up-stroke just before each down-stroke; swung", fresh: { kind: "shuffle-ups" } },
  "boom-brush": { title: "Boom-brush", says: "Bass note on the number, brush on the &, all down", fresh: { kind: "boom-brush" } },
  "thumb-swing": { title: "Thumb-swing", says: "Thumb, nail on the backbeat, index on the way back", fresh: { kind: "thumb-swing" } },
  "rest-after-bass": { title: "Rest after the bass", says: "Every bass note half as long", fresh: { kind: "rest-after-bass" } },
  "pressed-accents": { title: "Pressed accents", says: "Accents by pressure where the palm has no time to lift", fresh: { kind: "pressed-accents" } },
  rake: { title: "Rake", says: "Dead strings dragged through into a note", fresh: { kind: "rake", into: "accents" } },
  "through-all": { title: "Through all strings", says: "The whole hand swings for single notes; every other string is damped", fresh: { kind: "through-all" } },
  "one-hand-damps": { title: "One hand damps", says: "The other one only plays, or only presses", fresh: { kind: "one-hand-damps", hand: "fretting" } },
};

export const RULE_KINDS = Object.keys(RULE_WORDS) as Rule["kind"][];

/** Rules that strike on the backbeat, where a drummer's snare already is. */
export function isOnBackbeat(rules: readonly Rule[]): boolean {
  return rules.some((rule) => rule.kind === "backbeat" || rule.kind === "thumb-swing");
}
