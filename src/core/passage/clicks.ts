/** What says which strings a stroke plays, and which fingers come down on beside it. */
interface Struck {
  as?: string | undefined;
  notes: readonly { string: number }[];
  strings?: readonly number[] | undefined;
  click?: number[] | undefined;
}

/** Whether a stroke plays a string: for a note, or because its strings say that it goes over it. */
export function isPlayed({ notes, strings }: Struck, string: number): boolean {
  return (strings?.includes(string) ?? false) || notes.some((note) => note.string === string);
}

/** Takes away, in place, the clicks that have no place on a stroke any more: those on strings it plays, and all of a dead stroke. */
export function settleClicks(stroke: Struck): void {
  if (!stroke.click) return;
  const isDead = stroke.as !== undefined && stroke.as !== "play";
  const left = isDead ? [] : stroke.click.filter((string) => !isPlayed(stroke, string));
  if (left.length > 0) stroke.click = left;
  else delete stroke.click;
}
