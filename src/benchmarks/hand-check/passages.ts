import { chord, type Figure, grid, passagesOf, pinch } from "../yardstick/figures.ts";

/*
 * Figures of the trade (common practice) that the planner was not made with: written and read after the yardstick, to see
 * whether a teacher would nod there as well.
 */

const C = chord("5/3~3 4/2~2 3/0 2/1~1 1/0");
const G = chord("6/3 5/2 4/0 3/0 2/0 1/3");
const D = chord("4/0 3/2~1 2/3~3 1/2~2");
const suspended = chord("4/0 3/2~1 2/3~3 1/3~4");
const A = chord("5/0 4/2 3/2 2/2 1/0");
const fullA = chord("5/0 4/2~1 3/2~2 2/2~3 1/0");
const Am = chord("5/0 4/2~2 3/2~3 2/1~1 1/0");
const F = chord("6/1~1 5/3~3 4/3~4 3/2~2 2/1~1 1/1~1");
const Em = chord("6/0 5/2 4/2 3/0 2/0 1/0");
const Bm = chord("5/2~1 4/4~3 3/4~4 2/3~2 1/2~1");
const shells = [chord("6/3~2 4/3~3 3/4~4"), chord("6/5~2 4/5~3 3/5~4"), chord("5/5~2 4/4~1 3/5~3"), chord("5/3~2 4/2~1 3/4~4")] as const;
const minorSeventh = chord("5/7 4/9 3/7 2/8");
const short = (of: ReturnType<typeof chord>, length: string) => ({ ...of.hit, length });

const FIGURES: Figure[] = [
  {
    name: "gallop between power chords",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 130 },
    bars: [grid(16, "6/0p . 6/0p 6/0p 6/0p . 6/0p 6/0p 6/3~1+5/5~3- . . 6/2~1+5/4~3- . .")],
  },
  {
    name: "boogie on open strings",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 112, feel: { swing: "eighth", ratio: 2 } },
    bars: [
      grid(8, "5/0+4/2~1 5/0+4/2~1 5/0+4/4~3 5/0+4/4~3 5/0+4/2~1 5/0+4/2~1 5/0+4/4~3 5/0+4/4~3"),
      grid(8, "4/0+3/2~1 4/0+3/2~1 4/0+3/4~3 4/0+3/4~3 5/0+4/2~1 5/0+4/2~1 5/0+4/4~3 ."),
    ],
  },
  {
    name: "chromatic on the low strings",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 126 },
    bars: [grid(8, "6/1~1 6/2~2 6/3~3 6/4~4 5/1~1 5/2~2 5/3~3 5/4~4"), grid(8, "5/4~4 5/3~3 5/2~2 5/1~1 6/4~4 6/3~3 6/2~2 6/1~1")],
  },
  {
    name: "riff between open strings",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 118 },
    bars: [grid(8, "6/0 6/0 6/3 6/0 5/0 6/3 6/0 5/2+4/2"), grid(8, "6/0 6/0 6/3 6/0 5/0+4/2 5/0+4/2 . .")],
  },
  {
    name: "arpeggio that blooms",
    hand: "pick",
    on: "acoustic",
    setting: { tempo: 96, ring: "bloom" },
    bars: [grid(8, "5/3 4/2 3/0 2/1 1/0 2/1 3/0 4/2"), grid(8, "5/0 4/2 3/2 2/1 1/0 2/1 3/2 4/2")],
  },
  {
    name: "three open chords with the usual strum",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 108, ring: "bloom" },
    bars: [
      grid(8, "G- G u . u G u", { G: G.hit, u: G.up }),
      grid(8, "D- D u . u D u", { D: D.hit, u: D.up }),
      grid(8, "C- C u . u C u", { C: C.hit, u: C.up }),
    ],
  },
  {
    name: "a suspended chord comes and goes",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 100 },
    bars: [grid(8, "D- S- D- S D", { D: D.hit, S: suspended.hit })],
  },
  {
    name: "four to the bar, three strings each",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 132 },
    bars: [
      grid(4, "a a b b", { a: short(shells[0], "3/16"), b: short(shells[1], "3/16") }),
      grid(4, "c c d d", { c: short(shells[2], "3/16"), d: short(shells[3], "3/16") }),
    ],
  },
  {
    name: "minor seventh in a scratch",
    hand: "strum",
    on: "electric",
    setting: { tempo: 104, gain: "clean" },
    bars: [grid(16, "x x H x x H x x H x x x H x H x", { H: minorSeventh.hit, x: minorSeventh.ghost })],
  },
  {
    name: "sixteenths with chucks, every rest a rest",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 84 },
    bars: [grid(16, "E . E u K . u E . u E u K . E u", { E: Em.hit, u: Em.up, K: Em.chuck })],
  },
  {
    name: "sixteenths with chucks that bloom",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 78, ring: "bloom" },
    bars: [
      grid(16, "A . . A K . A u A . A u K . A u", { A: Am.hit, u: Am.up, K: Am.chuck }),
      grid(16, "F . . F K . F u F . F u K . F u", { F: F.hit, u: F.up, K: F.chuck }),
    ],
  },
  {
    name: "a barre and an open chord",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 96 },
    bars: [grid(4, "B B A A", { B: Bm.hit, A: A.hit }), grid(8, "B- b u K- b u", { B: Bm.hit, b: Bm.hit, u: Bm.up, K: Bm.chuck })],
  },
  {
    name: "tune over a C",
    hand: "fingers",
    on: "acoustic",
    setting: { tempo: 100, player: { playsWith: "fingers" } },
    bars: [grid(8, "A 3/0 4/2 2/1 5/3 3/0 B 2/1", { A: pinch("5/3p 1/0a"), B: pinch("4/2p 1/3a") })],
  },
  {
    name: "tune over a barre",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 72 },
    bars: [grid(8, "A 3/5 2/6 1/5 B 3/5 2/5 1/8", { A: pinch("6/5p 1/8a"), B: pinch("5/7p 1/5a") })],
  },
  {
    name: "waltz, bass and two",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 120, meter: [3, 4] },
    bars: [
      grid(4, "5/0 a a", { a: pinch("4/2i 3/2m 2/1a") }),
      grid(4, "4/0 d d", { d: pinch("3/2i 2/3m 1/1a") }),
      grid(4, "6/0 e e", { e: pinch("4/2i 3/1m 2/0a") }),
    ],
  },
  {
    name: "root, fifth and octave",
    hand: "bass",
    on: "bass",
    setting: { tempo: 108 },
    bars: [grid(8, "4/3~1 4/3~1 3/5~3 2/5~4 4/3~1 4/3~1 3/5~3 2/5~4"), grid(8, "3/3~1 3/3~1 2/5~3 1/5~4 3/3~1 3/3~1 2/5~3 .")],
  },
  {
    name: "low line on five strings",
    hand: "bass",
    on: "bass5",
    setting: { tempo: 88 },
    bars: [grid(8, "5/0 . 5/3 4/0 . 4/3 3/2 5/3"), grid(8, "5/1 5/1 . 4/1 . 3/1 4/3 .")],
  },
  {
    name: "hammer between slap and pop",
    hand: "slap",
    on: "bass",
    setting: { tempo: 96, player: { playsWith: "slap" } },
    bars: [
      grid(16, "S . H x S x P . S x x P T . P x", {
        S: { stroke: "slap", notes: [{ string: 4, fret: 5, finger: 1 }] },
        H: [{ string: 4, fret: 7, finger: 3, from: "hammer" }],
        P: { stroke: "pop", notes: [{ string: 2, fret: 7 }] },
        T: { stroke: "slap", notes: [{ string: 3, fret: 5 }] },
        x: { as: "ghost", stroke: "slap", strings: [4] },
      }),
    ],
  },
  {
    name: "thumb-swing over a held chord",
    hand: "percussive",
    on: "acoustic",
    setting: { tempo: 84, player: { playsWith: "thumb" } },
    bars: [
      grid(8, "B u K u B u K u", {
        B: { stroke: "down", notes: [{ string: 5, fret: 3 }] },
        K: { as: "chuck", stroke: "down", strings: [4, 3, 2] },
        u: { stroke: "up", notes: [{ string: 2, fret: 1 }] },
      }),
    ],
  },
  {
    name: "arpeggio with a pick, clean",
    hand: "pick",
    on: "electric",
    setting: { gain: "clean", tempo: 70 },
    bars: [grid(8, "5/0 4/2 3/2 2/1 1/0 2/1 3/2 4/2"), grid(8, "6/3 4/0 3/0 2/0 1/3 2/0 3/0 4/0"), grid(8, "5/3 4/2 3/0 2/1 1/0 2/1 3/0 4/2")],
  },
  {
    name: "arpeggio with a pick under gain",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 90 },
    bars: [grid(8, "5/0 4/2 3/2 2/1 1/0 2/1 3/2 4/2"), grid(8, "5/3 4/2 3/0 2/1 1/0 2/1 3/0 4/2")],
  },
  {
    name: "tapped triplets",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 100, player: { fretWrap: "on" } },
    bars: [
      grid(16, "T p h T p h T p h T p h T", {
        T: [{ string: 2, fret: 12, from: "tap" }],
        p: [{ string: 2, fret: 5, finger: 1, from: "pull" }],
        h: [{ string: 2, fret: 8, finger: 4, from: "hammer" }],
      }),
    ],
  },
  {
    name: "double stops that slide",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 96 },
    bars: [
      grid(8, "3/5~1+2/5~1 S . 3/5~1+2/5~1 3/7~3+4/7~3 . 3/5~1+2/5~1 .", {
        S: [
          { string: 3, fret: 7, finger: 1, from: "slide" },
          { string: 2, fret: 7, finger: 1, from: "slide" },
        ],
      }),
    ],
  },
  {
    name: "bass, brush and chuck in sixteenths",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 110 },
    bars: [
      grid(16, "b . s s K . s s b . s s K . s s", {
        b: fullA.bass,
        s: { ...chord("3/2~2 2/2~3 1/0").hit, stroke: "down" },
        K: fullA.chuck,
      }),
    ],
  },
  {
    name: "compact chords off the beat",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 150 },
    bars: [
      grid(8, ". u . u . v . v", {
        u: { ...short(chord("4/5~3 3/5~3 2/5~3 1/3~1"), "1/16"), stroke: "up" },
        v: { ...short(chord("4/3~1 3/5~3 2/5~3 1/5~3"), "1/16"), stroke: "up" },
      }),
    ],
  },
  {
    name: "open strings on the way down",
    hand: "bass",
    on: "bass",
    setting: { tempo: 90 },
    bars: [grid(8, "1/2 1/0 2/2 2/0 3/2 3/0 4/3 4/0")],
  },
];

/** Documents as JSON values. */
export const READ_LATER: readonly object[] = FIGURES.flatMap(passagesOf);
