import { useDispatch } from "react-redux";
import type { Place } from "../../core/edit/edit.ts";
import { type Figure, figureOf, ticksAt } from "../../core/edit/range.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { edit } from "../store/editing.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { clipboardOf } from "./clipboard.ts";
import { barRange, type Range } from "./selection.ts";

/** Copying, cutting, pasting and repeating: of the selection, or else of the bar that the cursor is in. */
export function useCopying(passage: Passage, range: Range | null, cursor: Place) {
  const dispatch = useDispatch<Dispatch>();
  // Only when somebody copies: this is drawn at every key.
  const taken = () => range ?? barRange(passage, cursor);
  const figure = () => figureOf(passage, taken().from, taken().to);
  const pasteAt = (at: number, pasted: Figure) => {
    if (!dispatch(edit({ kind: "paste", at, figure: pasted })))
      dispatch(notify({ says: "This does not fit: it needs a string or a fret that this instrument has not." }));
  };
  const clipboard = clipboardOf({
    copied: figure,
    onCut: () => dispatch(edit({ kind: "clear", ...taken() })),
    onPaste: (pasted) => pasteAt(range?.from ?? ticksAt(passage, cursor), pasted),
    onTrouble: (says) => dispatch(notify({ says })),
  });
  return { clipboard, repeat: () => pasteAt(taken().to, figure()) };
}
