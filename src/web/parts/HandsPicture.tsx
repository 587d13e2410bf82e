import { memo, useMemo } from "react";
import type { PlannedStep } from "../../core/document/plan.ts";
import { type HandsOptions, handsSvg } from "../../core/drawing/hands.ts";
import { handsLabel } from "../../core/drawing/label.ts";
import type { Paint } from "../../core/drawing/svg.ts";
import { useLook } from "../look/look.tsx";
import { Drawing } from "./Drawing.tsx";

/** The four meanings in the page's colours. */
export const PAGE: Paint = {
  ground: "var(--color-base-100)",
  ink: "var(--ink)",
  faint: "color-mix(in oklab, var(--ink) 45%, var(--color-base-100))",
  fretting: "var(--fretting)",
  onFretting: "var(--color-secondary-content)",
  picking: "var(--picking)",
  onPicking: "var(--color-accent-content)",
  stray: "var(--stray)",
};

/** Both hands on the strings at a step, as this player sees them. */
export const HandsPicture = memo(function HandsPicture({
  step,
  size = "large",
  selected,
  className,
}: { step: PlannedStep; className?: string } & Pick<HandsOptions, "size" | "selected">) {
  const { look } = useLook();
  const svg = useMemo(
    () => handsSvg(step, { size, paint: PAGE, frets: look.frets, top: look.top, ...(selected === undefined ? {} : { selected }) }),
    [step, size, selected, look],
  );
  return <Drawing svg={svg} label={handsLabel(step)} {...(className === undefined ? {} : { className })} />;
});
