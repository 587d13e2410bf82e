/** Where a passage is worked on; the key goes there together with Alt. */
export const VIEWS = [
  { path: "bench", title: "Bench", key: "b" },
  { path: "writer", title: "Writer", key: "w" },
  { path: "treatments", title: "Treatments", key: "t" },
  { path: "ring", title: "Ring", key: "r" },
  { path: "drills", title: "Drills", key: "p" },
  { path: "takes", title: "Takes", key: "k" },
  { path: "sheet", title: "Sheet", key: "s" },
] as const;

export type ViewPath = (typeof VIEWS)[number]["path"];
