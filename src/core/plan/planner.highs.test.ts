import loadHighs from "highs";
import { expect, it } from "vitest";
import { planStages } from "../engine.ts";
import { compare, greedyCost } from "../test/greedy.ts";
import { optimumByHighs } from "../test/integer-program.ts";
import { randomPassage } from "../test/random-passages.ts";

const PASSAGES = 300;

// Outside check: HiGHS, an independent solver, on the same problem written as an integer program.
it(`finds HiGHS's optimum, level by level, on ${PASSAGES} random passages; a greedy walk pays more on 100 of them or more`, async () => {
  const highs = await loadHighs();
  let greedyPaysMore = 0;
  for (let seed = 1; seed <= PASSAGES; seed++) {
    const passage = randomPassage(seed, 4);
    const { problem, path } = planStages(passage);
    expect(path.cost, `seed ${seed}`).toEqual(optimumByHighs(highs, problem));
    let greedy: number;
    try {
      greedy = compare(greedyCost(problem), path.cost);
    } catch {
      greedy = 1;
    }
    expect(greedy, `seed ${seed}: no walk can cost less`).toBeGreaterThanOrEqual(0);
    if (greedy > 0) greedyPaysMore++;
  }
  expect(greedyPaysMore).toBeGreaterThanOrEqual(100);
}, 600_000);
