import { Trash2 } from "lucide-react";
import { useState } from "react";
import { megabytes } from "../parts/megabytes.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useRecordingsQuery, useRemoveRecordingsMutation } from "../store/api.ts";

/** How much room the kept recordings of takes take, and all of them gone after a second press; their figures stay. */
export function KeptRecordings() {
  const { data: recordings } = useRecordingsQuery();
  const [removeAll, { error }] = useRemoveRecordingsMutation();
  const [isSure, setSure] = useState(false);
  if (!recordings || recordings.length === 0) return null;
  const many = `${recordings.length} recording${recordings.length === 1 ? "" : "s"}`;
  return (
    <section aria-label="Kept recordings" className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <p>
        <b>Kept recordings:</b> {many}, {megabytes(recordings.reduce((sum, { bytes }) => sum + bytes, 0))} on this machine. Each is heard and deleted in Takes.
      </p>
      {isSure ? (
        <button
          type="button"
          className="btn btn-sm btn-neutral"
          onClick={() => {
            setSure(false);
            void removeAll();
          }}
        >
          Yes, delete {many}; figures stay
        </button>
      ) : (
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setSure(true)}>
          <Trash2 size={16} aria-hidden /> Delete them
        </button>
      )}
      {error && <Trouble {...troubleOf(error)} />}
    </section>
  );
}
