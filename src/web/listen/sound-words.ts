import type { ListenState } from "./listener.ts";

/** What a player should know of the sound; nothing while all is well. `again` is what to press where the browser holds it back. */
export function soundWords(state: ListenState, again: string): string {
  switch (state.kind) {
    case "silent":
    case "playing":
      return "";
    case "preparing":
      return "Making the sound …";
    case "suspended":
      return `The browser holds the sound back: press ${again}.`;
    case "no-audio":
      return state.says;
    case "failed":
      return `The sound could not be made: ${state.says}. Try again.`;
  }
}
