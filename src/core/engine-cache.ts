import { StringSet } from "./acoustics/modal.ts";
import { FoldCache } from "./caching/fold.ts";
import type { PlannedStep } from "./document/plan.ts";
import { FingeringCache } from "./fingering/fingering.ts";
import { GripCache } from "./grips/grips.ts";
import { HazardCache } from "./hazards/hazards.ts";
import type { Heard, Intent } from "./intent/intent.ts";
import type { Passage } from "./passage/schema.ts";
import { type Settings, settingsOf } from "./passage/settings.ts";
import { PlanCache } from "./plan/cache.ts";
import { ProblemCache } from "./plan/problem.ts";
import { ScriptCache } from "./script/sentences.ts";
import { ShapesCache } from "./shapes/shapes.ts";
import { TimelineCache } from "./timeline/timeline.ts";
import { KeepingUpCache } from "./verdict/keeping-up.ts";
import type { VerdictCache } from "./verdict/verdict.ts";

/**
 * What the engine remembers from one version of a passage to the next, stage by stage. Bars that
 * an edit left alone must be the same objects as before; then only what the edit reaches is worked
 * out again. Results are the same as without it.
 */
export class EngineCache {
  timeline = new TimelineCache();
  readonly plan = new PlanCache();
  private clock = "";
  private player = "";
  private parts: PlayerCache | null = null;

  /** Forgets what another tempo, feel, instrument or player has made stale. */
  of(passage: Passage): PlayerCache {
    const settings = settingsOf(passage);
    const clock = JSON.stringify([passage.tempo, passage.feel]);
    const player = JSON.stringify([passage.instrument, settings]);
    if (clock !== this.clock || player !== this.player) this.timeline = new TimelineCache();
    if (player !== this.player || this.parts === null) this.parts = cacheOf(passage, settings);
    this.clock = clock;
    this.player = player;
    return this.parts;
  }
}

export type PlayerCache = ReturnType<typeof cacheOf>;

/** Cache of the stages after the timeline, for one instrument and player. */
function cacheOf({ instrument }: Passage, settings: Settings) {
  const strings = new StringSet(instrument);
  return {
    /** The same object for as long as they are the same: what costs moves is known by them. */
    settings,
    strings,
    grips: new GripCache(),
    intent: new FoldCache<Heard, readonly Intent[]>(),
    hazards: new HazardCache(strings),
    fingering: new FingeringCache(),
    shapes: new ShapesCache(),
    problem: new ProblemCache(),
    verdict: new FoldCache() as VerdictCache,
    keepingUp: new KeepingUpCache(),
    scripts: new ScriptCache(),
    document: new FoldCache<null, PlannedStep>(),
  };
}
