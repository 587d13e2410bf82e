import { useCallback, useEffect, useRef, useState } from "react";
import type { PlanDocument } from "../../core/document/plan.ts";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { Listener, type ListenState } from "../listen/listener.ts";
import { soundWords } from "../listen/sound-words.ts";
import { keptVolume } from "../listen/use-listen.ts";

type Plans = readonly (PlanDocument | null)[];

/** Hears one of several versions at a time; another one goes on where the one before was. */
export function useAudition(passages: readonly Passage[], plans: Plans, levels: readonly number[], fromBar: number) {
  const [state, setState] = useState<ListenState>({ kind: "silent" });
  const [step, setStep] = useState<number | null>(null);
  const [index, setIndex] = useState(0);
  const listener = useRef<Listener | null>(null);
  const place = useRef<{ bar: number; tick: number } | null>(null);

  useEffect(() => {
    const made = new Listener(setState, setStep, keptVolume());
    listener.current = made;
    return () => made.close();
  }, []);
  // What is heard belongs to these versions.
  useEffect(() => {
    void passages;
    listener.current?.stop();
  }, [passages]);

  const isOn = state.kind === "playing" || state.kind === "preparing";
  const now = isOn && step !== null ? placeOf(plans[index], step) : null;
  if (now) place.current = now;
  const hear = useCallback(
    (next: number) => {
      const plan = plans[next];
      if (!plan || plan.steps.length === 0) return;
      const from = isOn && place.current ? place.current : { bar: fromBar, tick: 0 };
      setIndex(next);
      void listener.current?.play(passages[next]!, {
        damping: "planned",
        string: null,
        fromStep: stepFrom(plan, from),
        stepOnly: false,
        toStep: null,
        loop: true,
        clicks: false,
        level: levels[next] ?? 1,
      });
    },
    [passages, plans, levels, isOn, fromBar],
  );
  const stop = useCallback(() => listener.current?.stop(), []);
  return { hear, stop, heard: isOn ? index : null, place: now, says: soundWords(state, "again") };
}

function placeOf(plan: PlanDocument | null | undefined, index: number): { bar: number; tick: number } | null {
  const step = plan?.steps[index];
  return step ? { bar: step.bar - 1, tick: ticksOf(step.at) } : null;
}

/** The step under way at a place. */
function stepFrom(plan: PlanDocument, { bar, tick }: { bar: number; tick: number }): number {
  const at = plan.steps.findLastIndex((step) => step.bar - 1 < bar || (step.bar - 1 === bar && ticksOf(step.at) <= tick));
  return Math.max(0, at);
}
