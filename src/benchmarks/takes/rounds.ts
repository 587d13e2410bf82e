import { drillsOf } from "../../core/drills/drills.ts";
import { wholePlan } from "../../core/engine.ts";
import { atTempo } from "../../core/passage/tempo.ts";
import type { Mistakes } from "../../core/perform/mistakes.ts";
import { judgedRound, Rounds } from "../../core/take/rounds.ts";
import { demoPassages } from "../../core/test/demos.ts";
import { playedOver, ROUND_RATE } from "../../core/test/played-over.ts";

/* How well the trainer judges: every fourth drill of the demos, played over and over, as planned and with one mistake somewhere. */

const TIMES = 4;
/** More would take minutes. */
const EVERY = 4;
const UNEVEN: Partial<Mistakes> = { jitter: 8 };

/** Prints how many times through were judged as they were played; a time through without the mistake is to be clean. */
export function judgeRounds(): void {
  const drills = demoPassages()
    .flatMap((passage) => drillsOf(wholePlan(passage, { why: "nothing" }), passage, [], 40).drills)
    .filter((_, i) => i % EVERY === 0);
  for (const [name, mistakes] of [
    ["as planned", {}],
    ["one string that rings", { stray: 1 }],
    ["one note that never speaks", { silent: 1 }],
  ] as const) {
    const clean = { clean: 0, wrong: 0, unclear: 0 };
    const faulty = { clean: 0, wrong: 0, unclear: 0 };
    for (const { passage, tempo } of drills) {
      const played = playedOver(atTempo(passage, tempo.start), TIMES, { ...UNEVEN, ...mistakes });
      const rounds = new Rounds(ROUND_RATE);
      for (const due of played.dues) rounds.expect(due);
      for (const heard of rounds.push(played.samples)) {
        // What begins in one time through may go on into the next.
        const mine = played.labels.filter(({ fromMs, toMs }) => fromMs < heard.due.toMs - 20 && toMs > heard.due.fromMs + 20);
        const { kind } = judgedRound(heard, ROUND_RATE, played.passage, played.planned);
        (mine.length > 0 ? faulty : clean)[kind]++;
      }
    }
    const said = ({ clean: good, wrong, unclear }: typeof clean) => `${good} judged clean, ${wrong} not, ${unclear} left to the player`;
    process.stdout.write(
      `  ${name}: times through without a mistake: ${said(clean)}${faulty.clean + faulty.wrong + faulty.unclear > 0 ? `; with it: ${said(faulty)}` : ""}\n`,
    );
  }
}
