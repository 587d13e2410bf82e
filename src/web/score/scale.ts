import { createContext, useContext } from "react";
import { type Scale, scaleFor } from "./layout.ts";

/** The scale in which the score around is drawn. */
export const ScaleContext = createContext<Scale>(scaleFor(Number.POSITIVE_INFINITY));

export function useScale(): Scale {
  return useContext(ScaleContext);
}
