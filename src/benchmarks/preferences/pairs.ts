import type { Choice } from "./choices.ts";

/*
 * What good hands take and what they leave, on passages of the yardstick: judged by reading where both plans differ, as a teacher would (common
 * practice, no published source). A hand that is left out of what is not taken does there what it does in what is taken.
 * `lost`: the planner of commit e0eb02e came nearer to what is not taken.
 */
export const CHOICES: readonly Choice[] = [
  {
    passage: "pick: power chords on 6 and 5",
    takes: { fretting: "lean1234*2 lean12345 lean123*2 lean12346 lean1234", picking: "off*7" },
    not: [
      { fretting: "lean1234*2 home lean123*2 home lean1234", why: "guard" },
      { fretting: "lean1234+laid4321*2 lean12345+laid4321 lean123+laid321*2 lean12346 lean1234+laid4321", why: "flutter" },
      { picking: "off+spare3*3 off+spare2*2 off+spare3*2", why: "curl" },
      { fretting: "laid4321*3 laid321*2 home*2", picking: "off*4 follow0 follow6+spare3 follow0+spare3", why: "lean" },
    ],
  },
  {
    passage: "pick: power chords with rests under gain",
    takes: { fretting: "lean123 lean12345 lean123 lean12345 lean123", picking: "off*5" },
    not: [
      { fretting: "lean123 home lean123 home lean123", why: "guard" },
      { fretting: "lean123+laid32 lean12345+laid32 lean123+laid32 lean12345+laid32 lean123+laid32", why: "flutter" },
      { picking: "off+spare2 off off+spare2 off off+spare2", why: "curl" },
      { picking: "off off+replant6 off off+replant4 off", why: "replant" },
    ],
  },
  {
    passage: "pick: chugging eighths on open 6",
    takes: { fretting: "lean12345*6 lean1234*2", picking: "palm4*6 off*2" },
    not: [
      { fretting: "lean12345*6 lean1234 home", why: "guard" },
      { fretting: "lean12345+laid4321*6 lean1234+laid4321 laid4321", why: "flutter" },
      { picking: "palm4+spare3*6 off+spare3*2", why: "curl" },
      { picking: "palm1*6 off*2", why: "stretch", lost: true },
      { fretting: "laid4321*8", why: "lean" },
    ],
  },
  {
    passage: "pick: chugging eighths on open 6, arched",
    takes: { fretting: "laid54321*6 laid4321*2", picking: "palm4*6 off*2" },
    not: [{ fretting: "home*8", picking: "palm1*6 off+spare3*2", why: "lying", lost: true }],
  },
  {
    passage: "pick: muted low string, tune on 5 open",
    takes: {
      fretting: "lean1234*5 lean12346 lean1234*6 lean12346*2 lean1234*2",
      picking: "palm6*2 follow6 palm6*2 follow6 palm6 follow6 palm6*2 follow6 palm6 follow6*2 palm6 follow6",
    },
    not: [
      { picking: "palm4*2 off palm4*2 off palm4 follow6 palm4*2 off palm4 off*2 palm4 off", why: "lift", lost: true },
      {
        fretting: "laid4321*14 laid43 laid4321",
        picking: "palm6*2 follow6 palm6*2 follow6 palm6 follow6 palm6*2 follow6 palm6 follow6*2 palm6+spare3 follow6",
        why: "lean",
      },
      {
        fretting: "lean1234+laid4321*5 lean12346+laid4321 lean1234+laid4321 lean6+laid4321 lean1234*4 lean12346*2 lean1234*2",
        picking: "palm4*2 off palm4*2 off palm4 off palm4*2 off palm4 off*2 palm4 off",
        why: "float",
      },
    ],
  },
  {
    passage: "pick: muted roots under an open melody on 3 and 2",
    takes: { fretting: "lean12345*2 lean124 lean12345*2 lean12 lean1245 lean1", picking: "palm5*2 follow5 palm5*2 follow5 palm5*2" },
    not: [
      { fretting: "home*7 lean1", why: "guard", lost: true },
      { picking: "palm5*2 follow5 palm5*2 follow5 palm4 follow4", why: "lift" },
      { picking: "palm4*2 off palm4*2 off palm4 off", why: "float" },
    ],
  },
  {
    passage: "pick: muted roots under an open melody on 3 and 2, arched",
    takes: { fretting: "laid54321*2 laid21 laid54321*2 laid21 laid54321 laid1", picking: "palm5*2 follow5 palm5*2 follow5 palm5*2" },
    not: [{ picking: "palm5*2 follow5+thumb-edge0 palm5*2 follow5 palm5*2", why: "edge" }],
  },
  {
    passage: "pick: sixteenth run under gain over four strings",
    takes: {
      fretting: "lean1234 lean12346*2 lean123 lean1235*2 lean12 lean124 lean1 lean13 lean14 lean12 lean125*2 lean123 lean1236",
      picking: "off*2 follow0 follow6*3 follow5*2 follow4*2 follow5*2 follow6*3 follow0",
    },
    not: [
      {
        picking:
          "off+thumb-edge0 off follow0 follow6*3 follow5*2 follow4+thumb-edge0 follow4 follow5+thumb-edge0 follow5 follow6*2 follow6+thumb-edge0 follow0",
        why: "edge",
      },
      { picking: "palm6*6 palm5*6 palm6*4", why: "follow" },
    ],
  },
  {
    passage: "pick: line of eighths up and down six strings",
    takes: {
      fretting: "lean12345*2 lean1234 lean12346 lean123 lean1235 lean12 lean124 lean1 lean13 home*3 lean3 lean1 lean14",
      picking: "off*3 follow0 follow6*2 follow5*2 follow4*2 follow3*3 follow4*2 follow5",
    },
    not: [
      {
        picking:
          "off*2 off+thumb-edge0 follow0 follow6+thumb-edge0 follow6 follow5+thumb-edge0 follow5 follow4+thumb-edge0 follow4 follow3+thumb-edge0 follow3*2 follow4*2 follow5",
        why: "edge",
      },
      { picking: "off*6 palm4*10", why: "follow", lost: true },
    ],
  },
  {
    passage: "pick: line of eighths up and down six strings, clean",
    takes: {
      fretting: "lean12345*2 lean1234 lean12346 lean123 lean1235 lean12 lean124 lean1 lean13 home*5 lean14",
      picking: "off*3 follow0 follow6*2 follow5*2 follow4*2 follow3*3 follow4*2 follow5",
    },
    not: [{ picking: "off*16", why: "float" }],
  },
  {
    passage: "pick: sweep over five strings in sextuplets",
    takes: {
      fretting: "lean12346 lean123 lean12 lean13 home lean2 home*2 lean12 lean123 lean1236 lean12356",
      picking: "follow0 follow6 follow5 follow4 follow3*3 follow4 follow5 follow6 follow0 follow6",
    },
    not: [
      {
        fretting: "lean12346 lean123 lean12 lean13 home lean2 home*2 lean12 lean123 lean1236 home",
        picking: "follow0 follow6 follow5 follow4 follow3*3 follow4 follow5 follow6 follow0 off",
        why: "guard",
        lost: true,
      },
      { picking: "palm6*3 palm4 palm3*3 palm4 palm5 palm6*3", why: "follow" },
    ],
  },
  {
    passage: "pick: two frets on one string in sixteenths, at 100",
    takes: {
      fretting: "lean123 lean1235 lean123 lean1235 lean123 lean1235 lean123 lean1235 lean123 lean1235 lean123 lean1235 lean123 lean1235 lean123 lean1235",
      picking: "follow6*16",
    },
    not: [{ picking: "follow5*16", why: "crowd" }],
  },
  {
    passage: "pick: bend a tone on 3, then 2, then 1",
    takes: { fretting: "lean124 lean13 lean2 lean1", picking: "follow5 follow4 follow3 follow4" },
    not: [{ picking: "palm4*2 palm3*2", why: "follow" }],
  },
  {
    passage: "pick: bend a tone on 3, then 2, then 1, arched",
    takes: { fretting: "laid21 laid1 home*2", picking: "follow4 follow3*2 follow4" },
    not: [
      { fretting: "home*4", why: "guard", lost: true },
      { fretting: "home*4", picking: "follow4+spare1 follow3*2 follow4", why: "lying", lost: true },
    ],
  },
  {
    passage: "pick: hammers and pulls on 4 and 3",
    takes: { fretting: "lean123 lean1235 lean12 lean124 lean12*2 lean125 lean123", picking: "follow6*2 follow5*4 follow6*2" },
    not: [
      { fretting: "lean123 home*7", picking: "off*8", why: "guard", lost: true },
      { picking: "palm6*8", why: "follow", lost: true },
      { picking: "off*8", why: "float", lost: true },
    ],
  },
  {
    passage: "pick: tapped figure with a wrap",
    takes: {
      fretting: "lean12*2 lean124 lean12*2 lean124 lean12*2 lean124 lean12*2 lean124 lean12*2 lean124 lean12456",
      picking: "off*16",
    },
    not: [
      {
        fretting: "home lean12 lean124 home lean12 lean124 home lean12 lean124 home lean12 lean124 home lean12 lean124 lean12456",
        why: "guard",
        lost: true,
      },
    ],
  },
  {
    passage: "pick: octaves on 5 and 3",
    takes: { fretting: "lean124*2 lean12346 lean124 lean12346 lean124*2", picking: "off*7" },
    not: [{ picking: "off*2 off+replant3 off off+replant3 off*2", why: "replant" }],
  },
  {
    passage: "pick: choked rake into a note",
    takes: { fretting: "lean13456 lean1*2 home", picking: "follow0 follow3 palm3 follow3" },
    not: [
      { fretting: "across lean1*2 home", why: "across", lost: true },
      { picking: "follow0 follow3 palm3 follow3+thumb-edge0", why: "edge", lost: true },
    ],
  },
  {
    passage: "pick: seven strings, low riff",
    takes: { fretting: "lean123456*4 lean12345*3 lean123456", picking: "palm5*2 off palm7 follow7 palm7 off palm5" },
    not: [{ picking: "palm5*2 off palm5 off palm5 off palm5", why: "lift", lost: true }],
  },
  {
    passage: "pick: odd meter riff in seven",
    takes: {
      fretting: "lean12345*3 lean1234*3 lean12346 lean1234*4 lean123 lean1236 lean1234",
      picking: "palm4 off palm6 follow6 palm6 follow0 follow6 palm6 off palm6 follow6*2 follow0 off",
    },
    not: [
      { picking: "palm4 off palm4 off palm4 off*2 palm4 off palm4 follow0 follow6 follow0 off", why: "lift", lost: true },
      { picking: "palm4 off palm6*3 off*2 palm4 off palm6*5", why: "follow", lost: true },
    ],
  },
  {
    passage: "pick: sixteenth run under gain over four strings, arched",
    takes: {
      fretting: "laid4321*3 laid32 laid321*2 laid21*2 laid1*4 laid21*2 laid321 laid32",
      picking: "off*2 follow0 follow6*3 follow5*2 follow4*2 follow5*2 follow6*3 follow0",
    },
    not: [
      { picking: "off*2 follow0 follow6*3 follow5*2 follow4*2 follow5*2 follow6+spare2*3 follow0+spare3", why: "curl", lost: true },
      {
        fretting: "laid4321*3 laid32 laid321*2 laid21*2 laid1*2 home*6",
        picking: "off*2 follow0 follow6+spare2 follow6*2 follow5*2 follow4*2 follow5+spare1*2 follow6+spare2*3 follow0+spare3",
        why: "curl",
        lost: true,
      },
    ],
  },
  {
    passage: "pick: line of eighths up and down six strings, arched",
    takes: {
      fretting: "laid54321*2 laid4321*2 laid32 laid321 laid21*2 laid1*2 home*6",
      picking: "off*3 follow0 follow6*2 follow5*2 follow4*2 follow3*3 follow4*2 follow5",
    },
    not: [{ picking: "off*3 follow0 follow6+spare2 follow6 follow5*2 follow4*2 follow3*3 follow4*2 follow5", why: "curl", lost: true }],
  },
  {
    passage: "strum: open chords with backbeat chucks",
    takes: { fretting: "home*5 lean12346 home*5 lean13456", picking: "off heel off*2 heel follow0 follow6 heel follow0 follow6 heel off" },
    not: [
      { fretting: "home*12", why: "guard", lost: true },
      { fretting: "home lean234+laid43 home*2 lean234+laid43 lean12346 home lean1+laid31 home*2 lean1+laid31 lean13456", why: "flutter" },
      { picking: "off heel off*2 heel off*2 heel off*2 heel off", why: "lift", lost: true },
      { picking: "off heel off*2 heel palm6*2 heel palm6*2 heel off", why: "follow" },
    ],
  },
  {
    passage: "strum: open chords with backbeat chucks, edge",
    takes: { fretting: "home lean12346 home*2 lean12346 home lean13456 home*2 lean13456", picking: "off heel off*2 heel follow6 heel follow0 follow6 heel" },
    not: [{ fretting: "home lean12346 home*2 lean12346 home across home*2 across", why: "across" }],
  },
  {
    passage: "strum: sixteenth funk, every other one a ghost",
    takes: { fretting: "lean1 lean13456*2 lean1 lean13456 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456", picking: "follow6*16" },
    not: [
      { fretting: "home*16", why: "guard" },
      { picking: "off*16", why: "float" },
    ],
  },
  {
    passage: "strum: sixteenth funk, every other one a ghost, up 2",
    takes: { fretting: "lean1 lean13456*2 lean1 lean13456 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456", picking: "follow6*16" },
    not: [{ fretting: "laid1 home*2 laid1 home laid1 home*2 laid1 home*2 laid1 home*2 laid1 home", why: "lean" }],
  },
  {
    passage: "strum: sixteenth funk, every other one a ghost, arched",
    takes: { fretting: "home*16", picking: "follow6*16" },
    not: [{ fretting: "laid1 laid654321*2 laid1 laid654321 laid1 laid654321*2 laid1 laid654321*2 laid1 laid654321*2 laid1 laid654321", why: "flutter" }],
  },
  {
    passage: "strum: sixteen scratches with two hits",
    takes: { fretting: "lean12356*4 lean1 lean12356*7 lean1 lean12356*3", picking: "off*16" },
    not: [{ fretting: "home*4 lean1 home*7 lean1 home*3", why: "guard" }],
  },
  {
    passage: "strum: scratch bar before the first chord",
    takes: {
      fretting: "lean13456*16 lean1 lean13456*2 lean1 lean13456 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456*2 lean1 lean13456",
      picking: "follow6*32",
    },
    not: [
      { fretting: "home*32", why: "guard", lost: true },
      { picking: "palm6*32", why: "follow" },
      { picking: "off*32", why: "float" },
    ],
  },
  {
    passage: "strum: scratch bar before the first chord, arched",
    takes: { fretting: "laid654321*16 home*16", picking: "follow6*32" },
    not: [
      {
        fretting: "laid654321*16 laid1 laid654321*2 laid1 laid654321 laid1 laid654321*2 laid1 laid654321*2 laid1 laid654321*2 laid1 laid654321",
        why: "flutter",
      },
    ],
  },
  {
    passage: "strum: chord change inside a scratch",
    takes: { fretting: "lean1 lean13456*3 lean1 lean13456*3 home lean23456*3 home lean23456*3", picking: "follow6*8 follow5*8" },
    not: [
      { fretting: "lean1 home*3 lean1 home*11", why: "guard" },
      { picking: "palm5*16", why: "follow" },
      { picking: "off*16", why: "float" },
    ],
  },
  {
    passage: "strum: chord change inside a scratch, arched",
    takes: { fretting: "laid1 laid654321*3 laid1 home*11", picking: "follow6*5 follow5 palm5*2 follow5 follow4 palm4*2 follow4 palm4*3" },
    not: [{ fretting: "laid1 laid654321*3 laid1 home*10 across", why: "across", lost: true }],
  },
  {
    passage: "strum: wide ghosts between compact shapes",
    takes: { fretting: "lean1 lean13456 lean1 lean13456 lean12 lean12346 lean12 lean12346", picking: "follow6 follow0 follow6 follow0 off*4" },
    not: [
      { fretting: "home lean13456 home lean13456 home lean12346 home lean12346", picking: "off*8", why: "guard", lost: true },
      { fretting: "lean1 across lean1 across lean12 across lean12 across", why: "across", lost: true },
      { picking: "off*8", why: "float", lost: true },
    ],
  },
  {
    passage: "strum: wide ghosts between compact shapes, arched",
    takes: { fretting: "laid1 laid654321 laid1 laid654321 home across home across", picking: "follow6 follow0 follow6 follow0 off*4" },
    not: [{ picking: "follow6 follow0 follow6 follow0 off+spare1 off off+spare1 off", why: "curl", lost: true }],
  },
  {
    passage: "strum: barre released between strokes",
    takes: { fretting: "home*8", picking: "off*8" },
    not: [{ fretting: "home across home across home across home across", why: "across" }],
  },
  {
    passage: "strum: walk-up of one barre shape",
    takes: { fretting: "home*9", picking: "off*9" },
    not: [{ fretting: "home across home across home across home*3", why: "across" }],
  },
  {
    passage: "strum: root with the ring finger strummed through all strings, yes",
    takes: { fretting: "lean12345 lean123456 lean12345 lean123456 lean12345 lean123456 lean12345 lean123456", picking: "off*8" },
    not: [{ fretting: "lean12345 lean123456+over lean12345 lean123456+over lean12345 lean123456+over lean12345 lean123456+over", why: "extra" }],
  },
  {
    passage: "strum: one note strummed through all strings",
    takes: { fretting: "lean1234*2 lean12346*2 lean1234*2 lean12346*2", picking: "off*8" },
    not: [
      { picking: "palm6*8", why: "crowd" },
      { fretting: "laid4321*8", why: "lean" },
    ],
  },
  {
    passage: "strum: one note strummed through all strings, yes",
    takes: { fretting: "lean1234*2 lean12346*2 lean1234*2 lean12346*2", picking: "off*8" },
    not: [{ fretting: "lean1234+over*2 lean12346+over*2 lean1234+over*2 lean12346+over*2", why: "extra", lost: true }],
  },
  {
    passage: "strum: strummed song of open chords",
    takes: { fretting: "home*12", picking: "follow6*6 follow0 off*5" },
    not: [
      { picking: "off*12", why: "guard" },
      { picking: "palm6*6 off*6", why: "follow" },
    ],
  },
  {
    passage: "strum: strummed song of open chords, written",
    takes: {
      fretting: "home*3 lean13456 home*3 lean13456 home*3 lean12456 home*4",
      picking: "follow6*3 follow5 follow6*3 follow5 follow0 off follow0 follow4 follow0 off follow0 follow4",
    },
    not: [
      {
        fretting: "home*3 across home*3 across home*3 across home*4",
        picking: "follow6*3 follow4 follow6*3 follow4 follow0 off follow0 follow4 follow0 off follow0 follow4",
        why: "across",
        lost: true,
      },
      { picking: "follow6*3 follow5+replant1 follow6*3 follow5 follow0 off follow0 follow4+replant1 follow0 off follow0 follow4", why: "replant" },
    ],
  },
  {
    passage: "strum: open chord stopped on two and four",
    takes: { fretting: "home lean12456 home lean12456 home*3", picking: "off*7" },
    not: [
      { picking: "off off+spare3 off off+spare3 off off+spare3 off", why: "curl" },
      { picking: "off off+replant6 off off+replant6 off off+replant6 off", why: "replant", lost: true },
    ],
  },
  {
    passage: "strum: palm-muted strums with accents",
    takes: { fretting: "lean12*8", picking: "palm3*2 follow6 palm3*2 follow6 palm3*2" },
    not: [
      { picking: "palm3*2 off palm3*2 off palm3*2", why: "lift", lost: true },
      { fretting: "home*8", picking: "palm1*2 off palm1*2 off palm1*2", why: "lean", lost: true },
    ],
  },
  {
    passage: "strum: palm-muted strums with accents, percussive",
    takes: { fretting: "lean12*8", picking: "palm3 off follow0 follow6 palm3 follow6 palm3 off" },
    not: [{ picking: "palm3 off*3 palm3 palm6 palm3 off", why: "follow", lost: true }],
  },
  {
    passage: "strum: off-beat chops",
    takes: { fretting: "lean1 lean13456 lean1 lean13456 lean1 lean13456 lean1 lean13456", picking: "follow6*8" },
    not: [
      { fretting: "home*8", picking: "off*8", why: "guard", lost: true },
      { picking: "follow6 follow6+spare3 follow6 follow6+spare3 follow6 follow6+spare3 follow6*2", why: "curl" },
      { picking: "follow6 follow6+replant2 follow6 follow6+replant2 follow6 follow6+replant2 follow6*2", why: "replant" },
      { fretting: "home*8", picking: "follow6 follow5 follow6 follow5 follow6 follow5 follow6 follow5", why: "lean", lost: true },
      { picking: "palm6*8", why: "follow" },
      { fretting: "lean1 lean13456 lean1 lean13456 lean1 lean13456 lean1 lean13456", picking: "off*8", why: "float", lost: true },
    ],
  },
  {
    passage: "fingers: arpeggio out of a held chord",
    takes: { fretting: "home*8 lean45*8", picking: "thumb6 thumb6+rest-stroke0 thumb6*3 thumb6+rest-stroke0 thumb6*2 off*8" },
    not: [
      { fretting: "home*16", why: "guard" },
      { fretting: "home*8 lean45*3 home lean45*3 home", why: "flutter" },
      { picking: "off*16", why: "float" },
      { picking: "thumb6 off*3 thumb6 off*11", why: "float" },
    ],
  },
  {
    passage: "fingers: arpeggio out of a held chord, bloom",
    takes: { fretting: "home*8 lean4*8", picking: "thumb6 thumb6+rest-stroke0 thumb6*3 thumb6+rest-stroke0 thumb6*2 off*8" },
    not: [
      { fretting: "home*16", picking: "off*16", why: "guard", lost: true },
      { fretting: "home*8 lean4*3 home lean4*3 home", why: "flutter", lost: true },
    ],
  },
  {
    passage: "fingers: pinch and rests with thumb return",
    takes: { fretting: "home lean13456 home", picking: "thumb6 off*2" },
    not: [
      { picking: "thumb6 thumb4 off", why: "hop" },
      { picking: "off*3", why: "float" },
    ],
  },
  {
    passage: "fingers: pinch and rests with thumb return, edge",
    takes: { fretting: "home lean13456 home", picking: "thumb6 off*2" },
    not: [{ fretting: "home lean13456+laid6541 home", picking: "thumb6 off+plant7 off", why: "flutter" }],
  },
  {
    passage: "fingers: pinch and rests with thumb return, at 100",
    takes: { fretting: "home lean13456 home", picking: "thumb6 off*2" },
    not: [{ fretting: "home across home", why: "across", lost: true }],
  },
  {
    passage: "fingers: classical study: bass rests under the tune",
    takes: {
      fretting: "lean2345 lean1 lean56 home lean345 lean1 lean56 lean3456",
      picking: "off off+plant5*2 thumb4+plant6 off+plant6 off+plant5*2 off+plant6",
    },
    not: [
      { fretting: "home*6 lean3 lean3456", picking: "off*3 thumb4 off*4", why: "guard", lost: true },
      { fretting: "lean2345 lean1 lean56 home lean345 lean1 lean56 lean3456+laid543", why: "flutter", lost: true },
      {
        fretting: "lean2345 lean1 lean3 home lean345 lean1 lean3 lean3456",
        picking: "off thumb4 thumb5 thumb4+plant6 off thumb4 thumb5 thumb4",
        why: "hop",
        lost: true,
      },
      { picking: "off*3 thumb4 off*4", why: "planted", lost: true },
    ],
  },
  {
    passage: "fingers: pinch and click",
    takes: { fretting: "lean1*5", picking: "off off+plant7 off off+plant7 thumb5+plant7" },
    not: [{ fretting: "home*5", why: "guard", lost: true }],
  },
  {
    passage: "fingers: alternating bass under a tune",
    takes: { fretting: "home*8 lean5*8", picking: "off*16" },
    not: [{ fretting: "home*8 lean5+laid5*8", why: "flutter" }],
  },
  {
    passage: "fingers: bass line with two-note chords on the beats after",
    takes: { fretting: "lean1245 home lean12456 home lean1245 home lean12456 home", picking: "off thumb5*3 off*3 off+plant1" },
    not: [{ fretting: "lean1245 home across home lean1245 home across home", why: "across", lost: true }],
  },
  {
    passage: "fingers: bass line with two-note chords on the beats after, edge",
    takes: {
      fretting: "lean1245 home lean12456 home lean1245 home lean12456 home",
      picking: "off thumb5+plant1 thumb5+plant7 thumb5+plant1 off+plant7 off+plant1 off+plant7 off+plant1",
    },
    not: [{ picking: "off thumb5*3 off*4", why: "planted" }],
  },
  {
    passage: "fingers: six fretted notes in tremolo on one string",
    takes: {
      fretting: "lean6 home*3 lean12 home*3 lean124 home*3 lean12 home*3",
      picking: "off+plant15 thumb4+plant6*3 thumb4*4 off thumb5*4 thumb5+plant6*3",
    },
    not: [
      { fretting: "home*8 lean124 home*3 lean12 home*3", picking: "off thumb5 off*7 thumb5*4 thumb5+plant6*3", why: "guard" },
      { fretting: "lean6 home*3 lean12 home*3 lean124+laid6 home*3 lean12 home*3", why: "extra" },
      {
        fretting: "lean1234 home*3 lean12 home*3 lean124 home*3 lean12 home*3",
        picking: "thumb6 thumb4*3 thumb5 thumb4*3 thumb6 thumb5*4 thumb5+plant6*3",
        why: "hop",
        lost: true,
      },
      { picking: "off thumb4*7 off thumb5*4 thumb5+plant6*3", why: "planted", lost: true },
    ],
  },
  {
    passage: "fingers: walking tenths",
    takes: { fretting: "lean134*3 lean124", picking: "off*4" },
    not: [{ fretting: "home*4", why: "guard" }],
  },
  {
    passage: "fingers: walking tenths, arched",
    takes: { fretting: "laid43*3 home", picking: "off+plant5*3 off+plant3" },
    not: [
      { fretting: "home*4", picking: "off*4", why: "guard", lost: true },
      { fretting: "home*4", why: "lying", lost: true },
    ],
  },
  {
    passage: "fingers: natural harmonics between notes",
    takes: { fretting: "lean23456 lean1234 lean346 lean123", picking: "off*2 off+plant5 off+plant7" },
    not: [
      { fretting: "home lean1234 home lean123", picking: "off*4", why: "guard", lost: true },
      { picking: "off*2 thumb5+plant5 thumb5+plant7", why: "hop", lost: true },
    ],
  },
  {
    passage: "fingers: slurred line on the treble strings",
    takes: { fretting: "home*4 lean14 lean12 lean125 lean123", picking: "thumb4+plant6 thumb5+plant6 thumb5*6" },
    not: [
      { fretting: "home*8", picking: "off*8", why: "guard", lost: true },
      { picking: "thumb5*8", why: "planted", lost: true },
      { picking: "off*8", why: "float", lost: true },
    ],
  },
  {
    passage: "fingers: slurred line on the treble strings, arched",
    takes: { fretting: "home*8", picking: "thumb4+plant6 thumb5+plant6 thumb5+plant5*2 thumb5+plant3*2 thumb5+plant7*2" },
    not: [
      { picking: "off*8", why: "guard", lost: true },
      { fretting: "home*4 laid1*2 home*2", picking: "thumb4+plant6 thumb5+plant6 thumb5*4 thumb5+plant7*2", why: "extra", lost: true },
      { picking: "thumb5*8", why: "planted", lost: true },
    ],
  },
  {
    passage: "bass: line over four strings",
    takes: { fretting: "lean123 lean12 lean1 home lean3 lean24 lean123*2", picking: "off thumb-follow4*2 thumb-follow3 thumb-follow4*2 off*2" },
    not: [
      {
        fretting: "lean123+laid321 lean12+laid21 lean1+laid1 home lean3 lean24+laid21 lean123+laid321*2",
        picking: "off off+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow3+rest-stroke0 thumb-follow4+rest-stroke0 off+rest-stroke0 off*2",
        why: "flutter",
      },
      { fretting: "laid321 laid21 laid1 home*3 laid321*2", why: "lean" },
    ],
  },
  {
    passage: "bass: roots in eighths with rests",
    takes: { fretting: "lean123*4 lean12 lean124 lean12 lean124 lean12 lean124 lean12 lean124 lean123*2", picking: "off*14" },
    not: [
      { fretting: "lean123*2 home lean123 lean12 home lean12 lean124 lean12 home lean12 home lean123*2", why: "guard" },
      {
        fretting:
          "lean123+laid321*2 laid321 lean123+laid321 lean12+laid21 laid421 lean12+laid21 lean124+laid21 lean12+laid21 lean124 lean12+laid21 lean124 lean123+laid321*2",
        picking: "off*4 off+rest-stroke0 off off+rest-stroke0*2 off*6",
        why: "flutter",
      },
      { picking: "off*4 off+rest-stroke0 off off+rest-stroke0*2 off*6", why: "curl" },
      { fretting: "lean123*2 across lean123 lean12 across lean12 lean124 lean12 lean124 lean12 lean124 lean123*2", why: "across" },
      { picking: "off*2 off+replant4 off off+rest-stroke0 off+replant3 off+rest-stroke0*2 off off+replant4 off off+replant4 off*2", why: "replant" },
      { fretting: "laid321*4 laid21 laid421 laid21*6 laid321*2", why: "lean" },
    ],
  },
  {
    passage: "bass: dead notes in sixteenths",
    takes: { fretting: "lean123*14 lean12 lean124", picking: "off*16" },
    not: [
      {
        fretting:
          "lean123+laid321 lean123+along4*2 lean123+laid321 lean123+along4 lean123+laid321 lean123+along4*2 lean123+laid321*6 lean12+laid21 lean124+laid21",
        why: "flutter",
      },
      {
        fretting:
          "lean123 lean123+along4*2 lean123 lean123+along4 lean123 lean123+along4*2 lean123 lean123+along4*2 lean123 lean123+along4*2 lean12 lean124+along4",
        why: "extra",
      },
    ],
  },
  {
    passage: "bass: five strings, line above the low ones",
    takes: {
      fretting: "lean123 lean125 lean1 lean3 lean1 lean12 lean1235 lean123",
      picking:
        "thumb-follow5 thumb-follow5+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow3+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow5+rest-stroke0 thumb-follow5*2",
    },
    not: [
      {
        picking:
          "thumb-follow5 thumb-follow5+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow3+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow5+rest-stroke0 off+rest-stroke0*2",
        why: "extra",
      },
      {
        picking:
          "off+rest-stroke0 thumb-follow5+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow3+rest-stroke0 thumb-follow4+rest-stroke0 thumb-follow5+rest-stroke0 thumb-follow5*2",
        why: "hop",
      },
    ],
  },
  {
    passage: "bass: five strings, line above the low ones, anchored",
    takes: { fretting: "lean123 lean125 lean1 lean3 lean1 lean12 lean1235 lean123", picking: "thumb5*2 thumb5+park12*3 thumb5*3" },
    not: [{ fretting: "laid321 laid21 laid1 home*3 laid321*2", why: "lean", lost: true }],
  },
  {
    passage: "bass: five strings, low riff with jumps",
    takes: { fretting: "lean1234*2 lean124 lean1234*3 lean134 lean12", picking: "off*5 thumb-follow3 thumb-follow4 thumb-follow5" },
    not: [
      { fretting: "lean1234*2 home lean1234*3 home lean12", why: "guard" },
      { fretting: "lean1234*2 home*2 lean1234 home*2 lean12", why: "guard" },
      { fretting: "lean1234*2 home across lean1234 across home lean12", why: "across" },
      { fretting: "laid4321*2 laid21 laid421 laid4321*2 laid1*2", why: "lean" },
    ],
  },
  {
    passage: "bass: palm and thumb",
    takes: { fretting: "lean123*5 lean12 lean123 lean12", picking: "palm2*8" },
    not: [
      { picking: "palm2 off palm2*2 off palm2 off palm2", why: "lift", lost: true },
      { fretting: "lean123 home lean123*2 home lean12 home lean12", why: "guard", lost: true },
      { fretting: "lean123 across lean123*2 across lean12 lean123 lean12", why: "across" },
      { picking: "palm2 off+replant4 palm2*2 off palm2 off+replant3 palm2", why: "replant", lost: true },
    ],
  },
  {
    passage: "bass: bass with a pick",
    takes: { fretting: "lean123*4 lean12*4", picking: "off*8" },
    not: [
      { picking: "off+spare2*4 off+spare1*2 off+spare2*2", why: "curl" },
      { picking: "off*4 off+thumb-edge0 off*3", why: "edge" },
    ],
  },
  {
    passage: "slap: slap and pop octaves",
    takes: { fretting: "lean123 lean13 lean123 lean13 lean123 lean13 lean123", picking: "off*7" },
    not: [
      { fretting: "lean123 home lean123 home lean123 home lean123", why: "guard" },
      { fretting: "lean123+laid321 laid1 lean123+laid321 laid1 lean123+laid321 laid1 lean123+laid321", why: "flutter" },
      { fretting: "lean123 over lean123 laid1+over lean123 over lean123", why: "extra" },
      { fretting: "laid321 laid1 laid321 laid1 laid321 laid1 laid321", why: "lean" },
    ],
  },
  {
    passage: "slap: slap and pop octaves, arched",
    takes: { fretting: "laid321 laid1 laid321 laid1 laid321 laid1 laid321", picking: "off*7" },
    not: [{ fretting: "laid321 laid1+over laid321 laid1+over laid321 laid1+over laid321", why: "extra" }],
  },
  {
    passage: "slap: slap with ghosts in sixteenths",
    takes: { fretting: "lean123*5 lean13 lean123*8 lean13 lean123", picking: "off*16" },
    not: [
      {
        fretting:
          "lean123+laid321 lean123+along4*2 lean123+laid321 lean123+along4 laid1 lean123+along4*2 lean123+laid321 lean123+along4*2 lean123+laid321 lean123+along4*2 laid1 lean123+laid31",
        why: "flutter",
      },
      {
        fretting:
          "lean123 lean123+along4+over*2 lean123 lean123+along4+over laid1+over lean123+along4+over*2 lean123 lean123+along4+over*2 lean123 lean123+along4+over*2 laid1+over lean123+laid31+over",
        why: "extra",
      },
    ],
  },
  {
    passage: "slap: slap on open strings with hammers",
    takes: { fretting: "lean123*2 lean1+over lean134 lean13 lean123 lean1+over", picking: "off*7" },
    not: [
      { fretting: "lean123*2 lean1+over home lean13 lean123 lean1+over", why: "guard", lost: true },
      { fretting: "lean123*2 lean1+over laid431 laid31 lean123 lean1+over", why: "extra", lost: true },
      { fretting: "lean123*2 lean1+over across lean13 lean123 lean1+over", why: "across", lost: true },
      { fretting: "laid321*2 laid1+over laid431 laid31 laid321 laid1+over", why: "lean" },
    ],
  },
  {
    passage: "slap: slap on five strings",
    takes: { fretting: "lean123 lean1235 lean135 lean123 lean1235 lean135 lean123 lean135", picking: "off*8" },
    not: [
      { fretting: "lean123+over lean1235+over lean135+over lean123+over lean1235+over lean135+over lean123+over lean135+over", why: "extra" },
      { fretting: "lean123+laid321 laid5321 laid1+over lean123+laid321 laid531 laid1+over lean123+laid321 laid1+over", why: "flutter" },
      { fretting: "laid321+over laid5321+over laid1+over laid321+over over*2 laid321+over laid1+over", why: "lean" },
    ],
  },
  {
    passage: "percussive: thumb-swing with the nail on the backbeat",
    takes: { fretting: "lean1345 lean1*3 lean1345 lean1*3", picking: "follow0 follow4 heel follow4 follow0 follow4 heel follow4" },
    not: [
      { fretting: "home*8", picking: "follow0 follow4 heel off follow0 follow4 heel off", why: "guard", lost: true },
      {
        fretting: "home*8",
        picking: "follow0+plant23 follow4+plant5 heel follow4+plant5 follow0+plant23 follow4+plant5 heel follow4+plant5",
        why: "lean",
        lost: true,
      },
    ],
  },
  {
    passage: "percussive: fretting-hand slaps between thumb strokes",
    takes: { fretting: "home across*2 home across*2", picking: "off+plant23 off+plant7*2 off+plant23 off+plant7*2" },
    not: [
      { picking: "off*6", why: "guard" },
      { fretting: "laid54321 laid654321 across laid54321 across*2", picking: "off+plant7*6", why: "flutter" },
      { fretting: "laid54321 across*2 home across*2", picking: "off*6", why: "float" },
    ],
  },
  {
    passage: "percussive: fingerstyle clicks on the backbeat",
    takes: { fretting: "home*8", picking: "off*2 thumb4+plant7 off*3 off+plant7 off" },
    not: [{ fretting: "home*2 lean1+laid31 home*3 lean1+laid31 home", why: "flutter" }],
  },
  {
    passage: "percussive: strummed chord, chuck and bass run",
    takes: { fretting: "lean4*8", picking: "off*2 heel off*3 heel off" },
    not: [
      { fretting: "home*8", why: "guard", lost: true },
      { fretting: "lean4*2 lean234+laid43 lean4*3 lean234+laid43 laid4", why: "flutter" },
    ],
  },
  {
    passage: "percussive: strummed chord, chuck and bass run, release",
    takes: { fretting: "lean4*2 lean12346 lean4*3 lean12346 lean4", picking: "off*8" },
    not: [{ fretting: "lean4*2 across lean4*3 across lean4", why: "across" }],
  },
  {
    passage: "percussive: dead groove before notes",
    takes: { fretting: "laid654321*16", picking: "off*16" },
    not: [
      { fretting: "across*16", why: "across", lost: true },
      { picking: "palm1*16", why: "stretch" },
    ],
  },
  {
    passage: "percussive: dead groove before notes, arched",
    takes: { fretting: "across*16", picking: "off*16" },
    not: [{ picking: "palm1*16", why: "stretch" }],
  },
];
