import type { Player, Rule } from "../passage/schema.ts";

type PlaysWith = NonNullable<Player["playsWith"]>;

/** A groove to begin with: a stack of rules over any chords. */
export interface Starter {
  /** What a player calls it. */
  name: string;
  /** The tune of the ferry it was made up on. */
  tune: string;
  /** What it is and what for, in a player's words. */
  says: string;
  rules: readonly Rule[];
  /** Which hands it is for. */
  playsWith: readonly PlaysWith[];
  /** It puts percussion on the backbeat, where a drummer's snare already is. */
  onBackbeat?: boolean;
}

const STRUMS = ["pick", "thumb"] as const;

/** One for every groove of the trade. */
export const STARTERS: readonly Starter[] = [
  {
    name: "Backbeat chucks, eighths",
    tune: "Gangway",
    says: "Eighths, the hand never stops, a chuck on 2 and 4",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "S. ss .s ss" }, { kind: "backbeat", as: "chuck" }],
    playsWith: STRUMS,
    onBackbeat: true,
  },
  {
    name: "Sixteenth funk with ghosts",
    tune: "Engine Room",
    says: "Chord hits here and there, ghosts on all the other sixteenths",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "s..s ..s. s..s ..s." }, { kind: "ghosts", unit: "sixteenth" }],
    playsWith: STRUMS,
  },
  {
    name: "Limping shuffle",
    tune: "Limping Winch",
    says: "A dead up-stroke just before each down-stroke; set the feel to swung eighths",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "s. s. s. s." }, { kind: "shuffle-ups" }],
    playsWith: STRUMS,
  },
  {
    name: "Boom-brush",
    tune: "Boom Crane",
    says: "Bass note on the number, brush on the &, all down",
    rules: [{ kind: "plain" }, { kind: "boom-brush" }],
    playsWith: STRUMS,
  },
  {
    name: "Muted bass, open chords",
    tune: "Bilge Pump",
    says: "Bass notes under the palm, what is above them open",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "bt bt bt bt" }, { kind: "muted-roots" }],
    playsWith: STRUMS,
  },
  {
    name: "All palm-muted, D D U U",
    tune: "Chain Locker",
    says: "Eighths under the palm, two strokes down, two up",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "mm mm mm mm" }, { kind: "strokes", school: "free", order: "dduu" }],
    playsWith: ["pick"],
  },
  {
    name: "Muted eighths, open accents",
    tune: "Bell Buoy",
    says: "The accents are where the mute is not, pressed where the palm has no time",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "Ss sS ss Ss" }, { kind: "palm-but-accents" }, { kind: "pressed-accents" }],
    playsWith: ["pick"],
  },
  {
    name: "Arpeggio out of a held chord",
    tune: "Lantern Steps",
    says: "Sixteenths string by string, the chord stays down and rings",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "b432 1234 b432 1234" }],
    playsWith: ["pick"],
  },
  {
    name: "Thumb-swing, nail on the backbeat",
    tune: "Paddle Wheel",
    says: "Thumb on the low string, nail on the backbeat, index on the way back",
    rules: [{ kind: "plain" }, { kind: "thumb-swing" }],
    playsWith: ["thumb"],
    onBackbeat: true,
  },
  {
    name: "Plucked chords, clicks on 2 and 4",
    tune: "Deck Slippers",
    says: "The fingers come back onto the strings as a click on the backbeat",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "(pima). .(ima) (pima). .(ima)" }, { kind: "backbeat", as: "click" }],
    playsWith: ["fingers"],
    onBackbeat: true,
  },
  {
    name: "Bass and chord, rest after the bass",
    tune: "Mooring Rope",
    says: "Bass and chord in turn, a rest after every bass note",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "(p) (ima) (p) (ima)" }, { kind: "rest-after-bass" }],
    playsWith: ["fingers"],
  },
  {
    name: "Bass and chord, strummed",
    tune: "Quay Wall",
    says: "Bass and chord in turn, a rest after every bass note",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "b t b t" }, { kind: "rest-after-bass" }],
    playsWith: STRUMS,
  },
  {
    name: "Plucked arpeggio, p i m a",
    tune: "Tide Table",
    says: "One finger after the other, the chord stays down and rings",
    rules: [{ kind: "plain" }, { kind: "pattern", pattern: "{pi} {mi} {ai} {mi}" }],
    playsWith: ["fingers"],
  },
];
