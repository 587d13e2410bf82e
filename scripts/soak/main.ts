import { parseArgs } from "node:util";
import { keepsWhatItPromised } from "./library.ts";
import { staysUpUnderLoad } from "./load.ts";
import { staysAsSmallAsItIs } from "./memory.ts";
import { wandersThroughThePage } from "./page.ts";
import { losesNothingAmongServers } from "./servers.ts";

/*
 * Long runs that CI has no time for; anything broken ends with exit 1.
 *
 *   npm run soak                                   all of them: about an hour
 *   npm run soak -- --only page --minutes 1 --seed 7
 *   npm run soak -- --only library --rounds 40
 *   npm run soak -- --only load --minutes 5
 *   npm run soak -- --only servers --rounds 100
 *   npm run soak -- --only memory --minutes 10
 */
const RUNS = {
  page: wandersThroughThePage,
  library: keepsWhatItPromised,
  load: staysUpUnderLoad,
  servers: losesNothingAmongServers,
  memory: staysAsSmallAsItIs,
} as const;

export interface SoakOptions {
  seed: number;
  minutes: number;
  rounds: number;
}

const { values } = parseArgs({
  options: {
    only: { type: "string" },
    minutes: { type: "string", default: "5" },
    rounds: { type: "string", default: "200" },
    seed: { type: "string", default: String(Date.now() % 1_000_000) },
  },
});
const options: SoakOptions = { seed: Number(values.seed), minutes: Number(values.minutes), rounds: Number(values.rounds) };
for (const [name, run] of Object.entries(RUNS)) {
  if (values.only !== undefined && values.only !== name) continue;
  process.stdout.write(`\n== ${name} (seed ${options.seed})\n`);
  const broken = await run(options);
  for (const fault of broken) process.stdout.write(`BROKEN: ${fault}\n`);
  if (broken.length > 0) process.exitCode = 1;
}
