import { memo, useLayoutEffect, useRef } from "react";
import { commonEnds } from "../../core/caching/common-ends.ts";

/**
 * A drawing of the core's own making; its words are escaped there. Without a label it only repeats what stands beside it. Shapes that
 * the drawing before began or ended with as well stay as they are: the hands' picture is another one at every key.
 */
export const Drawing = memo(function Drawing({ svg, label, className = "" }: { svg: string; label?: string; className?: string }) {
  const place = useRef<HTMLDivElement>(null);
  const drawn = useRef<string[]>([]);
  useLayoutEffect(() => {
    const now = partsOf(svg);
    drawInto(place.current!, drawn.current, now);
    drawn.current = now;
  }, [svg]);
  return <div ref={place} className={className} {...(label === undefined ? { "aria-hidden": true } : { role: "img", "aria-label": label })} />;
});

/** The tag that a drawing begins with, then its shapes one by one. */
function partsOf(svg: string): string[] {
  return svg.slice(0, svg.lastIndexOf("</svg>")).split(/(?=<[a-z])/);
}

function drawInto(place: HTMLElement, old: readonly string[], now: readonly string[]): void {
  const drawing = place.firstElementChild;
  const { prefix, suffix } = commonEnds(old, now, (a, b) => a === b);
  // Where shapes stand in others their number does not say where they are.
  if (prefix === 0 || drawing?.childElementCount !== old.length - 1) {
    place.innerHTML = `${now.join("")}</svg>`;
    return;
  }
  const shapes = [...drawing.children];
  const [from, to] = [prefix - 1, shapes.length - suffix];
  for (const gone of shapes.slice(from, to)) gone.remove();
  const fresh = now.slice(prefix, now.length - suffix).join("");
  if (suffix > 0) shapes[to]!.insertAdjacentHTML("beforebegin", fresh);
  else drawing.insertAdjacentHTML("beforeend", fresh);
}
