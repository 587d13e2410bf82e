import { useEffect, useLayoutEffect, useState } from "react";

/** Keys in a row come faster than this, in ms. */
export const AT_REST_MS = 150;

/** When the newest key was pressed, on the page's clock. */
let keyAt = Number.NEGATIVE_INFINITY;
globalThis.addEventListener?.(
  "keydown",
  () => {
    keyAt = performance.now();
  },
  { capture: true },
);

/** A value that lags behind as long as keys come in a row: for what need not keep up with each of them, so that the rest can. */
export function useAtRest<T>(value: T): T {
  const [rested, setRested] = useState(value);
  const isBehind = rested !== value;
  // What a pointer does is shown with it.
  useLayoutEffect(() => {
    if (isBehind && performance.now() - keyAt >= AT_REST_MS) setRested(value);
  }, [isBehind, value]);
  useEffect(() => {
    if (!isBehind) return;
    const resting = setTimeout(() => setRested(value), AT_REST_MS);
    return () => clearTimeout(resting);
  }, [isBehind, value]);
  return rested;
}
