/** Quarter notes a minute that a passage may be written at. */
export const TEMPO = { lowest: 20, highest: 400 } as const;

export function isTempo(tempo: number): boolean {
  return tempo >= TEMPO.lowest && tempo <= TEMPO.highest;
}
