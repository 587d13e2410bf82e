import type { Passage } from "../../core/passage/schema.ts";
export function Treatments({ passage }: { passage: Passage }) {
  return <p>{passage.title}</p>;
}
