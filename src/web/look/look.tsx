import { createContext, useContext, useEffect, useMemo, useState } from "react";

/** How things look to this player, in this browser. */
export interface Look {
  /** Which hand frets: pictures of the hands are mirrored for left-handers. */
  frets: "left" | "right";
  /** Which string is on top in the score. */
  top: "string-1" | "lowest";
  text: "normal" | "large" | "largest";
}

export const TEXT_SIZES: Readonly<Record<Look["text"], number>> = { normal: 16, large: 18, largest: 20 };

const KEY = "rest-hand:look";
const USUAL: Look = { frets: "left", top: "string-1", text: "normal" };

const LookContext = createContext<{ look: Look; setLook(look: Look): void }>({ look: USUAL, setLook: () => {} });

/** The look, and how to change it. */
export function useLook() {
  return useContext(LookContext);
}

export function LookProvider({ children }: { children: React.ReactNode }) {
  const [look, setLook] = useState(kept);
  useEffect(() => {
    document.documentElement.style.fontSize = `${TEXT_SIZES[look.text]}px`;
    localStorage.setItem(KEY, JSON.stringify(look));
  }, [look]);
  const value = useMemo(() => ({ look, setLook }), [look]);
  return <LookContext value={value}>{children}</LookContext>;
}

function kept(): Look {
  try {
    const read = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Look>;
    return {
      frets: read.frets === "right" ? "right" : "left",
      top: read.top === "lowest" ? "lowest" : "string-1",
      text: read.text && read.text in TEXT_SIZES ? read.text : "normal",
    };
  } catch {
    return USUAL;
  }
}
