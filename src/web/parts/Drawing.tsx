import { memo, useLayoutEffect, useRef } from "react";
import { commonEnds } from "../../core/caching/fold.ts";

/**
 * A drawing of the core's own making; its words are escaped there. Without a label it only repeats what stands beside it. The page
 * takes in anew only what is another than before: the hands' picture is another at every key.
 */
export const Drawing = memo(function Drawing({ svg, label, className = "" }: { svg: string; label?: string; className?: string }) {
  const place = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => drawInto(place.current!, svg), [svg]);
  return <div ref={place} className={className} {...(label === undefined ? { "aria-hidden": true } : { role: "img", "aria-label": label })} />;
});

/** Shapes that the drawing before began or ended with as well stay as they are. */
function drawInto(place: HTMLElement, svg: string): void {
  const template = document.createElement("template");
  template.innerHTML = svg;
  const now = template.content.firstElementChild!;
  const before = place.firstElementChild;
  if (!before?.cloneNode().isEqualNode(now.cloneNode())) {
    place.replaceChildren(now);
    return;
  }
  const [old, shapes] = [[...before.children], [...now.children]];
  const { prefix, suffix } = commonEnds(old, shapes, (a, b) => a.isEqualNode(b));
  const next = old[old.length - suffix] ?? null;
  for (const gone of old.slice(prefix, old.length - suffix)) gone.remove();
  for (const shape of shapes.slice(prefix, shapes.length - suffix)) before.insertBefore(shape, next);
}
