import { megabytes } from "../parts/megabytes.ts";
import { SureButton } from "../parts/SureButton.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useRecordingsQuery, useRemoveRecordingsMutation } from "../store/api.ts";

/** How much room the kept recordings of takes take, and all of them gone after a second press; their figures stay. */
export function KeptRecordings() {
  const { data: recordings } = useRecordingsQuery();
  const [removeAll, { error }] = useRemoveRecordingsMutation();
  if (!recordings || recordings.length === 0) return null;
  const many = `${recordings.length} recording${recordings.length === 1 ? "" : "s"}`;
  return (
    <section aria-label="Kept recordings" className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <p>
        <b>Kept recordings:</b> {many}, {megabytes(recordings.reduce((sum, { bytes }) => sum + bytes, 0))} on this machine. Each is heard and deleted in Takes.
      </p>
      <SureButton says="Delete them" sure={`Yes, delete ${many}; figures stay`} onSure={() => void removeAll()} />
      {error && <Trouble {...troubleOf(error)} />}
    </section>
  );
}
