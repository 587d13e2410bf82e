import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Download } from "lucide-react";

const FORMATS = [
  { query: "", says: "Passage document", holds: "everything" },
  { query: "?format=musicxml", says: "MusicXML", holds: "notes, strings, strokes, mutes" },
  { query: "?format=musicxml&plan", says: "MusicXML with the plan", holds: "what each hand does stands as words" },
  { query: "?format=mid", says: "MIDI", holds: "pitches and lengths as planned" },
  { query: "?format=txt", says: "Tablature as text", holds: "strings, frets, palm, strokes" },
  { query: "?format=svg", says: "Sheet for the stand (SVG)", holds: "lanes, strokes, what each hand does" },
  { query: "?format=csv", says: "The plan as a table (CSV)", holds: "a row for every step and string" },
] as const;

/** A passage saved as a file, in any format that is written. */
export function ExportMenu({ id, title }: { id: string; title: string }) {
  return (
    <Menu>
      <MenuButton className="btn btn-ghost btn-sm btn-square" aria-label={`Save ${title} as a file`} title="Save as a file">
        <Download size={18} aria-hidden />
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-20 w-80 rounded-lg border border-base-300 bg-base-100 p-1.5 shadow-lg">
        {FORMATS.map(({ query, says, holds }) => (
          <MenuItem key={query}>
            <a className="block rounded px-3 py-1.5 data-focus:bg-base-300" href={`/api/export/${id}${query}`} download>
              <b>{says}</b>
              <span className="quiet block text-sm">{holds}</span>
            </a>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
