import { useRef, useState } from "react";
import type { Grab, Spot } from "./drag.ts";

export interface Dragging {
  grab: Grab;
  spot: Spot;
}

/** Pixels a pointer may wander before a press becomes a drag. */
const SLACK = 5;

/**
 * Dragging in the score by any pointer: press takes hold, letting go drops, Escape or a lost pointer gives up. A press that
 * does not wander is a click and is left to `onClick`. Fingers scroll the score, except where they take hold of a sign.
 */
export function useDrag({
  spotAt,
  onDrag,
  onDrop,
  onClick,
}: {
  spotAt(event: React.PointerEvent): Spot | null;
  onDrag(dragging: Dragging): void;
  onDrop(dragging: Dragging): void;
  onClick(spot: Spot): void;
}) {
  const held = useRef<{ grab: Grab; x: number; y: number; moved: boolean } | null>(null);
  const [dragging, setDragging] = useState<Dragging | null>(null);
  const giveUp = () => {
    held.current = null;
    setDragging(null);
  };
  const handlers = {
    onPointerDown: (event: React.PointerEvent) => {
      const spot = spotAt(event);
      if (event.button !== 0 || !spot) return;
      const kind = grabbed(event.target) ?? "select";
      if (kind === "select" && event.pointerType === "touch") {
        onClick(spot);
        return;
      }
      const at = kind === "select" || kind === "palm" ? { place: spot.place, string: spot.string } : ownPlace(event.target, spot);
      held.current = { grab: { kind, ...at }, x: event.clientX, y: event.clientY, moved: false };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove: (event: React.PointerEvent) => {
      const hold = held.current;
      if (!hold) return;
      hold.moved ||= Math.hypot(event.clientX - hold.x, event.clientY - hold.y) > SLACK;
      const spot = spotAt(event);
      if (!hold.moved || !spot) return;
      const now = { grab: hold.grab, spot };
      setDragging(now);
      onDrag(now);
    },
    onPointerUp: (event: React.PointerEvent) => {
      const hold = held.current;
      const spot = spotAt(event);
      giveUp();
      if (!hold || !spot) return;
      if (hold.moved) onDrop({ grab: hold.grab, spot });
      else onClick({ ...spot, place: hold.grab.place, string: hold.grab.string });
    },
    onPointerCancel: giveUp,
  };
  return { dragging, giveUp, handlers };
}

const KINDS = ["note", "end", "sweep", "palm", "grip", "grip-end"] as const;

/** What a sign in the score is for, as it says itself in `data-grab`. */
function grabbed(target: EventTarget): (typeof KINDS)[number] | null {
  const kind = signOf(target)?.dataset.grab;
  return KINDS.find((known) => known === kind) ?? null;
}

function signOf(target: EventTarget): HTMLElement | null {
  return target instanceof Element ? target.closest<HTMLElement>("[data-grab]") : null;
}

/** The stroke and string a sign belongs to. */
function ownPlace(target: EventTarget, spot: Spot): { place: Spot["place"]; string: number } {
  const { tick, string } = signOf(target)?.dataset ?? {};
  const bar = Number((target as Element).closest<HTMLElement>("[data-bar]")?.dataset.bar ?? spot.place.bar);
  return { place: { bar, tick: Number(tick ?? spot.place.tick) }, string: Number(string ?? spot.string) };
}
