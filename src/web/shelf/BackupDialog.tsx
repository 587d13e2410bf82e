import { format, formatDistanceToNow } from "date-fns";
import { Download } from "lucide-react";
import { useState } from "react";
import { useDispatch } from "react-redux";
import { type Doubles, type KeptBackup, type Restored, type RestorePreview, restored, writtenBackup } from "../../api/wire.ts";
import { LIMITS } from "../../core/passage/limits.ts";
import { useServerJob } from "../jobs/use-server-job.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { downloadFrom } from "../parts/download.ts";
import { megabytes } from "../parts/megabytes.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { api, type BackupSource, bodyOf, troubleOf, useBackupsQuery, usePreviewRestoreMutation, useRecordingsQuery } from "../store/api.ts";
import type { Dispatch } from "../store/root.ts";
import { JobProgress } from "./JobProgress.tsx";

const REASONS: Readonly<Record<KeptBackup["reason"], string>> = {
  daily: "by itself",
  asked: "when you asked for it",
  migration: "before the program's update",
  restore: "before a backup was brought back",
};

const STATES: Readonly<Record<RestorePreview["passages"][number]["state"], string>> = {
  new: "comes back",
  same: "is here already",
  binned: "comes out of the bin",
  double: "is here with another content",
};

/** Saving the whole library, and bringing a backup back after a look at what it would change. */
export function BackupDialog({ onClose }: { onClose(): void }) {
  const { data: kept, error, isLoading } = useBackupsQuery(undefined, { refetchOnMountOrArgChange: true });
  const [source, setSource] = useState<BackupSource | null>(null);
  const [look, looking] = usePreviewRestoreMutation();
  const take = (from: BackupSource) => {
    setSource(from);
    void look(from);
  };
  return (
    <Dialog title="Backup of the library" onClose={onClose} wide>
      <section className="mb-6">
        <p className="mb-2">All passages, the bin, instruments, players and the files they came from, in one .zip of open formats.</p>
        <SaveNow />
      </section>
      <section aria-label="Bring a backup back" className="mb-6">
        <h3 className="mb-1 text-lg font-bold">Bring a backup back</h3>
        <label className="flex flex-wrap items-center gap-3">
          From a file
          <input
            type="file"
            className="file-input file-input-sm"
            accept=".zip"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) take(file);
            }}
          />
        </label>
        <p className="quiet mt-1">You see what would change before anything does.</p>
        <div aria-live="polite" className="mt-3">
          {looking.isLoading && <p role="status">Looking into the backup …</p>}
          {looking.error && <Trouble {...troubleOf(looking.error)} />}
          {looking.data && source && <Preview key={looking.requestId} preview={looking.data} source={source} />}
        </div>
      </section>
      <section aria-label="Kept with the library">
        <h3 className="mb-1 text-lg font-bold">Kept with the library</h3>
        <p className="quiet mb-2">
          One an hour when something has changed, one before every larger step, and the last five you asked for. The others stay by age: hours of a day, days of
          two weeks, weeks of two months.
        </p>
        {isLoading && <Waiting says="Looking for backups" />}
        {error && <Trouble {...troubleOf(error)} />}
        {kept?.length === 0 && <p>None yet: the first comes once there are passages.</p>}
        <ul className="divide-y divide-base-300">
          {kept?.map((backup) => (
            <li key={backup.name} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1.5">
              <span className="mr-auto">
                <b>{moment(backup.savedAt)}</b>, {REASONS[backup.reason]}, {Math.ceil(backup.bytes / 1000)} KB
              </span>
              <a className="btn btn-ghost btn-sm" href={`/api/backups/${backup.name}`} download>
                Save as a file
              </a>
              <button type="button" className="btn btn-sm" onClick={() => take({ name: backup.name })}>
                Look into it
              </button>
            </li>
          ))}
        </ul>
      </section>
    </Dialog>
  );
}

/** Writes a backup into the server's folder and hands it over as a file. */
function SaveNow() {
  const dispatch = useDispatch<Dispatch>();
  const { job, run, stop } = useServerJob(writtenBackup);
  const { data: recordings } = useRecordingsQuery();
  const [withRecordings, setWithRecordings] = useState(false);
  const bytes = (recordings ?? []).reduce((sum, one) => sum + one.bytes, 0);
  const save = () =>
    run(withRecordings ? "backups?recordings" : "backups", { method: "POST" }, ({ name }) => {
      dispatch(api.util.invalidateTags(["backups"]));
      downloadFrom(`/api/backups/${name}`);
    });
  return (
    <div className="flex flex-wrap items-center gap-4">
      <button type="button" className="btn btn-primary" data-first disabled={job.state === "running"} onClick={() => void save()}>
        <Download size={18} aria-hidden /> Save a backup now
      </button>
      {bytes > 0 && (
        <label className="flex items-center gap-2">
          <input type="checkbox" className="checkbox checkbox-sm" checked={withRecordings} onChange={({ target }) => setWithRecordings(target.checked)} />
          with the recordings of takes ({megabytes(bytes)})
        </label>
      )}
      <JobProgress job={job} says="Packing" onStop={stop} />
      {job.state === "done" && (
        <p role="status">
          Saved; it is kept in the list below too.
          {job.result.leftOut.length > 0 && ` Not in it, because it cannot be read: ${job.result.leftOut.join(", ")}.`}
          {job.result.recordingsLeft > 0 &&
            ` Not in it either: ${counted(job.result.recordingsLeft, "recording")}, beyond the ${megabytes(LIMITS.recordingsInBackup.most)} that one backup takes.`}
        </p>
      )}
    </div>
  );
}

const CHOICES = [
  { doubles: "keep", says: "Keep what is here" },
  { doubles: "replace", says: "Take the backup's" },
  { doubles: "both", says: "Keep both: the backup's as copies" },
] as const;

/** What a backup would change, and the choice about doubles. */
function Preview({ preview, source }: { preview: RestorePreview; source: BackupSource }) {
  const [doubles, setDoubles] = useState<Doubles>("keep");
  const dispatch = useDispatch<Dispatch>();
  const { job, run, stop } = useServerJob(restored);
  const restore = () =>
    run(`restore?doubles=${doubles}`, { method: "POST", ...bodyOf(source) }, () => {
      dispatch(api.util.invalidateTags(["shelf", "bin", "setup", "backups", "practice", "recordings"]));
    });
  const differs = preview.passages.filter(({ state }) => state !== "same");
  const hasDoubles = differs.some(({ state }) => state === "double");
  const same = preview.passages.length - differs.length;
  if (job.state === "done") return <p className="font-semibold">{wordsOf(job.result)} The library as it was before is kept in the list below.</p>;
  return (
    <div className="rounded-lg border border-base-300 p-4">
      <p>
        Saved <b>{moment(preview.savedAt)}</b> with {counted(preview.passages.length, "passage")}
        {same > 0 && `, ${same === preview.passages.length ? "all" : same} of them here already`}.
        {preview.newSetups.length > 0 && ` Comes back in the Setup: ${preview.newSetups.join(", ")}.`}
        {preview.newSessions > 0 && ` Comes back in the Log: ${counted(preview.newSessions, "session")}.`}
        {preview.newRecordings > 0 && ` Comes back with its take: ${counted(preview.newRecordings, "recording")}.`}
      </p>
      {differs.length > 0 && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
        <ul className="my-2 max-h-48 list-disc overflow-auto pl-5" tabIndex={0}>
          {differs.map(({ id, title, state, inBin, updatedAt, here }) => (
            <li key={id}>
              <b>{title}</b> {STATES[state]}
              {state === "new" && inBin && ", in the bin"}
              {here && `: changed ${dated(here.updatedAt)} here, ${dated(updatedAt)} in the backup`}
            </li>
          ))}
        </ul>
      )}
      {hasDoubles && (
        <fieldset className="my-3 flex flex-wrap gap-x-6 gap-y-1">
          <legend className="font-semibold">Those that are here with another content:</legend>
          {CHOICES.map((choice) => (
            <label key={choice.doubles} className="flex items-center gap-2">
              <input type="radio" name="doubles" className="radio radio-sm" checked={doubles === choice.doubles} onChange={() => setDoubles(choice.doubles)} />
              {choice.says}
            </label>
          ))}
        </fieldset>
      )}
      {differs.length === 0 && preview.newSetups.length === 0 && preview.newSessions === 0 && preview.newRecordings === 0 ? (
        <p className="font-semibold">There is nothing to bring back: all of it is here.</p>
      ) : (
        <button type="button" className="btn btn-primary mb-2" disabled={job.state === "running"} onClick={() => void restore()}>
          Bring it back
        </button>
      )}
      <JobProgress job={job} says="Bringing it back" onStop={stop} />
    </div>
  );
}

function wordsOf({ added, replaced, leftAsTheyAre }: Restored): string {
  const parts = [
    added > 0 && `${counted(added, "passage")} added`,
    replaced > 0 && `${replaced} put back`,
    leftAsTheyAre > 0 && `${leftAsTheyAre} left as they are`,
  ];
  return `${parts.filter(Boolean).join(", ") || "Done"}.`;
}

function counted(count: number, what: string): string {
  return `${count} ${what}${count === 1 ? "" : "s"}`;
}

function dated(iso: string): string {
  return format(new Date(iso), "d MMM yyyy, HH:mm");
}

function moment(iso: string): string {
  return `${dated(iso)} (${formatDistanceToNow(new Date(iso), { addSuffix: true })})`;
}
