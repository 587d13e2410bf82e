import { planStages } from "../../core/engine.ts";
import { repeated } from "../../core/passage/repeated.ts";
import { NO_MISTAKES } from "../../core/perform/mistakes.ts";
import { perform } from "../../core/perform/perform.ts";
import { takeOf } from "../../core/take/take.ts";
import { demoPassages } from "../../core/test/demos.ts";

const SECONDS = 60;
const RUNS = 3;

/** Prints how long a minute takes, at the rates of files and of microphones. */
export function timeLongTakes(): void {
  for (const demo of demoPassages().filter((_, i) => i % 3 === 0))
    for (const rate of [44_100, 48_000]) {
      const passage = repeated(demo, Math.max(1, Math.floor((SECONDS * 1000) / planStages(demo).timeline.endMs)));
      const planned = planStages(passage);
      const { samples } = perform(passage, planned, { ...NO_MISTAKES, stray: 4 }, 1, rate);
      const times = Array.from({ length: RUNS }, () => {
        const began = performance.now();
        takeOf(samples, rate, passage, planned);
        return performance.now() - began;
      }).sort((a, b) => a - b);
      const seconds = samples.length / rate;
      process.stdout.write(
        `  ${demo.title}, ${seconds.toFixed(0)} s at ${rate / 1000} kHz: ${((times[Math.floor(RUNS / 2)]! * SECONDS) / seconds / 1000).toFixed(1)} s a minute (aim 3), ${(process.memoryUsage().rss / 1e6).toFixed(0)} MB in all (aim 300)\n`,
      );
    }
}
