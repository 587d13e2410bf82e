import { createContext, useContext } from "react";
import { createPortal } from "react-dom";

/** Where in the head line a view may say something of its own; null until the line stands. */
export const HeadContext = createContext<HTMLElement | null>(null);

/** What a view says in the head line, beside the title. */
export function InTitleLine({ children }: { children: React.ReactNode }) {
  const place = useContext(HeadContext);
  return place && createPortal(children, place);
}
