import { chimingPartial, isChimeHeard } from "../acoustics/chime.ts";
import {
  AUDIBLE_DB,
  BEND_SHOVE_DB,
  DIED_AWAY_DB,
  JOLT_EXTRA_DB,
  LEAST_ANSWER_DB,
  LEAST_STRAY_DB,
  LEAST_STRAY_MS,
  PULL_OFF_DB,
} from "../acoustics/constants.ts";
import { type LiveString, StringSet, struckLoudnessDb, type Touch } from "../acoustics/modal.ts";
import { answerAmplitude } from "../acoustics/sympathy.ts";
import type { Passage } from "../passage/schema.ts";
import { settingsOf } from "../passage/settings.ts";
import type { Contact } from "../shapes/types.ts";
import type { Step, TimelineNote } from "../timeline/types.ts";

/*
 * Plays a plan's touches back on the string model, string by string, and lists what rings. It
 * shares the string model with the engine and nothing of hazards, plan or verdict: it keeps every
 * vibration it ever started until a touch ends it.
 */

interface Vibration {
  db: number;
  slope: number;
  ms: number;
  struck: boolean;
  open: boolean;
  /** Shaken, shoved or answering: what a wrap keeps from beginning. */
  shaken: boolean;
  /** Mostly an answer or a jolt, which fuses with what is meant to sound. */
  answers: boolean;
}

type Mute = TimelineNote["mute"];

export interface ReplayStep {
  step: Step;
  /** Per string. */
  intents: readonly string[];
  contacts: readonly Contact[];
  /** Where fingers press, for notes or for what the hand holds: one that presses anew sets its contacts down anew. */
  presses: readonly { fret: number; strings: readonly number[] }[];
  /** Places that a written grip holds without a note of their own, open strings too. */
  held: readonly { string: number; fret: number }[];
}

/** "step index/string" of every stray ring. */
export function replay(passage: Passage, steps: readonly ReplayStep[]): string[] {
  const settings = settingsOf(passage);
  const strings = new StringSet(passage.instrument);
  const rig = strings.rig;
  const loud = (live: LiveString, touches: Touch[], ms: number) => struckLoudnessDb(live, touches, ms);
  const slopeOf = (live: LiveString) => (loud(live, [], 0) - loud(live, [], 500)) / 0.5;
  const palmOn = (live: LiveString, mute: Mute): Touch => {
    const bridge = live.fromNutMm + live.lengthMm;
    const palm = rig.palm[mute];
    return { fromMm: bridge - palm.toBridgeMm, toMm: bridge - palm.fromBridgeMm, rate: palm.rate };
  };
  const muffledLoss = (live: LiveString, mute: Mute) => (loud(live, [palmOn(live, mute)], 0) - loud(live, [palmOn(live, mute)], 250)) / 0.25;
  const rings = new Set(["ring", "muffled", "free"]);
  const vibrations: Vibration[][] = Array.from({ length: strings.count }, () => []);
  const last: ({ note: TimelineNote; ms: number } | null)[] = new Array(strings.count).fill(null);
  const found: string[] = [];
  let reference = 0;
  let endedBefore: boolean[] = new Array(strings.count).fill(false);

  steps.forEach(({ step, intents, contacts, presses, held: places }, i) => {
    const { stroke } = step;
    const levels: number[] = [];
    step.sounding.forEach((note, s) => {
      if (!note) return;
      const live = strings.live(note.string, note.pitchFret);
      const age = step.begins[s] ? 0 : (step.ms - (last[s]?.ms ?? step.ms)) / 1000;
      const lost = age * (note.tone === "palm" ? muffledLoss(live, note.mute) : slopeOf(live));
      if (note.tone === "ghost") levels.push(loud(live, [], 0) - 6);
      else if (lost < DIED_AWAY_DB) levels.push(loud(live, [], 0) - lost);
    });
    if (levels.length === 0 && stroke && stroke.as !== "play") for (const s of stroke.crossed) levels.push(loud(strings.live(s, 0), [], 0) - 6);
    if (levels.length > 0) reference = Math.max(...levels);
    const threshold = reference + AUDIBLE_DB[settings.gain];

    const wanted = (k: number) => steps[k]!.intents.map((x) => rings.has(x)).join();
    const touches = (k: number) => steps[k]!.contacts.map((c) => `${c.string}${c.part}${c.finger}`).join();
    const begun = vibrations.map((_, s): Vibration[] => {
      const string = s + 1;
      const note = step.sounding[s];
      if (note && step.begins[s]) last[s] = { note, ms: step.ms };
      const started: Vibration[] = [];
      const inGrip = places.find((place) => place.string === string);
      if (inGrip && !note && stroke?.as === "play" && stroke.crossed.includes(string)) {
        const { fret } = inGrip;
        last[s] = { note: { string, pitchFret: fret, pressedFret: fret, tone: "open", mute: "medium", bend: null } as TimelineNote, ms: step.ms };
      }
      if (rings.has(intents[s]!)) return started;
      const open = strings.live(string, 0);
      const start = (live: LiveString, db: number, kind: "struck" | "open" | "dull" | "shaken", answers = false) =>
        started.push({ db, slope: slopeOf(live), ms: step.ms, struck: kind === "struck", open: kind === "open", shaken: kind === "shaken", answers });
      const crossed = stroke !== null && (stroke.crossed.includes(string) || stroke.clicked.includes(string));
      if (note) {
        if (step.begins[s]) start(strings.live(string, note.pitchFret), loud(strings.live(string, note.pitchFret), [], 0), "struck");
      } else if (crossed) {
        last[s] = null;
        const live = strings.live(string, stroke!.kept.find((k) => k.string === string)?.fret ?? pressedAt(presses, string));
        start(live, loud(live, [], 0), stroke?.as === "rake" ? "dull" : "struck");
      } else {
        const over = last[s];
        const was = i > 0 ? steps[i - 1]!.intents[s]! : "quiet";
        if (over && rings.has(was)) {
          const live = strings.live(string, over.note.pitchFret);
          const age = (step.ms - over.ms) / 1000;
          start(live, loud(live, [], 0) - age * (was === "muffled" ? muffledLoss(live, over.note.mute) : slopeOf(live)), was === "muffled" ? "dull" : "open");
          if (over.note.pressedFret > 0) start(open, loud(open, [], 0) + PULL_OFF_DB[settings.pullOff], "dull");
        }
        let [jolt, answer, shove] = [0, 0, 0];
        if (stroke && stroke.crossed.length > 0) {
          const blow = Math.max(...stroke.crossed.map((c) => loud(strings.live(c, step.sounding[c - 1]?.pitchFret ?? 0), [], 0)));
          const extra =
            stroke.kind === "slap" || stroke.kind === "none" ? JOLT_EXTRA_DB.slap : stroke.kind === "pop" ? JOLT_EXTRA_DB.pop : JOLT_EXTRA_DB[stroke.as];
          jolt = 10 ** ((blow + rig.joltDb + extra) / 10);
        }
        step.sounding.forEach((other, o) => {
          if (other && step.begins[o] && o !== s) answer += answerAmplitude(open, strings.live(other.string, other.pitchFret), rig.coupling) ** 2;
        });
        const before = i > 0 ? steps[i - 1]!.step.sounding : [];
        for (const bent of before) {
          if (!bent?.bend) continue;
          // Let go where it is let back half-way through, or else at its end; a next note that is struck bent keeps it bent.
          const middle = Math.floor((bent.start + bent.end) / 2);
          const goesOn = step.begins[bent.string - 1] && (step.sounding[bent.string - 1]?.bend?.from ?? 0) > 0;
          if (bent.bend.back === 0 ? middle !== step.tick : bent.end !== step.tick || goesOn) continue;
          const reach = bent.bend.most >= 2 ? 2 : 1;
          const away = (string - bent.string) * bent.bend.side;
          if (away >= 1 && away <= reach) shove = 10 ** ((loud(open, [], 0) + BEND_SHOVE_DB) / 10);
        }
        const power = jolt + answer + shove;
        if (power > 0) start(open, 10 * Math.log10(power), "shaken", Math.max(jolt, answer) >= shove);
      }
      return started;
    });
    const isSetGoing = begun.some((started) => started.some((v) => v.db > threshold));
    const isSame =
      i > 0 && wanted(i) === wanted(i - 1) && touches(i) === touches(i - 1) && JSON.stringify(steps[i]!.presses) === JSON.stringify(steps[i - 1]!.presses);
    const nothingNew = isSame && !stroke && !isSetGoing;
    const ended: boolean[] = new Array(strings.count).fill(false);
    begun.forEach((started, s) => {
      const string = s + 1;
      const note = step.sounding[s];
      if (rings.has(intents[s]!)) {
        vibrations[s] = [];
        return;
      }
      const audibleAtOnset = started.filter((v) => v.db > threshold);
      const here = contacts.filter((c) => c.string === string && c.part !== "fret-wrap");
      const wrapped = contacts.some((c) => c.string === string && c.part === "fret-wrap");
      const held = note ? (note.tone === "ghost" ? 0 : note.pressedFret) : pressedAt(presses, string);
      const partial =
        here.length > 0 && here.every((c) => c.narrow)
          ? chimingPartial(
              strings.live(string, held),
              here.map((c) => c.touch),
            )
          : null;
      const chimes =
        partial !== null &&
        isChimeHeard(
          strings.live(string, held),
          here.map((c) => c.touch),
          settings.gain,
        );
      const leaving = here.some((c) => ["ease", "roll", "palm", "heel", "lay", "slap"].includes(c.part));
      // A contact acts from when it began: what it did not end then, it does not end because a step is split.
      const ends = nothingNew
        ? endedBefore[s]!
        : audibleAtOnset.some((v) => v.struck)
          ? here.some((c) => c.part !== "palm") && !chimes
          : audibleAtOnset.some((v) => v.open)
            ? here.length > 0 && (!chimes || leaving)
            : here.length > 0;
      ended[s] = ends;
      if (wrapped && vibrations[s]!.length === 0 && audibleAtOnset.every((v) => v.shaken)) started.length = 0;
      vibrations[s] = ends ? [] : [...vibrations[s]!, ...started].filter((v) => v.db - (v.slope * (step.ms - v.ms)) / 1000 > threshold);
      // As written, a string that has gone quiet waits for its next note.
      if (settings.ring === "written") last[s] = null;
      const leastAnswerDb = intents.some((x) => rings.has(x)) ? LEAST_ANSWER_DB[passage.instrument.kind] : LEAST_STRAY_DB;
      if (rising(vibrations[s]!, step, threshold, leastAnswerDb, quietEnd(steps, i, s))) found.push(`${i}/${string}`);
    });
    endedBefore = ended;
  });
  return found;
}

/** The fret at which a string is pressed though no note sounds on it; 0 where it is open. */
function pressedAt(presses: ReplayStep["presses"], string: number): number {
  return Math.max(0, ...presses.filter(({ strings }) => strings.includes(string)).map(({ fret }) => fret));
}

/** Until when nobody wants the string to sound. */
function quietEnd(steps: readonly ReplayStep[], from: number, s: number): number {
  const next = steps.slice(from).find(({ intents }) => !["quiet", "thud"].includes(intents[s]!));
  const last = steps.at(-1)!.step;
  return next ? next.step.ms : last.ms + last.lengthMs;
}

/** Whether some vibration is heard: so far over the threshold and 80 ms long, and something of that within the step. */
function rising(vibrations: readonly Vibration[], step: Step, threshold: number, leastAnswerDb: number, until: number): boolean {
  return vibrations.some((v) => {
    const over = v.db - (v.slope * (step.ms - v.ms)) / 1000 - threshold;
    const least = v.answers ? leastAnswerDb : LEAST_STRAY_DB;
    const fades = step.ms + ((over - least) / v.slope) * 1000;
    const end = Math.min(step.ms + step.lengthMs, fades);
    const sum = Math.round(((over + over - (v.slope * (end - step.ms)) / 1000) / 2) * (end - step.ms));
    return over >= least && Math.min(fades, until) - step.ms >= LEAST_STRAY_MS && sum > 0;
  });
}
