import { writeFileSync } from "node:fs";
import { drillsOf } from "../src/core/drills/drills.ts";
import { firstRung, nextRung } from "../src/core/drills/ladder.ts";
import type { Try } from "../src/core/drills/types.ts";
import { planStages, wholePlan } from "../src/core/engine.ts";
import type { Passage } from "../src/core/passage/schema.ts";
import { type Mistakes, NO_MISTAKES } from "../src/core/perform/mistakes.ts";
import { perform } from "../src/core/perform/perform.ts";
import { type KeptTake, logOf, type PracticeSession, triesOf } from "../src/core/practice/record.ts";
import { drillStatesOf } from "../src/core/practice/schedule.ts";
import { keptTakeOf } from "../src/core/take/kept.ts";
import { saidOf } from "../src/core/take/said.ts";
import { takeOf } from "../src/core/take/take.ts";
import { demoPassages } from "../src/core/test/demos.ts";
import { ASSUMED, Learner } from "../src/core/test/learner.ts";

/* Four weeks of practice that nobody did, for the demo: the simulated learner at sessions that the program plans. Writes demo/practice.json. */

/** Which passage on which day; the last one is yesterday when the demo is begun. */
const DAYS: readonly (readonly [day: number, title: string, minutes: number])[] = [
  [0, "Bilge Pump", 10],
  [1, "Bilge Pump", 10],
  [3, "Galley Steam", 20],
  [4, "Bilge Pump", 10],
  [6, "Galley Steam", 10],
  [8, "Bilge Pump", 20],
  [9, "Galley Steam", 10],
  [12, "Windlass", 10],
  [13, "Bilge Pump", 10],
  [15, "Galley Steam", 20],
  [17, "Windlass", 10],
  [19, "Bilge Pump", 20],
  [20, "Galley Steam", 10],
  [22, "Windlass", 10],
  [24, "Bilge Pump", 10],
  [25, "Galley Steam", 20],
  [26, "Bilge Pump", 10],
];
const FIRST_DAY = Date.UTC(2026, 0, 5, 18, 30);
const DAY_MS = 86_400_000;
const NOTES: Readonly<Record<number, string>> = {
  4: "Slower than last time; cold hands.",
  15: "Chords hold now, the lift is late.",
  26: "First time at the goal without a stray.",
};

/** What goes wrong in the take at the end of some days: played by the stand-in. */
const TAKES: Readonly<Record<number, Partial<Mistakes>>> = {
  3: { stray: 4, late: 2, jitter: 14 },
  4: { stray: 3, silent: 1, jitter: 14 },
  8: { stray: 3, jitter: 10 },
  9: { stray: 3, late: 1, jitter: 10 },
  13: { stray: 2, jitter: 8 },
  15: { stray: 2, jitter: 8 },
  19: { stray: 1, jitter: 6 },
  20: { stray: 1, jitter: 6 },
  26: { jitter: 5 },
};

function takesOf(passage: Passage, day: number, at: number): KeptTake[] {
  const mistakes = TAKES[day];
  if (!mistakes) return [];
  const planned = planStages(passage);
  const { samples, sampleRate } = perform(passage, planned, { ...NO_MISTAKES, ...mistakes }, day);
  const result = takeOf(samples, sampleRate, passage, planned);
  if (result.kind !== "judged") throw new Error(`the take of day ${day} is none of ${passage.title}`);
  const about = { id: `00000000-0000-4000-b000-${String(day).padStart(12, "0")}`, at: new Date(at).toISOString(), file: null };
  return [keptTakeOf(passage, result, saidOf(passage, planned, result), { ...about, seconds: Math.round(samples.length / sampleRate) })];
}

const sessions: PracticeSession[] = [];
const learners = new Map<string, { learner: Learner; skills: Map<string, number> }>();
for (const [day, title, minutes] of DAYS) {
  const passage = demoPassages().find((one) => one.title === title);
  if (!passage) throw new Error(`no demo is called ${title}`);
  const own = sessions.filter((session) => session.title === title);
  const history: Try[] = drillStatesOf(own).flatMap(({ lately }) => lately);
  const startedAt = FIRST_DAY + day * DAY_MS;
  const resting = drillStatesOf(own).filter(({ due }) => due > startedAt + DAY_MS / 4);
  const { drills } = drillsOf(wholePlan(passage, { why: "nothing" }), passage, history, minutes, { resting: resting.map(({ id }) => id) });
  const { learner, skills } = learners.get(title) ?? {
    learner: new Learner(title.length, 12, drills[0]!.tempo.goal, { ...ASSUMED, lacks: 0.45, learns: 0.011 }),
    skills: new Map<string, number>(),
  };
  learners.set(title, { learner, skills });
  const tries: PracticeSession["tries"] = [];
  let at = startedAt;
  for (const drill of drills) {
    if (!skills.has(drill.id) && drill.kind !== "whole" && drill.kind !== "once") skills.set(drill.id, skills.size % 12);
    const gestures = skills.has(drill.id) ? [skills.get(drill.id)!] : [...new Set(skills.values())];
    let rung = firstRung(drill.tempo);
    const quarters = drill.passage.bars.reduce((sum, { meter }) => sum + (4 * meter[0]) / meter[1], 0);
    // Once through, and a moment to think; at least a breath.
    for (let left = 60 * drill.minutes; left > 0 && rung.atGoal < drill.ends.times; ) {
      const seconds = Math.max(6, Math.round((1.4 * 60 * quarters) / rung.tempo));
      at += 1000 * seconds;
      left -= seconds;
      const clean = learner.try(gestures, rung.tempo);
      tries.push({ drill: drill.id, tempo: rung.tempo, clean, at: new Date(at).toISOString(), by: "player" });
      rung = nextRung(drill.tempo, rung, clean);
    }
  }
  sessions.push({
    id: `00000000-0000-4000-a000-${String(day).padStart(12, "0")}`,
    passage: null,
    figure: null,
    title,
    startedAt: new Date(startedAt).toISOString(),
    endedAt: new Date(at).toISOString(),
    minutes,
    note: NOTES[day] ?? "",
    drills: drills.map(({ id, kind, title: drillTitle, tempo, minutes: own }) => ({
      id,
      kind,
      title: drillTitle,
      start: tempo.start,
      goal: tempo.goal,
      seconds: 60 * own,
    })),
    tries,
    takes: takesOf(passage, day, at),
    discomforts: day === 25 ? [{ at: new Date(at).toISOString(), where: "fingertips", drill: null, contact: null }] : [],
  });
  process.stdout.write(`${title}, day ${day}: ${tries.filter(({ clean }) => clean).length} of ${tries.length} clean; ${triesOf(tries).at(-1)?.tempo ?? ""}\n`);
}
const { sessions: all, ...head } = logOf(sessions);
// A session a line.
writeFileSync("demo/practice.json", `${JSON.stringify(head).slice(0, -1)},"sessions":[\n${all.map((session) => JSON.stringify(session)).join(",\n")}\n]}\n`);
