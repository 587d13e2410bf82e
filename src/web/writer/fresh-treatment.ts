import type { Treatment } from "../../core/passage/schema.ts";

/** A treatment without rules under a name that is still free. */
export function freshTreatment(all: readonly Treatment[]): Treatment {
  const names = new Set(all.map((treatment) => treatment.name));
  let number = 1;
  while (names.has(`Treatment ${number}`)) number++;
  return { id: crypto.randomUUID(), name: `Treatment ${number}`, rules: [], overrides: {} };
}
