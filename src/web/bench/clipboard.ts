import type { ClipboardEvent } from "react";
import { type Figure, figureOf, ticksAt } from "../../core/edit/range.ts";
import { readPassage } from "../../core/formats/read.ts";

/** Copying, cutting and pasting music by the browser's own clipboard. */
export interface Clipboard {
  copy(event: ClipboardEvent): void;
  cut(event: ClipboardEvent): void;
  paste(event: ClipboardEvent): void;
}

export function clipboardOf(actions: { copied(): Figure; onCut(): void; onPaste(figure: Figure): void; onTrouble(says: string): void }): Clipboard {
  const copy = (event: ClipboardEvent) => {
    event.clipboardData.setData("text/plain", FIGURE_MARK + JSON.stringify(actions.copied()));
    event.preventDefault();
  };
  return {
    copy,
    cut: (event) => {
      copy(event);
      actions.onCut();
    },
    paste: (event) => {
      event.preventDefault();
      const found = figureIn(event.clipboardData.getData("text/plain"));
      if (typeof found === "string") actions.onTrouble(found);
      else actions.onPaste(found);
    },
  };
}

const FIGURE_MARK = "rest-hand-figure:";

/** Music in copied text: a figure of ours, a passage document or a tablature; or why there is none. */
function figureIn(text: string): Figure | string {
  if (text.startsWith(FIGURE_MARK)) {
    try {
      return JSON.parse(text.slice(FIGURE_MARK.length)) as Figure;
    } catch {
      return "What was copied is damaged. Copy it again.";
    }
  }
  const read = readPassage(text);
  if (!read.ok) return `This could not be read as music: ${read.faults[0]!.place}: ${read.faults[0]!.says}`;
  const { passage } = read.value;
  return figureOf(passage, 0, ticksAt(passage, { bar: passage.bars.length, tick: 0 }));
}
