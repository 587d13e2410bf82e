import { endOfDay } from "date-fns";
import { useMemo } from "react";

/** The end of today. */
export function useTonight(): Date {
  return useMemo(() => endOfDay(new Date()), []);
}
