import { Menu, MenuButton, MenuHeading, MenuItem, MenuItems, MenuSection } from "@headlessui/react";
import { Check, ChevronDown } from "lucide-react";
import { memo } from "react";
import type { NoteChange } from "../../core/edit/types.ts";
import type { Note } from "../../core/passage/schema.ts";
import { NOTE_WAYS } from "./note-ways.ts";

/** How the note at the cursor is sounded and shaped; the same one again takes it away. */
export const NoteMenu = memo(function NoteMenu({ note, onChange }: { note: Note | null; onChange(change: NoteChange): void }) {
  const on = note === null ? [] : NOTE_WAYS.flatMap(({ ways }) => ways.filter((way) => way.isOn(note)));
  return (
    <Menu>
      <MenuButton
        className={`btn btn-sm px-2.5 ${on.length > 0 ? "btn-active" : ""}`}
        disabled={note === null}
        title="How this note is sounded: V bends, Shift P sets how firmly the palm lies"
      >
        {on.length > 0 ? on.map((way) => way.says).join(", ") : "note"} <ChevronDown size={14} aria-hidden />
      </MenuButton>
      <MenuItems anchor="bottom start" className="z-20 mt-1 rounded-lg border border-base-300 bg-base-100 p-1.5 shadow-lg">
        {note !== null &&
          NOTE_WAYS.filter(({ isFor }) => isFor(note)).map(({ title, ways }) => (
            <MenuSection key={title}>
              <MenuHeading className="quiet px-3 pt-2 pb-1 text-sm">{title}</MenuHeading>
              {ways.map((way) => (
                <MenuItem key={way.says}>
                  <button
                    type="button"
                    aria-pressed={way.isOn(note)}
                    className="flex w-full items-center justify-between gap-6 rounded px-3 py-1.5 text-left data-focus:bg-base-300"
                    onClick={() => onChange(way.isOn(note) ? way.off : way.on)}
                  >
                    {way.says}
                    {way.isOn(note) && <Check size={16} aria-hidden />}
                  </button>
                </MenuItem>
              ))}
            </MenuSection>
          ))}
      </MenuItems>
    </Menu>
  );
});
