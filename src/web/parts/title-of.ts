import { FREE_FIGURES } from "../../core/drills/free.ts";

/** A passage's title, or that of a move. */
export function titleOf({ figure, title }: { figure: string | null; title: string }): string {
  return title || (FREE_FIGURES.find(({ id }) => id === figure)?.title ?? figure ?? "");
}
