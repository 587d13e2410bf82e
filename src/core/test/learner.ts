import { firstRung, ladderTo, nextRung } from "../drills/ladder.ts";
import type { Try } from "../drills/types.ts";
import { seeded } from "./random-passages.ts";

/*
 * A simulated learner, to judge the rules of practice by. Its assumptions stand in docs/decisions.md ("A learner that does not
 * exist"), written before the rules were tuned; each can be moved by half up and down.
 */

export interface Assumptions {
  /** What a fresh gesture lacks: it comes off half the time at so much less than the goal, as a share of it. */
  lacks: number;
  /** By how much of what is left to the goal a clean try brings that tempo nearer; one that failed by a tenth of it. */
  learns: number;
  /** How suddenly it fails beyond that tempo: width of the change, as a share of the goal. */
  width: number;
  /** Share of skill that tiredness takes by the end of an hour of one thing; resting on other things gives it back. */
  tires: number;
  /** Learning falls off when a try is much too easy: below this share of the own tempo it gives a quarter. */
  easy: number;
  /** Learning falls off when a try is hopeless: chances below this give a tenth. */
  hopeless: number;
}

export const ASSUMED: Assumptions = { lacks: 0.25, learns: 0.006, width: 0.06, tires: 0.15, easy: 0.8, hopeless: 0.15 };

interface Skill {
  tempo: number;
  tired: number;
}

/** Someone with a skill for each gesture of a passage. */
export class Learner {
  private readonly skills: Skill[];
  private readonly random: () => number;

  constructor(
    seed: number,
    gestures: number,
    private readonly goal: number,
    private readonly assumed: Assumptions,
  ) {
    this.random = seeded(seed);
    this.skills = Array.from({ length: gestures }, () => ({ tempo: goal * (1 - assumed.lacks) * (0.8 + 0.4 * this.random()), tired: 0 }));
  }

  /** Plays some gestures once at a tempo: whether all came off. Each is learnt by itself. */
  try(gestures: readonly number[], tempo: number): boolean {
    const { learns, width, tires, easy, hopeless } = this.assumed;
    let clean = true;
    for (const [g, skill] of this.skills.entries()) {
      if (!gestures.includes(g)) {
        skill.tired = Math.max(0, skill.tired - tires / 400);
        continue;
      }
      const able = skill.tempo * (1 - skill.tired);
      const chance = 1 / (1 + Math.exp((tempo - able) / (width * this.goal)));
      const works = this.random() < chance;
      clean &&= works;
      const worth = chance < hopeless ? 0.1 : tempo < easy * able ? 0.25 : 1;
      // Beyond the goal there is a little to learn, so that the goal can be reached with ease.
      skill.tempo += (works ? 1 : 0.1) * worth * learns * Math.max(0, 1.35 * this.goal - skill.tempo);
      skill.tired = Math.min(tires, skill.tired + tires / 400);
    }
    return clean;
  }

  /** The chance that all of it comes off at the goal, rested. */
  chanceAtGoal(): number {
    return this.skills.reduce((all, { tempo }) => all / (1 + Math.exp((this.goal - tempo) / (this.assumed.width * this.goal))), 1);
  }
}

const ENOUGH = 0.5;
const MOST_TRIES = 6000;

/** Tries that a passage of some gestures takes by the ladder, each part first and then the whole; and the longest stay at one tempo. */
export function byLadder(learner: Learner, gestures: number, goal: number): { tries: number; longestStay: number } {
  const parts = Array.from({ length: gestures }, (_, g) => ({ gestures: [g], tries: [] as Try[], isThere: false, length: 0.25 }));
  const whole = { gestures: parts.map((_, g) => g), tries: [] as Try[], isThere: false, length: 1 };
  let spent = 0;
  let [stay, longestStay] = [0, 0];
  while (learner.chanceAtGoal() < ENOUGH && spent < MOST_TRIES) {
    // A session: a few tries of every part that is not there yet, then the whole.
    for (const one of [...parts.filter(({ isThere }) => !isThere), whole]) {
      if (learner.chanceAtGoal() >= ENOUGH) break;
      // Each session begins where the log says, as a day later.
      const ladder = ladderTo(goal, null, one.tries);
      let rung = firstRung(ladder);
      for (let k = 0; k < 12; k++) {
        const { tempo } = rung;
        const clean = learner.try(one.gestures, tempo);
        one.tries = [...one.tries, { drill: "", tempo, clean, at: spent }].slice(-12);
        rung = nextRung(ladder, rung, clean);
        spent += one.length;
        stay = rung.tempo === tempo && tempo < goal ? stay + 1 : 0;
        longestStay = Math.max(longestStay, stay);
      }
      one.isThere = rung.atGoal >= 4;
    }
  }
  return { tries: spent, longestStay };
}

/** Tries that it takes to repeat the whole at the goal's tempo times a share, a little faster when it was clean. */
export function byRepetition(learner: Learner, gestures: number, goal: number): number {
  const all = Array.from({ length: gestures }, (_, g) => g);
  let tempo = 0.85 * goal;
  let spent = 0;
  while (learner.chanceAtGoal() < ENOUGH && spent < MOST_TRIES) {
    // It is asked as often as on the ladder.
    for (let k = 0; k < 12; k++) {
      if (learner.try(all, tempo)) tempo = Math.min(goal, tempo * 1.02);
      spent++;
    }
  }
  return spent;
}
