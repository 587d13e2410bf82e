import { useLayoutEffect, useRef, useState } from "react";

const LEAST = 300;

/** Width of an element as it is now, in px. */
export function useWidth() {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1000);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(Math.max(LEAST, element.clientWidth)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { ref, width };
}
