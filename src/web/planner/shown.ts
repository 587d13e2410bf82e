import { useCallback, useSyncExternalStore } from "react";
import { useStore } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import type { RootState } from "../store/root.ts";

/**
 * An edit and its plan are drawn at once when the plan is quick: to draw the edit alone would keep the plan waiting.
 * No edit waits longer than this, in ms.
 */
const MOST_WAIT_MS = 40;

/** What is drawn still, and what was made of it meanwhile. */
let waiting: { shown: Passage; newest: Passage; timer: ReturnType<typeof setTimeout> } | null = null;
const listeners = new Set<() => void>();

/** Holds a change inside a bar back from the page until its plan is there; any other is drawn at once. */
export function waitForPlan(before: Passage, now: Passage): void {
  if (before.bars === now.bars || before.bars.length !== now.bars.length || before.instrument !== now.instrument) drawNow();
  else if (waiting) waiting.newest = now;
  else waiting = { shown: before, newest: now, timer: setTimeout(drawNow, MOST_WAIT_MS) };
}

export function drawNow(): void {
  if (!waiting) return;
  clearTimeout(waiting.timer);
  waiting = null;
  for (const listener of listeners) listener();
}

/** What is to be drawn for the newest passage. */
export function shownFor<P extends Passage | null>(newest: P): P | Passage {
  return waiting && waiting.newest === newest ? waiting.shown : newest;
}

/** The passage on the bench as it is to be drawn. */
export function useShownPassage(): Passage | null {
  const store = useStore<RootState>();
  const subscribe = useCallback(
    (listener: () => void) => {
      listeners.add(listener);
      const stop = store.subscribe(listener);
      return () => {
        listeners.delete(listener);
        stop();
      };
    },
    [store],
  );
  return useSyncExternalStore(subscribe, () => shownFor(store.getState().edit.passage));
}
