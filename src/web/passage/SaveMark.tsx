import { Check, CloudOff, LoaderCircle, PencilLine, TriangleAlert } from "lucide-react";
import { useSelector } from "react-redux";
import type { SaveState } from "../store/edit-slice.ts";
import type { RootState } from "../store/root.ts";

const MARKS: Readonly<Record<SaveState, { icon: typeof Check; says: string }>> = {
  saved: { icon: Check, says: "Saved" },
  unsaved: { icon: PencilLine, says: "Not saved yet" },
  saving: { icon: LoaderCircle, says: "Saving …" },
  offline: { icon: CloudOff, says: "Server away: kept in this browser" },
  refused: { icon: TriangleAlert, says: "Not accepted: kept in this browser" },
  stale: { icon: TriangleAlert, says: "Changed elsewhere" },
};

/** Whether the library has what is on the bench. */
export function SaveMark() {
  const save = useSelector((root: RootState) => root.edit.save);
  const saveSays = useSelector((root: RootState) => root.edit.saveSays);
  const { icon: Icon, says } = MARKS[save];
  return (
    <span role="status" className="flex shrink-0 items-center gap-1.5 text-sm" title={saveSays} data-testid="save-state">
      <Icon size={16} aria-hidden /> <span className={save === "saved" ? "sr-only xl:not-sr-only" : "sr-only sm:not-sr-only"}>{says}</span>
    </span>
  );
}
