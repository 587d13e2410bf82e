import { StringSet } from "./acoustics/modal.ts";
import type { PlannedStep } from "./document/plan.ts";
import { FingeringMemory } from "./fingering/fingering.ts";
import { GripMemory } from "./grips/grips.ts";
import { HazardMemory } from "./hazards/hazards.ts";
import type { Heard, Intent } from "./intent/intent.ts";
import { FoldMemory } from "./memory/fold.ts";
import type { Passage } from "./passage/schema.ts";
import type { Settings } from "./passage/settings.ts";
import { PlanMemory } from "./plan/memory.ts";
import { ProblemMemory } from "./plan/problem.ts";
import { ScriptMemory } from "./script/sentences.ts";
import { ShapeMemory } from "./shapes/shapes.ts";
import { TimelineMemory } from "./timeline/timeline.ts";
import type { VerdictMemory } from "./verdict/verdict.ts";

/**
 * What the engine remembers from one version of a passage to the next, stage by stage. Bars that
 * an edit left alone must be the same objects as before; then only what the edit reaches is worked
 * out again. Results are the same as without it.
 */
export class EngineMemory {
  timeline = new TimelineMemory();
  readonly plan = new PlanMemory();
  private clock = "";
  private player = "";
  private parts: PlayerMemory | null = null;

  /** Forgets what another tempo, feel, instrument or player has made stale. */
  of(passage: Passage, settings: Settings): PlayerMemory {
    const clock = JSON.stringify([passage.tempo, passage.feel]);
    const player = JSON.stringify([passage.instrument, settings]);
    if (clock !== this.clock || player !== this.player) this.timeline = new TimelineMemory();
    if (player !== this.player || this.parts === null) this.parts = memoryOf(passage);
    this.clock = clock;
    this.player = player;
    return this.parts;
  }
}

export type PlayerMemory = ReturnType<typeof memoryOf>;

/** Memory of the stages after the timeline, for one instrument and player. */
function memoryOf({ instrument }: Passage) {
  const strings = new StringSet(instrument);
  return {
    strings,
    grips: new GripMemory(),
    intent: new FoldMemory<Heard, readonly Intent[]>(),
    hazards: new HazardMemory(strings),
    fingering: new FingeringMemory(),
    shapes: new ShapeMemory(),
    problem: new ProblemMemory(),
    verdict: new FoldMemory() as VerdictMemory,
    scripts: new ScriptMemory(),
    document: new FoldMemory<null, PlannedStep>(),
  };
}
