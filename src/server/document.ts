import type { Passage } from "../core/passage/schema.ts";

/** A passage without what it refers to: its instrument and its player have rows of their own. */
export type StoredDocument = Omit<Passage, "instrument" | "player">;

/** What a list shows of a passage's music, kept beside it so that a list reads no music. */
export interface Card {
  tags: string[];
  tempo: number;
  goalTempo: number | null;
  bars: number;
}

/** What is written of a passage in its row. */
export function contentsOf(passage: Passage): { title: string; document: StoredDocument; card: Card } {
  const { instrument: _instrument, player: _player, ...document } = passage;
  const { title, tags, tempo, goalTempo, bars } = passage;
  return { title, document, card: { tags, tempo, goalTempo: goalTempo ?? null, bars: bars.length } };
}
