import loadHighs from "highs";
import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { somePassages } from "../test/any-passage.ts";
import { compare, greedyCost } from "../test/greedy.ts";
import { optimumByHighs } from "../test/integer-program.ts";
import { randomPassage } from "../test/random-passages.ts";

/** What hands are likely to be asked, and everything that the schema allows. */
const LIKELY = Array.from({ length: 200 }, (_, i) => randomPassage(i + 1, 4));
const ANY = somePassages(37, 120, { bars: 1, strokes: 4, notes: 3, extras: 1 });
/** Here the cheapest of two plans, wherever it may go, leaves more ringing: it does not make up for the other one. */
const RINGING = randomPassage(49, 8);
const PASSAGES = [...LIKELY, ...ANY, RINGING];

// Outside check: HiGHS, an independent solver, on the same problem written as an integer program.
it(`finds HiGHS's optimum, level by level, on ${PASSAGES.length} random passages; a greedy walk pays more on 100 of them or more`, async () => {
  const highs = await loadHighs();
  let greedyPaysMore = 0;
  for (const [seed, passage] of PASSAGES.entries()) {
    const { problem, path } = planStages(passage);
    if (problem.steps.length === 0) continue;
    expect(path.cost, `passage ${seed}`).toEqual(optimumByHighs(highs, problem));
    let greedy: number;
    try {
      greedy = compare(greedyCost(problem), path.cost);
    } catch {
      greedy = 1;
    }
    expect(greedy, `passage ${seed}: no walk can cost less`).toBeGreaterThanOrEqual(0);
    if (greedy > 0) greedyPaysMore++;
  }
  expect(greedyPaysMore).toBeGreaterThanOrEqual(100);
}, 600_000);
