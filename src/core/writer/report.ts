/** Something a treatment asks for that does not go together, at its stroke. */
export interface Clash {
  code: "pattern-meter" | "no-string" | "direction" | "palm-up";
  /** Bar number from 1 and place in it. */
  bar: number;
  at: string;
  says: string;
}

/** What one rule did. */
export interface RuleReport {
  /** Strokes and notes that are another thing now. */
  changed: number;
  /** In a player's words. */
  says: string;
  clashes: Clash[];
}
