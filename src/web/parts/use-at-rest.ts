import { useEffect, useState } from "react";

/** Keys in a row come faster than this, in ms. */
export const AT_REST_MS = 150;

/** A value as it was when it last stayed the same for a moment: for what need not keep up with every key, so that the rest can. */
export function useAtRest<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const resting = setTimeout(() => setRested(value), AT_REST_MS);
    return () => clearTimeout(resting);
  }, [value]);
  return rested;
}
