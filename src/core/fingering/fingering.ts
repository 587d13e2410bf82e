import { FoldCache, fold, inARow, onItsOwn, type Stage, sameItems } from "../caching/fold.ts";
import { knownIn } from "../caching/known.ts";
import { textOf } from "../caching/text.ts";
import { trimmed } from "../caching/trimmed.ts";
import type { Grips } from "../grips/grips.ts";
import { type GripNote, type GripOption, gripOptions, isFretted } from "../grips/hold.ts";
import type { GripPlace, HeldGrip } from "../grips/types.ts";
import { optionsWithin, type Window } from "../grips/windows.ts";
import { type FingerMask, fingerBit } from "../hands/fingers.ts";
import type { Instrument } from "../passage/schema.ts";
import type { Settings } from "../passage/settings.ts";
import { leftRingingFrom } from "../timeline/ending.ts";
import type { Issue, Step, Timeline } from "../timeline/types.ts";
import { handAt, heldPlaces, type Neck, NO_PLACES, type Resting, restingOn, sameNeck, wentOver } from "./hand-at.ts";
import { handIssues } from "./hand-issues.ts";
import { type HandState, orderOf } from "./hand-state.ts";
import { cheapestPath, type Grip, type Reached } from "./path.ts";

export interface Fingering {
  /** Per step. */
  hands: readonly HandState[];
  issues: readonly Issue[];
}

/** What the fingering remembers of the last version of a passage. */
export class FingeringCache {
  readonly grips = new FoldCache<null, Grip | null>();
  /** Ways to hold notes, by what they are and the strings that sound open. */
  readonly options = new Map<string, readonly GripOption[]>();
  readonly paths = new FoldCache<Reached, readonly number[]>();
  readonly coming = new FoldCache<null, Resting | null>();
  readonly hands = new FoldCache<Neck, HandState>();
  readonly needs = new FoldCache<Needs, HandState>();
  readonly issues = new FoldCache<null, readonly Issue[]>();
}

/** Per finger, the thumb first: the sounding time at which it must next press a new place; without end where it need not. */
type Needs = readonly number[];

/** Chooses a finger for every note and every held place that names none: the cheapest path through hand positions. */
export function fingeringOf(
  timeline: Timeline,
  { held, windows }: Pick<Grips, "held" | "windows">,
  instrument: Instrument,
  settings: Settings,
  cache = new FingeringCache(),
): Fingering {
  const { steps } = timeline;
  const isBass = instrument.kind === "electric-bass";
  const before = <T>(list: readonly T[]): (T | null)[] => [null, ...list.slice(0, -1)];
  const after = <T>(list: readonly T[]): (T | null)[] => [...list.slice(1), null];
  const [earlier, heldEarlier] = [before(steps), before(held)];
  const asked = { steps, held, earlier, heldEarlier, windows, isBass, options: cache.options };
  const grips = fold(GRIPS, asked, { keys: steps, beside: [held, earlier, heldEarlier, windows], start: null, cache: cache.grips });
  const chosen = cheapestPath(steps, grips, cache.paths);
  const start = startOf(steps, held, grips, chosen);
  const later = [after(steps), after(held), after(grips), after(chosen)] as const;
  const coming = fold(COMING, { steps, chosen, later }, { keys: steps, beside: [chosen, ...later], start: null, cache: cache.coming });
  const end = leftRingingFrom(timeline);
  const ringsOut = steps.map(({ tick }) => tick >= end);
  const reached = fold(
    REACHED,
    { steps, held, grips, chosen, coming, later, ringsOut, settings },
    { keys: steps, beside: [grips, chosen, held, coming, ...later, ringsOut], start, cache: cache.hands },
  );
  const hands = fold(HURRIED, { steps, reached, settings }, { keys: steps, beside: [reached], start: NO_NEEDS, cache: cache.needs });
  const issues = fold(ISSUES, { steps, hands, instrument, settings }, { keys: steps, beside: [hands], start: null, cache: cache.issues });
  return { hands, issues: inARow(issues) };
}

interface Asked {
  steps: readonly Step[];
  held: Grips["held"];
  /** The same one step before. */
  earlier: readonly (Step | null)[];
  heldEarlier: readonly (HeldGrip | null)[];
  windows: Grips["windows"];
  isBass: boolean;
  options: FingeringCache["options"];
}

const GRIPS = onItsOwn((i, { steps, held, earlier, heldEarlier, windows, isBass, options }: Asked) =>
  gripOf(steps[i]!, windows[i]!, heldPlaces(steps[i]!, held[i]!), earlier[i] ? heldPlaces(earlier[i], heldEarlier[i]!) : NO_PLACES, isBass, options),
);

interface Held {
  steps: readonly Step[];
  held: Grips["held"];
  grips: readonly (Grip | null)[];
  chosen: readonly (GripOption | null)[];
  coming: readonly (Resting | null)[];
  later: Coming["later"];
  /** Per step: whether it comes after the last notes, which are left ringing. */
  ringsOut: readonly boolean[];
  settings: Settings;
}

const REACHED: Stage<Held, Neck, HandState> = {
  same: sameNeck,
  work: (neck, i, { steps, held, grips, chosen, coming, later, ringsOut, settings }) => {
    // Only a hand that let go before has had its time for the way.
    const goesOver = coming[i] !== null && neck.presses.length === 0;
    const isStruckNext = later[0][i]?.stroke != null && later[1][i] === held[i];
    const next = later[0][i] ? { step: later[0][i], grip: later[2][i]!, chosen: later[3][i]! } : null;
    return handAt(
      steps[i]!,
      { held: held[i]!, isStruckNext, ringsOut: ringsOut[i]!, next },
      grips[i]!,
      chosen[i]!,
      goesOver ? wentOver(neck, coming[i]!) : neck,
      settings,
    );
  },
};

interface Coming {
  steps: readonly Step[];
  chosen: readonly (GripOption | null)[];
  /** Steps, what is held, grips and ways to hold them, one step later. */
  later: readonly [readonly (Step | null)[], Grips["held"], readonly (Grip | null)[], readonly (GripOption | null)[]];
}

/** At the last dead stroke before a chord, where none of its own is written: where that chord will be. The strings stay damped on the way. */
const COMING = onItsOwn((i, { steps, chosen, later: [next, held, grips, ways] }: Coming): Resting | null => {
  const { stroke, sounding } = steps[i]!;
  if (stroke?.as !== "ghost" || chosen[i] !== null || sounding.some((note) => note !== null)) return null;
  const isChord = (grips[i]?.notes.length ?? 0) > 1;
  return isChord && ways[i] ? restingOn(next[i]!, held[i]!, grips[i]!, ways[i]!) : null;
});

const NO_NEEDS: Needs = new Array(5).fill(Number.POSITIVE_INFINITY);

const HURRIED: Stage<{ steps: readonly Step[]; reached: readonly HandState[]; settings: Settings }, Needs, HandState> = {
  same: sameItems,
  backward: true,
  work: (needs, i, { steps, reached, settings }) => withHurry(reached[i]!, steps[i]!.ms, needs, settings),
};

interface Fingered {
  steps: readonly Step[];
  hands: readonly HandState[];
  instrument: Instrument;
  settings: Settings;
}

const ISSUES = onItsOwn((i, { steps, hands, instrument, settings }: Fingered): readonly Issue[] => handIssues(steps[i]!, hands[i]!, instrument, settings));

/** What the hand does at a step, with the fingers that are in a hurry; what is needed later is nothing to it, nor to the steps before. */
function withHurry(hand: HandState, ms: number, needs: Needs, { moveMs, index }: Settings): readonly [HandState, Needs] {
  const soon = NO_NEEDS.slice();
  let hurried: FingerMask = 0;
  for (let f = 0; f < needs.length; f++) {
    const at = needs[f]!;
    if (at - ms >= 2 * moveMs.spare) continue;
    soon[f] = at;
    // Only fingers that could lie idle can be too late for it: an index does so only where it never leans.
    if (f === 0 || (f === 1 && index !== "arched")) continue;
    const finger = f as 1 | 2 | 3 | 4;
    if (!hand.presses.some((press) => press.finger === finger)) hurried |= fingerBit(finger);
  }
  for (const finger of hand.placed) if (finger !== 0) soon[orderOf(finger)] = ms;
  if (hurried === 0) return [hand, soon];
  const { position, presses, left, placed, cameFrom } = hand;
  return [{ position, presses, left, placed, cameFrom, hurried }, soon];
}

const NOWHERE: Resting = { position: 1, places: [] };

/** Before its first note the hand rests where that will be pressed: so a scratch has something to lie under it. */
function startOf(steps: readonly Step[], held: Grips["held"], grips: readonly (Grip | null)[], chosen: readonly (GripOption | null)[]): Neck {
  const first = chosen.findIndex((option) => option !== null);
  const { position, places } = first < 0 ? NOWHERE : restingOn(steps[first]!, held[first]!, grips[first]!, chosen[first]!);
  return { position, places, presses: [], away: 0, isChucked: false, grip: null, chosen: null };
}

/** What has to be held when a stroke begins or other places are held than before; null when nothing is, or neither happens. */
function gripOf(
  step: Step,
  window: Window | null,
  places: readonly GripPlace[],
  before: readonly GripPlace[],
  isBass: boolean,
  known: FingeringCache["options"],
): Grip | null {
  if (!step.stroke && sameItems(places, before)) return null;
  const notes: GripNote[] = [...places];
  for (const note of step.sounding) if (note && isFretted(note)) notes.push({ string: note.string, fret: note.fret, finger: note.finger });
  const kept = step.stroke?.kept ?? [];
  for (const { string, fret, finger } of kept) if (fret > 0) notes.push({ string, fret, finger });
  if (notes.length === 0) return null;
  const open = [...step.sounding, ...kept].flatMap((note) => (note?.fret === 0 ? [note.string] : []));
  const within = window && optionsWithin(window, notes);
  const slid = step.sounding.flatMap((note, s) => (note?.from === "slide" && step.begins[s] ? [note.string] : []));
  return {
    notes: trimmed(notes),
    slid: slid.length > 0 ? slid : NONE_SLID,
    options: within ?? knownIn(known, textOf([notes.map(({ string, fret, finger }) => [string, fret, finger]), open]), () => gripOptions(notes, isBass, open)),
  };
}

const NONE_SLID: readonly number[] = [];
