import { planStages } from "../engine.ts";
import { outcomesOf, type PlannedStages } from "../verdict/verdict.ts";
import { passageOf, type StrokeInput, stroke } from "./build.ts";

/*
 * One figure, one technique (common practice): the same shape moved along the neck is played and damped the same way, unless one
 * of five reasons holds, which are looked for one by one: an open string, the end of the neck, reach, a node under a lone
 * finger, a threshold of hearing crossed.
 */

const SHAPES = ["4/5~3 3/4~2 2/3~1", "6/3~1 5/5~3 4/5~4", "6/3~1 5/5~3 4/5~4 3/4~2 2/3~1 1/3~1", "5/3~1 4/5~3 3/5~4", "3/5~3 2/5~4 1/3~1", "5/3~1 3/5~3"];
const NOTES = ["6/3", "6/5", "5/3", "5/5", "5/6", "4/3", "4/5", "3/4", "3/5", "2/3", "2/5", "2/6", "1/3", "1/5", "1/6"];

function figure(seed: number): StrokeInput[] {
  let state = seed * 2654435761 + 1;
  const any = (n: number) => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return (state >>> 16) % n;
  };
  const isChords = any(2) === 0;
  const chord = SHAPES[any(SHAPES.length)]!;
  const crossed = [...chord.matchAll(/(\d)\//g)].map((m) => Number(m[1]));
  return Array.from({ length: 8 }, (_, i): StrokeInput => {
    const place = `${i}/8`;
    if (isChords) return stroke(place, "1/8", chord, any(3) === 0 && i > 0 ? { as: "ghost", strings: crossed } : {});
    const tone = any(5) === 0 ? "p" : "";
    return any(6) === 0 && i > 0 ? { at: place, length: "1/8", as: "ghost", strings: [5, 4, 3] } : stroke(place, "1/8", `${NOTES[any(NOTES.length)]}${tone}`);
  });
}

const moved = (strokes: StrokeInput[], by: number): StrokeInput[] =>
  strokes.map((s) => ({ ...s, ...(s.notes ? { notes: s.notes.map((note) => ({ ...note, fret: note.fret + by })) } : {}) }));

const technique = (planned: PlannedStages) =>
  outcomesOf(planned)
    .map((o) => o.strings.map((s) => `${s.state}:${s.touchedBy.map((t) => `${t.hand}${t.part}${t.finger ?? ""}`).join("+")}`).join(" "))
    .join("\n");

/** What a shape does to strings at every step: where two differ in this, a lone finger lies over a node in one of them. */
const chimes = ({ problem }: PlannedStages) => problem.steps.map((s) => s.fretting.map((shape) => shape.chimes).join()).join(" ");
/** Where something would be heard if nobody touched it. */
const audible = ({ problem }: PlannedStages) =>
  problem.steps
    .map((s) => `${s.struck}/${s.carried}/${s.strings.map((x) => x.cost.map((c) => c > 0).join())}/${s.strings.map((x) => x.faint.map((c) => c > 0).join())}`)
    .join(" ");
const reach = ({ fingering }: PlannedStages) => fingering.issues.map((issue) => issue.code).join();
const positions = ({ fingering }: PlannedStages) => fingering.hands.map((hand) => hand.position);
const fingers = ({ fingering }: PlannedStages) => fingering.hands.map((hand) => hand.presses.map((p) => `${p.finger}/${p.strings}`).join()).join(" ");

export type Reason = "end of the neck" | "reach" | "node" | "threshold";

export interface Moved {
  compared: number;
  /** Figures damped otherwise where they were moved to, by what was found to differ; one can have several reasons. */
  reasons: Record<Reason, number>;
  differ: number;
  /** Those for which no reason was found. */
  without: string[];
}

/** Plans figures at home and moved along the neck; no string of them is open, so that is no reason here. */
export function movedFigures(figures = 80): Moved {
  const found: Moved = { compared: 0, reasons: { "end of the neck": 0, reach: 0, node: 0, threshold: 0 }, differ: 0, without: [] };
  for (let seed = 1; seed <= figures; seed++) {
    const strokes = figure(seed);
    const setting = { gain: (["clean", "edge", "high"] as const)[seed % 3]!, tempo: 100, player: seed % 4 === 0 ? ({ index: "arched" } as const) : {} };
    const home = planStages(passageOf(strokes, setting));
    for (const by of [1, 2, 4, 7]) {
      const there = planStages(passageOf(moved(strokes, by), setting));
      found.compared++;
      if (technique(there) === technique(home)) continue;
      found.differ++;
      const holds: Record<Reason, boolean> = {
        "end of the neck": Math.min(...positions(home)) < 2,
        reach: reach(home) !== reach(there) || fingers(home) !== fingers(there),
        node: chimes(home) !== chimes(there),
        threshold: audible(home) !== audible(there),
      };
      const reasons = (Object.keys(holds) as Reason[]).filter((reason) => holds[reason]);
      for (const reason of reasons) found.reasons[reason]++;
      if (reasons.length === 0) found.without.push(`seed ${seed}, ${by} frets up`);
    }
  }
  return found;
}
