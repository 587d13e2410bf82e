import type { Passage } from "../../passage/schema.ts";

/** Name of the miscellaneous field that carries what no element of MusicXML is for. */
export const SETTINGS_FIELD = "rest-hand";

/** What stands beside the notes: player, gain, ring, goal, tags, words, pins, treatments and the instrument's own data. */
export function settingsText({ bars: _bars, title: _title, tempo: _tempo, feel: _feel, format: _format, version: _version, ...rest }: Passage): string {
  return JSON.stringify(rest);
}
