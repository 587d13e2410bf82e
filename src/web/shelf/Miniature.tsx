import { useMemo } from "react";
import { drawHands } from "../../core/drawing/hands.ts";
import type { Posture } from "../../core/drawing/marks.ts";
import type { PlanSummary } from "../../core/summary.ts";
import { useLook } from "../look/look.tsx";
import { Drawing } from "../parts/Drawing.tsx";
import { PAGE } from "../parts/HandsPicture.tsx";

/** Both hands of a passage in small. */
export function SmallHands({ hands }: { hands: Posture }) {
  const { look } = useLook();
  const svg = useMemo(() => drawHands(hands, { size: "small", paint: PAGE, frets: look.frets, top: look.top }), [hands, look]);
  return <Drawing svg={svg} className="w-20 shrink-0" />;
}

/** The first seconds of a plan in small: ink for what sounds, the alarm for stray rings. */
export function Miniature({ summary, strings }: { summary: PlanSummary; strings: number }) {
  const row = 100 / strings;
  return (
    <svg viewBox="0 0 1000 100" preserveAspectRatio="none" className="h-16 w-full" role="img" aria-label="The first bars of the plan in small">
      {Array.from({ length: strings }, (_, s) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: strings have no other name
        <line key={s} x1="0" x2="1000" y1={(s + 0.5) * row} y2={(s + 0.5) * row} stroke="currentColor" strokeOpacity="0.25" vectorEffect="non-scaling-stroke" />
      ))}
      {summary.miniature.flatMap((step) =>
        step.states.map((state, s) => {
          const key = `${step.at}-${s}`;
          const x = step.at * 1000;
          const width = Math.max(4, step.width * 1000 - 3);
          const y = (s + 0.5) * row;
          if (state === "ring") return <rect key={key} x={x} y={y - row * 0.22} width={width} height={row * 0.44} fill="currentColor" />;
          if (state === "muffled") return <rect key={key} x={x} y={y - row * 0.36} width={Math.min(width, 9)} height={row * 0.72} fill="currentColor" />;
          if (state === "thud") return <rect key={key} x={x} y={y - row * 0.36} width={3} height={row * 0.72} fill="currentColor" />;
          if (state === "stray") return <rect key={key} x={x} y={y - row * 0.42} width={width} height={row * 0.84} fill="var(--stray)" />;
          return null;
        }),
      )}
    </svg>
  );
}
