import type { WrittenGrip } from "../passage/schema.ts";

/** A grip by its name, or by its shape from the lowest string up: "x 3 2 0 1 0"; an x is a string that it leaves. */
export function gripName({ chord, notes }: Pick<WrittenGrip, "chord" | "notes">, strings: number): string {
  if (chord) return chord;
  const frets = Array.from({ length: strings }, (_, i) => notes.find(({ string }) => string === strings - i)?.fret ?? "x");
  return frets.join(frets.some((fret) => Number(fret) > 9) ? " " : "");
}

/** What stands over a bar where a grip begins. */
export function gripWords(grip: Pick<WrittenGrip, "chord" | "notes">, strings: number): string {
  return grip.notes.length > 0 ? `holds ${gripName(grip, strings)}` : "lets go";
}
