import type { RemedyKind, Stray } from "../document/plan.ts";
import type { ContactFinger } from "../hands/fingers.ts";
import { SCHOOL_KEYS, schoolOf } from "../hands/schools.ts";
import { fretFromNutMm } from "../music/neck.ts";
import { fractionOf, type Ticks, ticksOf } from "../music/ticks.ts";
import type { Patch } from "../passage/patch.ts";
import type { Note, Passage, Stroke } from "../passage/schema.ts";
import { lastFret, openLengthMm, openPitches, settingsOf } from "../passage/settings.ts";
import { countOf } from "../timeline/counts.ts";
import type { Step, TimelineNote } from "../timeline/types.ts";
import type { PlannedStages } from "../verdict/verdict.ts";
import { FINGER_NAMES } from "../words/contacts.ts";
import { DO, placeName, SHARES } from "../words/remedies.ts";

/** A change worth trying. */
export interface Candidate {
  kind: RemedyKind;
  /** What the player does, as the beginning of a sentence; "…" stands for the choice. */
  what: string;
  /** One of several that would do, which stands in `what` for "…". */
  choice?: string;
  /** Where, when it is at one place: "bar 2, 3 &". */
  where?: string;
  patch: Patch;
  /** What the change gives up, in dB of stray ring that it must at least take away. */
  price: number;
}

/**
 * What changes give up, as dB of stray ring they must at least be worth. From memory, adjustable; the order is common
 * practice: another finger is nothing, the open string's sound, the melody, the bass and a groove's direction are dear.
 */
export const PRICES_DB = {
  finger: 1,
  barre: 2,
  place: 4,
  /** Besides, when an open string's sound is given up or comes in. */
  openSound: 8,
  span: 3,
  direction: 9,
  shorten: 3,
  /** Besides, per ms that a note loses; twice that for the melody and the bass. */
  shortenPerMs: 0.03,
  palmMute: 10,
  tempo: 5,
  /** Besides, per per cent of tempo. */
  tempoPerCent: 0.1,
} as const;

/** Changes that could help against one stray ring, whatever they turn out to do. */
export function candidatesFor(passage: Passage, planned: PlannedStages, stray: Stray): Candidate[] {
  const { steps } = planned.timeline;
  const at = steps.findIndex((step) => step.bar + 1 === stray.fromBar && fractionOf(step.atTicks) === stray.fromAt);
  const step = steps[at];
  if (!step) return [];
  const notes = involvedNotes(steps, at, stray.string);
  return [
    ...notes.flatMap((note) => fingerChanges(passage, planned, note)),
    ...gripChanges(passage, planned, step),
    ...notes.flatMap((note) => placeChanges(passage, planned, note)),
    ...strokeChanges(passage, step, stray.string),
    ...schoolChanges(passage),
    ...notes.flatMap((note) => shortenings(passage, planned, note)),
    ...notes.flatMap((note) => palmMutes(passage, note)),
  ];
}

/** A slower tempo, when one is known at which nothing rings astray. */
export function tempoChange(passage: Passage, ceilingTempo: number | null): Candidate[] {
  if (ceilingTempo === null || ceilingTempo >= passage.tempo || passage.bars.some((bar) => bar.tempo !== undefined)) return [];
  const percent = 100 * (1 - ceilingTempo / passage.tempo);
  return [
    {
      kind: "tempo",
      what: DO.tempo(ceilingTempo),
      patch: [
        { op: "test", path: "/tempo", value: passage.tempo },
        { op: "replace", path: "/tempo", value: ceilingTempo },
      ],
      price: PRICES_DB.tempo + PRICES_DB.tempoPerCent * percent,
    },
  ];
}

/** The stray string's last note, and every note that sounds or ends where it rings. */
function involvedNotes(steps: readonly Step[], at: number, string: number): TimelineNote[] {
  const found = new Set<TimelineNote>();
  for (let i = at; i >= 0; i--) {
    const own = steps[i]!.sounding[string - 1];
    if (own) {
      found.add(own);
      break;
    }
  }
  for (const i of [at - 1, at]) for (const note of steps[i]?.sounding ?? []) if (note) found.add(note);
  return [...found];
}

interface Written {
  note: Note;
  stroke: Stroke;
  path: string;
  /** "bar 2, 3 &" */
  where: string;
}

function writtenOf(passage: Passage, note: Pick<TimelineNote, "bar" | "stroke" | "note">): Written {
  const bar = passage.bars[note.bar]!;
  const stroke = bar.strokes[note.stroke]!;
  return {
    note: stroke.notes[note.note]!,
    stroke,
    path: `/bars/${note.bar}/strokes/${note.stroke}/notes/${note.note}`,
    where: `bar ${note.bar + 1}, ${countOf(ticksOf(stroke.at), bar)}`,
  };
}

/** The finger that a fretted note is held with, as planned. */
function fingerOf(planned: PlannedStages, note: TimelineNote): number | null {
  const at = planned.timeline.steps.findIndex((step) => step.begins[note.string - 1] && step.sounding[note.string - 1] === note);
  const press = planned.fingering.hands[at]?.presses.find((p) => p.fret === note.fret && p.strings.includes(note.string));
  return typeof press?.finger === "number" && press.finger > 0 ? press.finger : null;
}

function fingerChanges(passage: Passage, planned: PlannedStages, note: TimelineNote): Candidate[] {
  if (note.pressedFret === 0) return [];
  const { path, where, note: written } = writtenOf(passage, note);
  const now = fingerOf(planned, note);
  return ([1, 2, 3, 4] as const)
    .filter((finger) => finger !== now)
    .map((finger) => ({
      kind: "finger",
      choice: FINGER_NAMES[finger],
      what: DO.finger(note.string, note.fret),
      where,
      patch: [
        { op: "test", path, value: written },
        { op: "add", path: `${path}/finger`, value: finger },
      ],
      price: PRICES_DB.finger,
    }));
}

/** All fingers of a grip moved up or down by one, and one finger laid across where two press at one fret. */
function gripChanges(passage: Passage, planned: PlannedStages, step: Step): Candidate[] {
  const stroke = step.stroke;
  if (!stroke) return [];
  const fretted = stroke.notes.filter((note) => note.pressedFret > 0);
  if (fretted.length < 2) return [];
  const { path, where } = writtenOf(passage, fretted[0]!);
  const strokePath = path.replace(/\/notes\/\d+$/, "");
  const written = passage.bars[stroke.bar]!.strokes[stroke.stroke]!;
  const fingers = fretted.map((note) => fingerOf(planned, note));
  const refinger = (kind: RemedyKind, what: string, change: readonly (number | null)[], price: number): Candidate => ({
    kind,
    what,
    where,
    patch: [
      { op: "test", path: strokePath, value: written },
      ...fretted.flatMap((note, k) => (change[k] === null ? [] : [{ op: "add" as const, path: `${strokePath}/notes/${note.note}/finger`, value: change[k] }])),
    ],
    price,
  });
  const found: Candidate[] = [];
  for (const by of [1, -1]) {
    const moved = fingers.map((finger) => (finger === null ? null : finger + by));
    if (moved.every((finger) => finger !== null && finger >= 1 && finger <= 4)) {
      found.push(refinger("finger", DO.hold([...new Set(moved)] as ContactFinger[]), moved, PRICES_DB.finger));
    }
  }
  for (const fret of new Set(fretted.map((note) => note.fret))) {
    const here = fretted.map((note, k) => (note.fret === fret ? fingers[k]! : null));
    const used = new Set(here.filter((finger) => finger !== null));
    if (used.size < 2) continue;
    const one = Math.min(...used);
    found.push(
      refinger(
        "barre",
        DO.barre(one as 1, fret, used.size),
        here.map((finger) => (finger === null ? null : one)),
        PRICES_DB.barre,
      ),
    );
  }
  return found;
}

/** No player takes a place further along the neck than this for one note's sake, in comfortable spans of the hand. From memory, adjustable. */
const FAR_IN_REACHES = 1.5;

/** The same pitch on another string, near the hand. */
function placeChanges(passage: Passage, planned: PlannedStages, note: TimelineNote): Candidate[] {
  const { instrument } = passage;
  const { path, where, note: written, stroke } = writtenOf(passage, note);
  const length = openLengthMm(instrument);
  const farMm = FAR_IN_REACHES * settingsOf(passage).reachMm;
  const slurredOn = passage.bars.some((bar) => bar.strokes.some((s) => s.notes.some((n) => n.string === note.string && (n.from ?? "stroke") !== "stroke")));
  if (note.from !== "stroke" || slurredOn || written.harmonic || stroke.strings || stroke.click) return [];
  const open = openPitches(instrument);
  const pitch = open[note.string - 1]! + note.fret;
  const others = new Set(
    planned.timeline.steps.filter((step) => step.sounding.includes(note)).flatMap((step) => step.sounding.flatMap((n, s) => (n && n !== note ? [s + 1] : []))),
  );
  const found: Candidate[] = [];
  open.forEach((lowest, s) => {
    const fret = pitch - lowest;
    const string = s + 1;
    if (string === note.string || fret < 0 || fret > lastFret(instrument) || others.has(string)) return;
    const isFar = fret > 0 && note.fret > 0 && Math.abs(fretFromNutMm(length, fret) - fretFromNutMm(length, note.fret)) > farMm;
    if (isFar) return;
    const changesSound = (fret === 0) !== (note.fret === 0);
    found.push({
      kind: "place",
      what: DO.place(note.string, note.fret),
      choice: placeName(string, fret),
      where,
      patch: [
        { op: "test", path, value: written },
        { op: "replace", path: `${path}/string`, value: string },
        { op: "replace", path: `${path}/fret`, value: fret },
        ...(written.finger === undefined ? [] : [{ op: "remove" as const, path: `${path}/finger` }]),
      ],
      price: PRICES_DB.place + (changesSound ? PRICES_DB.openSound : 0),
    });
  });
  return found;
}

/** A narrower stroke past the stray string, or the other direction. */
function strokeChanges(passage: Passage, step: Step, string: number): Candidate[] {
  const { stroke } = step;
  if (!stroke) return [];
  const bar = passage.bars[stroke.bar]!;
  const written = bar.strokes[stroke.stroke]!;
  const path = `/bars/${stroke.bar}/strokes/${stroke.stroke}`;
  const where = `bar ${stroke.bar + 1}, ${countOf(ticksOf(written.at), bar)}`;
  const test = { op: "test" as const, path, value: written };
  const found: Candidate[] = [];
  const noted = new Set(written.notes.map((note) => note.string));
  const { strings } = written;
  if (strings?.includes(string) && !noted.has(string)) {
    const sorted = [...strings].sort((a, b) => a - b);
    const outward = sorted.every((s) => s <= string || noted.has(s)) ? sorted.filter((s) => s >= string) : sorted.filter((s) => s <= string);
    const isEdge = outward.every((s) => !noted.has(s));
    const left = strings.filter((s) => !outward.includes(s));
    if (isEdge && left.length > 0)
      found.push({
        kind: "stroke",
        what: DO.narrower(outward),
        where,
        patch: [test, { op: "replace", path: `${path}/strings`, value: left }],
        price: PRICES_DB.span,
      });
  }
  if (stroke.kind === "down" || stroke.kind === "up") {
    const other = stroke.kind === "down" ? "up" : "down";
    found.push({
      kind: "stroke",
      what: DO.direction(other),
      where,
      patch: [test, { op: "add", path: `${path}/stroke`, value: other }],
      price: PRICES_DB.direction,
    });
  }
  return found;
}

/** Ways to play that the player has not decided about: what is set is ruled out or in by choice. */
function schoolChanges(passage: Passage): Candidate[] {
  const settings = settingsOf(passage);
  const hasOpen = passage.bars.some((bar) => bar.strokes.some((stroke) => stroke.notes.some((note) => note.fret === 0)));
  // A wrap forbids open strings that should ring.
  const open = SCHOOL_KEYS.filter((key) => passage.player[key] === undefined && !(key === "fretWrap" && hasOpen));
  return open.flatMap((key) =>
    schoolOf(key).options.flatMap(({ value, remedy }): Candidate[] => {
      if (!remedy || settings[key] === value) return [];
      const patch = [
        { op: "test" as const, path: "/player", value: passage.player },
        { op: "add" as const, path: `/player/${key}`, value },
      ];
      return [{ kind: key === "fretWrap" ? "fret-wrap" : "school", what: remedy.what, patch, price: remedy.priceDb }];
    }),
  );
}

/** By how much a note may end early. */
const SHORTER: readonly { by: Ticks; says: string }[] = [
  { by: ticksOf("1/64"), says: SHARES[64] },
  { by: ticksOf("1/32"), says: SHARES[32] },
  { by: ticksOf("1/16"), says: SHARES[16] },
];

/** The note ends a little early, so that a hand has time. At least half of it stays. */
function shortenings(passage: Passage, planned: PlannedStages, note: TimelineNote): Candidate[] {
  if (note.tone === "ghost" || note.letRing) return [];
  const { path, where, note: written } = writtenOf(passage, note);
  const length = note.end - note.start;
  const together = planned.timeline.steps.find((step) => step.sounding.includes(note))!;
  const pitches = together.sounding.flatMap((n) => (n ? [openPitches(passage.instrument)[n.string - 1]! + n.pitchFret] : []));
  const own = openPitches(passage.instrument)[note.string - 1]! + note.pitchFret;
  const leads = pitches.length > 1 && (own === Math.max(...pitches) || own === Math.min(...pitches));
  const tempo = passage.bars.slice(0, note.bar + 1).reduce((now, bar) => bar.tempo ?? now, passage.tempo);
  return SHORTER.filter(({ by }) => by * 2 <= length).map(({ by, says }) => {
    const ms = Math.round((by / ticksOf("1/4")) * (60_000 / tempo));
    return {
      kind: "shorten",
      what: DO.shorten(note.string),
      choice: says,
      where,
      patch: [
        { op: "test", path, value: written },
        { op: "add", path: `${path}/length`, value: fractionOf(length - by) },
      ],
      price: PRICES_DB.shorten + PRICES_DB.shortenPerMs * ms * (leads ? 2 : 1),
    };
  });
}

function palmMutes(passage: Passage, note: TimelineNote): Candidate[] {
  if (note.tone !== "open" || note.from !== "stroke" || note.letRing) return [];
  const { path, where, note: written } = writtenOf(passage, note);
  return [
    {
      kind: "palm-mute",
      what: DO.palmMute(note.string),
      where,
      patch: [
        { op: "test", path, value: written },
        { op: "add", path: `${path}/tone`, value: "palm" },
      ],
      price: PRICES_DB.palmMute,
    },
  ];
}
