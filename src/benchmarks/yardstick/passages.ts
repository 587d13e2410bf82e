import { chord, type Figure, grid, passagesOf, pinch } from "./figures.ts";

/*
 * The yardstick: 150 passages over all hands, schools and kinds of work, the same for every version of the planner. They stay
 * as they are: what is planned better shows in the figures, not in other passages. Figures of the trade, common practice.
 */

const up = (...frets: number[]) => frets.map((fret) => (fret === 0 ? {} : { up: fret }));
const at = (...tempos: number[]) => tempos.map((tempo) => ({ tempo }));
const arched = { player: { index: "arched" as const } };
const byPalm = { player: { neighbour: "palm" as const } };
const byThumb = { player: { pickHand: "thumb" as const } };
const over = { player: { thumbOver: "yes" as const } };
const release = { player: { chuck: "release" as const } };
const edge = { player: { chuck: "edge" as const } };

const Am7 = chord("5/0 4/2 3/0 2/1 1/0");
const E7 = chord("6/0 5/2 4/0 3/1 2/0 1/0");
const G = chord("6/3 5/2 4/0 3/0 2/0 1/3");
const C = chord("5/3 4/2 3/0 2/1 1/0");
const F = chord("6/1~1 5/3~3 4/3~4 3/2~2 2/1~1 1/1~1");
const barre = chord("6/3~1 5/5~3 4/5~4 3/3~1 2/3~1 1/3~1");
const triad = chord("4/5~3 3/4~2 2/3~1");
const low = chord("5/3~1 4/5~3 3/5~4");
const ninth = chord("5/3~2 4/2~1 3/3~3 2/3~4");
const top = chord("3/5~3 2/5~4 1/3~1");

const PICK: Figure[] = [
  {
    name: "power chords on 6 and 5",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 120 },
    bars: [grid(8, "6/3~1+5/5~3 6/3~1+5/5~3 . 5/3~1+4/5~3 5/3~1+4/5~3 . 6/5~1+5/7~3-")],
    variants: [...up(0, 4), arched, byPalm],
  },
  {
    name: "power chords with rests under gain",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 110 },
    bars: [grid(8, "6/3~1+5/5~3+4/5~4 . 6/3~1+5/5~3+4/5~4 . . 6/5~1+5/7~3+4/7~4 . .")],
    variants: up(0, 2, 7),
  },
  {
    name: "chugging eighths on open 6",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 140 },
    bars: [grid(8, "6/0p 6/0p 6/0p 6/0p 6/0p 6/0p 6/3~1+5/5~3 6/2~1+5/4~3")],
    variants: [{}, arched, byThumb],
  },
  {
    name: "muted low string, tune on 5 open",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 112 },
    bars: [grid(8, "6/0p 6/0p 5/2 6/0p 6/0p 5/3 6/0p 5/0"), grid(8, "6/0p 6/0p 5/2 6/0p 5/5 5/3 6/0p 5/2")],
    variants: [{}, { tempo: 160 }],
  },
  {
    name: "muted roots under an open melody on 3 and 2",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 100 },
    bars: [grid(8, "6/0p 6/0p 3/7 6/0p 6/0p 3/5 6/0p 2/5")],
    variants: [{}, arched],
  },
  {
    name: "sixteenth run under gain over four strings",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 96 },
    bars: [grid(16, "5/5 5/7 5/8 4/5 4/7 4/8 3/5 3/7 2/5 2/8 3/7 3/5 4/8 4/7 4/5 5/8")],
    variants: [...up(0, 4), arched, byPalm, byThumb],
  },
  {
    name: "line of eighths up and down six strings",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 90 },
    bars: [grid(8, "6/5 6/8 5/5 5/7 4/5 4/7 3/5 3/7"), grid(8, "2/5 2/8 1/5 1/8 1/5 2/8 2/5 3/7")],
    variants: [{}, arched, { gain: "clean" }],
  },
  {
    name: "sweep over five strings in sextuplets",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 80 },
    bars: [grid(24, "5/7 4/5 3/5 2/5 1/3 1/7 1/3 2/5 3/5 4/5 5/7 .")],
    variants: [{}, byPalm, { tempo: 110 }],
  },
  {
    name: "two frets on one string in sixteenths",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 100 },
    bars: [grid(16, "4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3 4/5~1 4/7~3")],
    variants: at(100, 130, 150),
  },
  {
    name: "bend a tone on 3, then 2, then 1",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 84 },
    bars: [
      grid(4, "A B C 2/5", {
        A: [{ string: 3, fret: 7, finger: 3, bend: 2 }],
        B: [{ string: 2, fret: 8, finger: 3, bend: 2 }],
        C: [{ string: 1, fret: 8, finger: 3, bend: 2, vibrato: true }],
      }),
    ],
    variants: [{}, arched],
  },
  {
    name: "hammers and pulls on 4 and 3",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 100 },
    bars: [
      grid(8, "4/5~1 H 3/5~1 J P 3/5~1 4/7~3 4/5~1", {
        H: [{ string: 4, fret: 7, finger: 3, from: "hammer" }],
        J: [{ string: 3, fret: 7, finger: 3, from: "hammer" }],
        P: [{ string: 3, fret: 5, finger: 1, from: "pull" }],
      }),
    ],
    variants: [{}, { player: { pullOff: "lift" } }],
  },
  {
    name: "tapped figure with a wrap",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 100, player: { fretWrap: "on" } },
    bars: [
      grid(16, "T A B T A B T A B T A B T A B .", {
        T: [{ string: 3, fret: 12, from: "tap" }],
        A: [{ string: 3, fret: 5, finger: 1, from: "pull" }],
        B: [{ string: 3, fret: 8, finger: 4, from: "hammer" }],
      }),
    ],
  },
  {
    name: "octaves on 5 and 3",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 112 },
    bars: [grid(8, "5/3~1+3/5~3 5/3~1+3/5~3 . 5/5~1+3/7~3 . 5/5~1+3/7~3 5/7~1+3/9~3-")],
    variants: [{}, arched, over],
  },
  {
    name: "choked rake into a note",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 90 },
    bars: [grid(8, "R 2/8~1-- . R 1/7~1-- .", { R: { as: "rake", stroke: "down", strings: [5, 4, 3] } })],
    variants: [{}, arched],
  },
  {
    name: "string skips with open strings between",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 96 },
    bars: [grid(8, "5/0 3/2 5/0 2/3 6/0 3/4 6/0 2/5")],
    variants: [{}, byPalm],
  },
  {
    name: "seven strings, low riff",
    hand: "pick",
    on: "seven",
    setting: { gain: "high", tempo: 120 },
    bars: [grid(8, "7/0p 7/0p 7/3 7/0p 6/2 7/0p 7/5~1+6/7~3 7/0p")],
    variants: [{}],
  },
  {
    name: "shuffle riff with dead notes",
    hand: "pick",
    on: "electric",
    setting: { gain: "edge", tempo: 104, feel: { swing: "eighth", ratio: 2 } },
    bars: [grid(8, "6/3~1+5/5~3 D 6/3~1+5/7~4 D 6/3~1+5/5~3 D 6/3~1+5/7~4 D", { D: { as: "ghost", strings: [6, 5] } })],
    variants: up(0, 2),
  },
  {
    name: "odd meter riff in seven",
    hand: "pick",
    on: "electric",
    setting: { gain: "high", tempo: 126, meter: [7, 8] },
    bars: [grid(8, "6/0p 6/3 6/0p 5/2 6/0p 6/3 5/5"), grid(8, "6/0p 6/3 6/0p 5/2 4/2 5/5 5/2")],
    variants: [{}, arched],
  },
];

const STRUM: Figure[] = [
  {
    name: "open chords with backbeat chucks",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 92 },
    bars: [grid(8, "G- K- g g K-", { G: G.hit, K: G.chuck, g: G.hit }), grid(8, "C- K- c c K-", { C: C.hit, K: C.chuck, c: C.hit })],
    variants: [{}, edge, release, { ring: "bloom" }],
  },
  {
    name: "sixteenth funk, every other one a ghost",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 100 },
    bars: [grid(16, "H g g H g H g g H g g H g g H g", { H: triad.hit, g: triad.ghost })],
    variants: [...up(0, 2, 4, 6), arched, release, { tempo: 116 }],
  },
  {
    name: "sixteen scratches with two hits",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 100 },
    bars: [grid(16, "g g g g H g g g g g g g H g g g", { H: ninth.hit, g: ninth.ghost })],
    variants: [...up(0, 3), arched, release],
  },
  {
    name: "scratch bar before the first chord",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 96 },
    bars: [
      grid(16, "x x x x x x x x x x x x x x x x", { x: { as: "ghost", strings: [4, 3, 2] } }),
      grid(16, "H g g H g H g g H g g H g g H g", { H: triad.hit, g: triad.ghost }),
    ],
    variants: [{}, arched],
  },
  {
    name: "chord change inside a scratch",
    hand: "strum",
    on: "electric",
    setting: { gain: "edge", tempo: 96 },
    bars: [grid(16, "A g g g A g g g B h h h B h h h", { A: triad.hit, g: triad.ghost, B: top.hit, h: top.ghost })],
    variants: [{}, arched, { tempo: 112 }],
  },
  {
    name: "wide ghosts between compact shapes",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 92 },
    bars: [
      grid(8, "A w A w B v B v", {
        A: triad.hit,
        w: { ...triad.ghost, strings: [6, 5, 4, 3, 2, 1] },
        B: low.hit,
        v: { ...low.ghost, strings: [6, 5, 4, 3, 2, 1] },
      }),
    ],
    variants: [{}, arched],
  },
  {
    name: "barre released between strokes",
    hand: "strum",
    on: "electric",
    setting: { gain: "edge", tempo: 104 },
    bars: [grid(8, "B g B g B g B g", { B: barre.hit, g: barre.ghost })],
    variants: [...up(0, 2, 4), release],
  },
  {
    name: "walk-up of one barre shape",
    hand: "strum",
    on: "electric",
    setting: { gain: "edge", tempo: 100 },
    bars: [
      grid(8, "A a . A a . A a", { A: barre.hit, a: barre.ghost }),
      grid(8, "6/5~1+5/7~3+4/7~4+3/5~1+2/5~1+1/5~1- . 6/7~1+5/9~3+4/9~4+3/7~1+2/7~1+1/7~1- . 6/8~1+5/10~3+4/10~4+3/8~1+2/8~1+1/8~1- ."),
    ],
  },
  {
    name: "root with the ring finger strummed through all strings",
    hand: "strum",
    on: "electric",
    setting: { gain: "edge", tempo: 96 },
    bars: [
      grid(8, "R u R u R u R u", {
        R: { notes: [{ string: 6, fret: 5, finger: 3 }], strings: [6, 5, 4, 3, 2, 1] },
        u: { as: "ghost", stroke: "up", strings: [6, 5, 4, 3, 2, 1], notes: [{ string: 6, fret: 5, finger: 3 }] },
      }),
    ],
    variants: [{}, arched, over],
  },
  {
    name: "one note strummed through all strings",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 92 },
    bars: [
      grid(8, "N N M M N N M M", {
        N: { notes: [{ string: 5, fret: 5, finger: 1 }], strings: [6, 5, 4, 3, 2, 1] },
        M: { notes: [{ string: 5, fret: 7, finger: 3 }], strings: [6, 5, 4, 3, 2, 1] },
      }),
    ],
    variants: [{}, over],
  },
  {
    name: "bass and brush",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 96 },
    bars: [grid(8, "b s b s b s b s", { b: G.bass, s: G.brush }), grid(8, "b s b s b s b s", { b: C.bass, s: C.brush })],
    variants: [{}, { ring: "bloom" }, { capo: 2 }],
  },
  {
    name: "strummed song of open chords",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 100, ring: "bloom" },
    bars: [grid(8, "A- a u . u a u", { A: Am7.hit, a: Am7.hit, u: Am7.up }), grid(8, "E- e u . u e u", { E: E7.hit, e: E7.hit, u: E7.up })],
    variants: [{}, { ring: "written" }],
  },
  {
    name: "open chord stopped on two and four",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 88 },
    bars: [grid(4, "A . A .", { A: E7.hit }), grid(4, "F . F .", { F: F.hit })],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "palm-muted strums with accents",
    hand: "strum",
    on: "electric",
    setting: { gain: "edge", tempo: 116 },
    bars: [grid(8, "M M A M M A M M", { M: low.muted, A: low.accent })],
    variants: [{}, { player: { strumPalmMute: "percussive" } }, { tempo: 150 }],
  },
  {
    name: "the limp: dead up-strokes before the beat",
    hand: "strum",
    on: "acoustic",
    setting: { tempo: 96, feel: { swing: "eighth", ratio: 2 } },
    bars: [grid(8, "A u A u A u A u", { A: { ...barre.hit, stroke: "down" }, u: { ...barre.ghost, stroke: "up" } })],
    variants: [{}, arched],
  },
  {
    name: "off-beat chops",
    hand: "strum",
    on: "electric",
    setting: { gain: "clean", tempo: 84 },
    bars: [grid(8, ". A . A . A . A", { A: { ...triad.hit, length: "1/16" } })],
    variants: up(0, 5),
  },
];

const FINGERS: Figure[] = [
  {
    name: "arpeggio out of a held chord",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 80 },
    bars: [grid(8, "5/0 3/0 2/1 1/0 5/0 3/0 2/1 1/0"), grid(8, "6/3 3/0 2/0 1/3 6/3 3/0 2/0 1/3")],
    variants: [{}, { ring: "bloom" }, { gain: "edge" }],
  },
  {
    name: "pinch and rests with thumb return",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 72 },
    bars: [grid(4, "A . B .", { A: pinch("5/0p 3/2i 2/1m 1/0a"), B: pinch("6/0p 3/1i 2/0m 1/0a") })],
    variants: [{}, { gain: "edge" }, { tempo: 100 }],
  },
  {
    name: "classical study: bass rests under the tune",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 66 },
    bars: [grid(8, "A 2/1 b 1/3 A 2/1 b 1/0", { A: pinch("6/3p 1/3a"), b: pinch("4/0p 2/0m") })],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "pinch and click",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 92 },
    bars: [grid(8, "A- K- B- K-", { A: pinch("5/3p 3/0i 2/1m"), K: { as: "click", strings: [3, 2, 1] }, B: pinch("4/2p 3/0i 2/1m") })],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "alternating bass under a tune",
    hand: "fingers",
    on: "acoustic",
    setting: { tempo: 96, player: { playsWith: "fingers" } },
    bars: [grid(8, "A 2/1 4/2 1/0 5/3 2/1 4/2 3/0", { A: pinch("5/3p 1/0a") }), grid(8, "B 2/0 4/0 1/3 6/3 2/0 4/0 3/0", { B: pinch("6/3p 1/3a") })],
    variants: [{}, { ring: "bloom" }, { capo: 3 }],
  },
  {
    name: "bass line with two-note chords on the beats after",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 84 },
    bars: [grid(8, "6/0 C . C 6/3 C . C", { C: pinch("3/1i 2/0m") })],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "six fretted notes in tremolo on one string",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 76 },
    bars: [grid(16, "5/0 1/5 1/5 1/5 3/2 1/5 1/5 1/5 5/0 1/7 1/7 1/7 3/2 1/7 1/7 1/7")],
  },
  {
    name: "walking tenths",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 80 },
    bars: [grid(4, "A B C D", { A: pinch("5/3p 2/5m"), B: pinch("5/5p 2/6m"), C: pinch("5/7p 2/8m"), D: pinch("6/8p 3/9i") })],
    variants: [{}, arched],
  },
  {
    name: "natural harmonics between notes",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 70 },
    bars: [grid(4, "H 5/3 I 4/2", { H: [{ string: 1, fret: 12, harmonic: true }], I: [{ string: 2, fret: 7, harmonic: true }] })],
  },
  {
    name: "slurred line on the treble strings",
    hand: "fingers",
    on: "nylon",
    setting: { tempo: 88 },
    bars: [
      grid(8, "1/5~1 H 2/8~4 P 3/7~3 3/5~1 4/7~3 4/5~1", {
        H: [{ string: 1, fret: 7, finger: 3, from: "hammer" }],
        P: [{ string: 2, fret: 5, finger: 1, from: "pull" }],
      }),
    ],
    variants: [{}, arched],
  },
];

const BASS: Figure[] = [
  {
    name: "line over four strings",
    hand: "bass",
    on: "bass",
    setting: { tempo: 96 },
    bars: [grid(8, "4/3 3/5 2/5 1/5 2/7 3/7 4/5 4/3")],
    variants: [...up(0, 4), { player: { bassThumb: "anchored" } }, arched],
  },
  {
    name: "line on the top string",
    hand: "bass",
    on: "bass",
    setting: { tempo: 110 },
    bars: [grid(8, "1/5 1/7 1/9 1/7 1/5 2/7 1/5 1/4")],
    variants: [{}, { player: { bassThumb: "anchored" } }, { gain: "clean" }],
  },
  {
    name: "roots in eighths with rests",
    hand: "bass",
    on: "bass",
    setting: { tempo: 104 },
    bars: [grid(8, "4/3 4/3 . 4/3 3/3 . 3/3 3/5"), grid(8, "4/5 . 4/5 . 4/3 4/3 . .")],
    variants: [{}, { player: { bassThumb: "anchored" } }],
  },
  {
    name: "dead notes in sixteenths",
    hand: "bass",
    on: "bass",
    setting: { tempo: 92 },
    bars: [grid(16, "4/3 x x 4/3 x 4/3 x x 4/5 x x 4/5 x x 3/3 x", { x: { as: "ghost", strings: [4] } })],
    variants: [{}, { tempo: 108 }],
  },
  {
    name: "muffled tone under lying fingers",
    hand: "bass",
    on: "bass",
    setting: { tempo: 100 },
    bars: [grid(8, "3/5p~1 3/5p~1 3/7p~1 3/5p~1 3/5p~1 2/5p~1 3/7p~1 3/5p~1")],
    variants: [{}, arched],
  },
  {
    name: "five strings, line above the low ones",
    hand: "bass",
    on: "bass5",
    setting: { tempo: 92 },
    bars: [grid(8, "4/3 3/5 2/5 1/7 2/5 3/5 4/5 4/3")],
    variants: [{}, { player: { bassThumb: "anchored" } }],
  },
  {
    name: "five strings, low riff with jumps",
    hand: "bass",
    on: "bass5",
    setting: { tempo: 100 },
    bars: [grid(8, "5/3 5/3 3/5 . 5/5 . 2/7 3/5")],
    variants: [{}, { player: { bassThumb: "anchored" } }],
  },
  {
    name: "palm and thumb",
    hand: "bass",
    on: "bass",
    setting: { tempo: 88 },
    bars: [
      grid(8, "A . A A . B . B", {
        A: { stroke: "p", notes: [{ string: 4, fret: 3, tone: "palm" }] },
        B: { stroke: "p", notes: [{ string: 3, fret: 5, tone: "palm" }] },
      }),
    ],
  },
  {
    name: "bass with a pick",
    hand: "bass",
    on: "bass",
    setting: { tempo: 130, player: { playsWith: "pick" } },
    bars: [grid(8, "4/0 4/0 4/3 4/3 3/2 3/2 4/5 4/5")],
    variants: [{}, byPalm],
  },
];

const SLAP: Figure[] = [
  {
    name: "slap and pop octaves",
    hand: "slap",
    on: "bass",
    setting: { tempo: 100, player: { playsWith: "slap" } },
    bars: [
      grid(8, "S P S P T Q T .", {
        S: { stroke: "slap", notes: [{ string: 4, fret: 3 }] },
        P: { stroke: "pop", notes: [{ string: 2, fret: 5 }] },
        T: { stroke: "slap", notes: [{ string: 4, fret: 5 }] },
        Q: { stroke: "pop", notes: [{ string: 2, fret: 7 }] },
      }),
    ],
    variants: [...up(0, 4), arched],
  },
  {
    name: "slap with ghosts in sixteenths",
    hand: "slap",
    on: "bass",
    setting: { tempo: 92, player: { playsWith: "slap" } },
    bars: [
      grid(16, "S x x S x P x x S x x S x x P x", {
        S: { stroke: "slap", notes: [{ string: 4, fret: 3 }] },
        P: { stroke: "pop", notes: [{ string: 2, fret: 5 }] },
        x: { as: "ghost", stroke: "slap", strings: [4] },
      }),
    ],
    variants: [{}, arched],
  },
  {
    name: "slap on open strings with hammers",
    hand: "slap",
    on: "bass",
    setting: { tempo: 96, player: { playsWith: "slap" } },
    bars: [
      grid(8, "S H P . S H P .", {
        S: { stroke: "slap", notes: [{ string: 4, fret: 0 }] },
        H: [{ string: 4, fret: 3, finger: 1, from: "hammer" }],
        P: { stroke: "pop", notes: [{ string: 2, fret: 2 }] },
      }),
    ],
    variants: [{}, over],
  },
  {
    name: "slap on five strings",
    hand: "slap",
    on: "bass5",
    setting: { tempo: 96, player: { playsWith: "slap" } },
    bars: [grid(8, "S . P S . P S P", { S: { stroke: "slap", notes: [{ string: 4, fret: 3 }] }, P: { stroke: "pop", notes: [{ string: 2, fret: 5 }] } })],
  },
];

const PERCUSSIVE: Figure[] = [
  {
    name: "thumb-swing with the nail on the backbeat",
    hand: "percussive",
    on: "acoustic",
    setting: { tempo: 88, player: { playsWith: "thumb" } },
    bars: [
      grid(8, "B u K u B u K u", {
        B: { stroke: "down", notes: [{ string: 6, fret: 0 }] },
        K: { as: "chuck", stroke: "down", strings: [4, 3, 2] },
        u: { stroke: "up", notes: [{ string: 2, fret: 1 }] },
      }),
    ],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "fretting-hand slaps between thumb strokes",
    hand: "percussive",
    on: "acoustic",
    setting: { tempo: 90, player: { playsWith: "thumb" } },
    bars: [
      grid(8, "B . S . B . S .", { B: { stroke: "down", notes: [{ string: 6, fret: 0 }] }, S: { as: "click", stroke: "none", strings: [6, 5, 4, 3, 2, 1] } }),
    ],
  },
  {
    name: "fingerstyle clicks on the backbeat",
    hand: "percussive",
    on: "acoustic",
    setting: { tempo: 92, player: { playsWith: "fingers" } },
    bars: [grid(8, "A 2/1 K 1/0 B 2/1 K 1/0", { A: pinch("5/3p 3/0i"), B: pinch("4/2p 3/0i"), K: { as: "click", strings: [3, 2, 1] } })],
    variants: [{}, { gain: "edge" }],
  },
  {
    name: "strummed chord, chuck and bass run",
    hand: "percussive",
    on: "acoustic",
    setting: { tempo: 96 },
    bars: [grid(8, "6/3 A K A 6/3 5/2 K A", { A: G.up, K: G.chuck })],
    variants: [{}, edge, release],
  },
  {
    name: "dead groove before notes",
    hand: "percussive",
    on: "electric",
    setting: { tempo: 100, gain: "edge" },
    bars: [grid(16, "x x x x x x x x x x x x x x x x", { x: { as: "ghost", strings: [6, 5, 4, 3, 2, 1] } })],
    variants: [{}, arched],
  },
];

/** Documents of version 1, as JSON values. */
export const YARDSTICK: readonly object[] = [PICK, STRUM, FINGERS, BASS, SLAP, PERCUSSIVE].flat().flatMap(passagesOf);
