import { SCHOOL_KEYS, type SchoolKey, schoolOf } from "../hands/schools.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import { bottlenecksOf, countsOf } from "../verdict/figures.ts";
import { issuesOf } from "../verdict/findings.ts";
import { outcomesOf, type PlannedStages, straysOf } from "../verdict/verdict.ts";

/** What a way of playing comes to in a passage. */
export interface SchoolFigures {
  /** What no hand plays so. */
  issues: number;
  /** Moves without time. */
  rushed: number;
  /** Stray rings that are heard. */
  strays: number;
  /** Changes of the hands, and lifts of the palm, a bar. */
  gestures: number;
  palmLifts: number;
}

/** One answer to a question about how someone plays, tried in a passage. */
export interface SchoolTried {
  value: string;
  says: string;
  isChosen: boolean;
  figures: SchoolFigures;
}

/** A question with all its answers tried. */
export interface SchoolQuestion {
  key: SchoolKey;
  asks: string;
  tried: readonly SchoolTried[];
  /** Which of them suits the passage best: the chosen one where none is better; null where all come to the same. */
  suits: string | null;
  /** Why, against the chosen one or the next best. */
  why: string;
}

/** What strikes the strings is another instrument, in a way; a wrap is an aid for recording, and must not stand in for technique. */
const NOT_ASKED: ReadonlySet<SchoolKey> = new Set(["playsWith", "fretWrap"]);

/** Every way to play a passage, question by question, the others as they are. Yields after every plan. */
export function* schoolsFor(passage: Passage, plan: (passage: Passage) => PlannedStages): Generator<{ done: number; of: number }, SchoolQuestion[], void> {
  const settings = settingsOf(passage);
  const asked = SCHOOL_KEYS.filter((key) => !NOT_ASKED.has(key) && (schoolOf(key).askedOf?.includes(settings.playsWith) ?? true));
  const of = asked.reduce((sum, key) => sum + schoolOf(key).options.length, 0);
  let done = 0;
  const questions: SchoolQuestion[] = [];
  for (const key of asked) {
    const { asks, options } = schoolOf(key);
    const tried: SchoolTried[] = [];
    for (const { value, says } of options) {
      yield { done: done++, of };
      const own = { ...passage, player: { ...passage.player, [key]: value } } as Passage;
      tried.push({ value, says, isChosen: settings[key] === value, figures: figuresOf(own, plan(own)) });
    }
    questions.push({ key, asks, tried, ...judged(tried) });
  }
  return questions;
}

function figuresOf(passage: Passage, planned: PlannedStages): SchoolFigures {
  const outcomes = outcomesOf(planned);
  return {
    issues: issuesOf(passage, planned).length,
    rushed: bottlenecksOf(planned, outcomes).length,
    strays: straysOf(planned, outcomes).length,
    gestures: Math.round((10 * planned.path.cost.changes) / passage.bars.length) / 10,
    palmLifts: countsOf(planned, outcomes).palmLiftsPerBar,
  };
}

/** What decides, the weightiest first, and how it is said. */
const WEIGHED: readonly { key: keyof SchoolFigures; less: string }[] = [
  { key: "issues", less: "can be played as written" },
  { key: "rushed", less: "leaves the hands time" },
  { key: "strays", less: "leaves fewer strings ringing astray" },
  { key: "gestures", less: "asks for fewer changes of the hands" },
  { key: "palmLifts", less: "lifts the palm less often" },
];

function judged(tried: readonly SchoolTried[]): { suits: string | null; why: string } {
  const order = (a: SchoolTried, b: SchoolTried) => {
    for (const { key } of WEIGHED) if (a.figures[key] !== b.figures[key]) return a.figures[key] - b.figures[key];
    return Number(b.isChosen) - Number(a.isChosen);
  };
  const [best, ...others] = tried.toSorted(order);
  const against = best!.isChosen ? others.find((other) => differs(best!, other)) : tried.find(({ isChosen }) => isChosen);
  if (!against || !differs(best!, against)) return { suits: null, why: "It makes no difference here." };
  const { key, less } = WEIGHED.find(({ key: weighed }) => best!.figures[weighed] !== against.figures[weighed])!;
  return {
    suits: best!.value,
    why: `It ${less}: ${best!.figures[key]} instead of ${against.figures[key]}${key === "gestures" || key === "palmLifts" ? " a bar" : ""}.`,
  };
}

function differs(a: SchoolTried, b: SchoolTried): boolean {
  return WEIGHED.some(({ key }) => a.figures[key] !== b.figures[key]);
}
