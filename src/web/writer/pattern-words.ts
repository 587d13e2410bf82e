/** The signs of the pattern line in a player's words. */
export const PATTERN_SIGN_WORDS: readonly { sign: string; says: string }[] = [
  { sign: "s", says: "strum the chord" },
  { sign: "m", says: "the same under the palm" },
  { sign: "b", says: "its bass note" },
  { sign: "w", says: "its next bass note, walking" },
  { sign: "t", says: "all above the bass" },
  { sign: "1–8", says: "one string out of the held chord" },
  { sign: "(432)", says: "these strings at once" },
  { sign: "[432]", says: "through all strings, only these sound" },
  { sign: "(pma)", says: "pluck with these fingers at once" },
  { sign: "{pima}", says: "with these fingers in turn" },
  { sign: "k", says: "chuck" },
  { sign: "g", says: "ghost stroke" },
  { sign: "x", says: "dead bass note" },
  { sign: "c", says: "click of the fingers" },
  { sign: ".", says: "the hand passes over, what sounds goes on" },
  { sign: "_", says: "held on, over a bar line too" },
  { sign: ",", says: "what sounds ends" },
  { sign: "S 5!", says: "accent: a capital, or ! behind it" },
  { sign: "> <", says: "down, up: before a sign" },
  { sign: "ss sss", says: "blanks part the beats; a beat is shared evenly" },
  { sign: "|", says: "bar line; the line repeats" },
];

/** Lines of a bar of four to try. */
export const PATTERN_EXAMPLES: readonly { pattern: string; says: string }[] = [
  { pattern: "S. ks .s ks", says: "eighths, chucks on 2 and 4" },
  { pattern: "s..s .gsg s..s .gsg", says: "sixteenths with ghosts" },
  { pattern: "5432 1234 5432 1234", says: "sixteenths out of a chord that stays down" },
  { pattern: "{pi} {mi} {ai} {mi}", says: "eighths, one finger after the other" },
  { pattern: "w(432) w(432) w(432) w(432)", says: "a walking bass, three strings between" },
  { pattern: "x. [432]. x. [432].", says: "dead bass, three strings of a full swing" },
  { pattern: "sss sgs sss k", says: "triplets" },
];
