import { csvFormatRow } from "d3-dsv";

/** A table as text: RFC 4180, with a head row. */
export function tableOf(columns: readonly string[], rows: readonly (readonly (string | number)[])[]): string {
  return [columns, ...rows].map((row) => `${csvFormatRow(row.map(harmless))}\r\n`).join("");
}

/** What a spreadsheet would take for a formula gets a blank. */
function harmless(field: string | number): string {
  return typeof field === "string" && /^[=+\-@]/.test(field) ? ` ${field}` : String(field);
}
