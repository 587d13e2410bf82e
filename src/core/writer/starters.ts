import type { Player, Rule } from "../passage/schema.ts";

/** A groove to begin with: a stack of rules over any chords. */
export interface Starter {
  name: string;
  /** What it is and what for, in a player's words. */
  says: string;
  rules: readonly Rule[];
  /** For whom it is, if not for every hand. */
  playsWith?: NonNullable<Player["playsWith"]>;
  /** It puts percussion on the backbeat, where a drummer's snare already is. */
  onBackbeat?: boolean;
}

/** One for every groove of the trade, named after the ferry they were made up on. */
export const STARTERS: readonly Starter[] = [
  {
    name: "Gangway",
    says: "Eighths, the hand never stops, a chuck on 2 and 4",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "S. ss .s ss" }, { kind: "backbeat", as: "chuck" }],
    onBackbeat: true,
  },
  {
    name: "Engine Room",
    says: "Sixteenths: chord hits here and there, every other one a ghost",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "s..s ..s. s..s ..s." }, { kind: "ghosts", unit: "sixteenth" }],
  },
  {
    name: "Limping Winch",
    says: "A dead up-stroke just before each down-stroke; set the feel to swung eighths",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "s. s. s. s." }, { kind: "shuffle-ups" }],
  },
  { name: "Boom Crane", says: "Bass note on the number, brush on the &, all down", rules: [{ kind: "plain" }, { kind: "boom-brush" }] },
  {
    name: "Bilge Pump",
    says: "Bass notes muted, the tune above them open",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "bt bt bt bt" }, { kind: "muted-roots" }],
  },
  {
    name: "Chain Locker",
    says: "All under the palm, D D U U",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "mm mm mm mm" }, { kind: "strokes", school: "free", order: "dduu" }],
  },
  {
    name: "Bell Buoy",
    says: "Muted eighths; the accents are where the mute is not, pressed where the palm has no time",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "Ss sS ss Ss" }, { kind: "palm-but-accents" }, { kind: "pressed-accents" }],
  },
  {
    name: "Paddle Wheel",
    says: "Thumb on the low string, nail on the backbeat, index on the way back",
    rules: [{ kind: "plain" }, { kind: "thumb-swing" }],
    playsWith: "thumb",
    onBackbeat: true,
  },
  {
    name: "Deck Slippers",
    says: "Plucked chords, fingers coming back onto the strings as a click on 2 and 4",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "s. .s s. .s" }, { kind: "backbeat", as: "click" }],
    playsWith: "fingers",
    onBackbeat: true,
  },
  {
    name: "Mooring Rope",
    says: "Bass and chord in turn, a rest after every bass note",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "b t b t" }, { kind: "rest-after-bass" }],
  },
];
