import type { Damping } from "../../core/sound/score.ts";

/** The ways to listen, by whose damping is heard. */
export const DAMPING_WORDS: readonly { damping: Damping; says: string; title: string }[] = [
  { damping: "planned", says: "as planned", title: "Both hands damp as planned" },
  { damping: "none", says: "undamped", title: "Nobody damps: what would ring" },
  { damping: "fretting", says: "fretting", title: "Only the fretting hand damps" },
  { damping: "picking", says: "picking", title: "Only the picking hand damps" },
];
