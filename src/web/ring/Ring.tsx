import type { Passage } from "../../core/passage/schema.ts";
export function Ring({ passage }: { passage: Passage }) {
  return <p>{passage.title}</p>;
}
