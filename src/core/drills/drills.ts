import type { PlanDocument } from "../document/plan.ts";
import type { Passage } from "../passage/schema.ts";
import { bothStrings } from "./contacts.ts";
import { foundIn } from "./found.ts";
import { oneGesture, oneSlur } from "./gestures.ts";
import { changeWhileScratching, deadGroove, oneHand, openStrings, silentHand, wholes } from "./grooves.ts";
import { ladderTo, reachedIn, wrongShare } from "./ladder.ts";
import { stringByString, toEachStop } from "./stops.ts";
import type { Candidate, Drill, DrillPlan, Strain, Try, Turns } from "./types.ts";

/** From this share of the goal on it is near. */
const NEAR_GOAL = 0.95;
/** Of a session the whole gets at least so much. */
const WHOLE_SHARE = 0.25;
/** Of a session one straining contact gets at most so much (common practice). */
const STRAIN_SHARE = 1 / 3;
const TIMES = 4;
/** What a drill is worth while it rests. */
const RESTING_SHARE = 0.1;

/**
 * The drills of a session, out of a plan's own gestures, contacts, limits and strays: parts before the whole, what rings loudest and
 * what limits the hands first. The minutes are filled by what each gives a minute: how loud and how often what its contact keeps
 * away would ring, times how often it went wrong lately. What
 * rests is not due yet: it comes when there is time left. What is asked for and does not rest comes before all others.
 */
export function drillsOf(plan: PlanDocument, passage: Passage, history: readonly Try[], minutes: number, turns: Turns = {}): DrillPlan {
  const resting = new Set(turns.resting);
  const asked = new Set(turns.asked?.filter((id) => !resting.has(id)));
  const empty: DrillPlan = { format: "rest-hand-drills", version: 1, minutes, drills: [] };
  const found = foundIn(plan, passage);
  if (!found.steps.some(({ stroke }) => stroke !== undefined)) return empty;
  const goal = goalOf(plan, passage);
  const triesOf = (id: string) => history.filter(({ drill }) => drill === id);
  const reached = reachedIn(triesOf("whole"));
  const parts = partsIn(found)
    .map((one) => ({ ...one, value: one.value * wrongShare(triesOf(one.id)) * (resting.has(one.id) ? RESTING_SHARE : 1) }))
    .sort((a, b) => Number(asked.has(b.id)) - Number(asked.has(a.id)) || b.value / b.usual - a.value / a.usual);
  const all = wholes(found, reached !== null && reached >= NEAR_GOAL * goal);
  const shared = shareOut(parts, all, minutes);
  const hands = plan.limits.hands?.tempo ?? null;
  const drills = shared.map(({ candidate: { value: _, usual: _usual, ...drill }, minutes: own }): Drill => {
    const tempo = ladderTo(goal, hands, triesOf(drill.id));
    return { ...drill, tempo, ends: { cleanAt: goal, times: drill.kind === "once" ? 1 : TIMES, orMinutes: own }, minutes: own };
  });
  return { ...empty, drills };
}

/** Every drill that a plan gives rise to, but for the whole. */
export function partsIn(found: ReturnType<typeof foundIn>): Candidate[] {
  return [deadGroove, openStrings, silentHand, oneHand, bothStrings, oneGesture, oneSlur, toEachStop, stringByString, changeWhileScratching].flatMap((kind) =>
    kind(found),
  );
}

/** What is practised towards: the goal, else the written tempo. */
function goalOf(plan: PlanDocument, passage: Passage): number {
  return Math.round(passage.goalTempo ?? plan.tempo);
}

/** Whole minutes for each, the most valuable first as they come; the wholes last, with what is left. */
function shareOut(parts: readonly Candidate[], wholes: readonly Candidate[], minutes: number): { candidate: Candidate; minutes: number }[] {
  const [whole, ...once] = wholes as [Candidate, ...Candidate[]];
  const last = once.map((candidate) => ({ candidate, minutes: candidate.usual }));
  const forLast = last.reduce((sum, one) => sum + one.minutes, 0);
  const leastWhole = Math.max(1, Math.round(WHOLE_SHARE * minutes));
  let left = Math.max(0, minutes - forLast - leastWhole);
  const strained = new Map<Strain, number>();
  const taken: { candidate: Candidate; minutes: number }[] = [];
  for (const candidate of parts) {
    if (left === 0) break;
    const { strain } = candidate;
    const room = strain ? Math.floor(STRAIN_SHARE * minutes) - (strained.get(strain) ?? 0) : left;
    const own = Math.min(candidate.usual, left, room);
    if (own < 1) continue;
    taken.push({ candidate, minutes: own });
    left -= own;
    if (strain) strained.set(strain, (strained.get(strain) ?? 0) + own);
  }
  return [...taken, { candidate: whole, minutes: leastWhole + left }, ...last];
}
