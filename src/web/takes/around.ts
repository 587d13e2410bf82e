/** A finding is heard from a little before it to a little after it, in ms. */
export const AROUND_MS = [350, 600] as const;
