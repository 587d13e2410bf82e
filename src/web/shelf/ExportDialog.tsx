import { useState } from "react";
import type { ListedPassage } from "../../api/wire.ts";
import { type Extension, type Staves, WRITTEN } from "../../core/formats/written.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Select } from "../parts/Select.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { useExport } from "./use-export.ts";

/** Passages saved as files, in any format that is written; says what the format could not hold. */
export function ExportDialog({ passages, onClose }: { passages: readonly ListedPassage[]; onClose(): void }) {
  const [extension, setExtension] = useState<Extension>("resthand.json");
  const [withPlan, setWithPlan] = useState(false);
  const [staves, setStaves] = useState<Staves>("both");
  const { state, start, stop } = useExport();
  const one = passages.length === 1 ? passages[0]! : null;
  const isScore = extension === "musicxml" || extension === "mxl";
  return (
    <Dialog title={one ? `Save ${one.title} as a file` : `Save ${passages.length} passages as files`} onClose={onClose}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          start({ ids: passages.map(({ id }) => id), extension, withPlan: withPlan && isScore, staves });
        }}
      >
        <fieldset className="grid gap-1">
          <legend className="mb-1">As</legend>
          {WRITTEN.map((format, i) => (
            <label key={format.extension} className="grid grid-cols-[auto_1fr] items-baseline gap-x-3 rounded px-1 py-0.5 sm:grid-cols-[auto_13rem_1fr]">
              <input
                type="radio"
                name="format"
                className="radio radio-sm self-center"
                data-first={i === 0 ? true : undefined}
                checked={extension === format.extension}
                onChange={() => setExtension(format.extension)}
              />
              <b>{format.says}</b>
              <span className="quiet col-start-2 text-sm sm:col-start-3">
                .{format.extension}: {format.holds}
              </span>
            </label>
          ))}
        </fieldset>
        {isScore && (
          <>
            <Select
              className="select w-auto"
              label="Staves"
              value={staves}
              options={[
                { value: "both", says: "notes over tablature" },
                { value: "tab", says: "tablature alone" },
                { value: "notes", says: "notes alone" },
              ]}
              onChoose={(choice) => setStaves(choice)}
            />
            <label className="flex items-center gap-3">
              <input type="checkbox" className="checkbox checkbox-sm" checked={withPlan} onChange={(event) => setWithPlan(event.target.checked)} />
              With the plan: the strings each hand damps stand over and under the notes
            </label>
          </>
        )}
        {!one && <p className="quiet">They come packed in one .zip file.</p>}
        <div aria-live="polite">
          {state.kind === "writing" && (
            <p className="flex flex-wrap items-center gap-3">
              Writing {state.done + 1} of {state.of}
              <progress className="progress w-40" value={state.done} max={state.of} aria-label="Writing" />
              <button type="button" className="btn btn-sm" onClick={stop}>
                Stop
              </button>
            </p>
          )}
          {state.kind === "failed" && <Trouble title="This could not be written" says={`${state.says}. No file was saved.`} faults={[]} />}
          {state.kind === "done" && (
            <>
              <p>
                <b>{state.name}</b> was handed to the browser{state.files > 1 ? `, ${state.files} passages in it` : ""}.
              </p>
              <Losses remarks={state.remarks} />
            </>
          )}
        </div>
        <div className="flex flex-wrap items-center gap-3">
          <button type="submit" className="btn btn-primary" disabled={state.kind === "writing"}>
            Save
          </button>
          {one?.original && (
            <a className="btn btn-ghost" href={`/api/passages/${one.id}/original`} download>
              The file it came from: {one.original}
            </a>
          )}
        </div>
      </form>
    </Dialog>
  );
}

/** What the format could not hold, passage by passage. */
function Losses({ remarks }: { remarks: readonly { title: string; remarks: readonly { place: string; says: string }[] }[] }) {
  if (remarks.length === 0) return null;
  return (
    <>
      <p className="mt-2 font-semibold">Not held, or written otherwise:</p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys */}
      <ul className="max-h-48 list-disc overflow-auto pl-5" tabIndex={0}>
        {remarks.flatMap(({ title, remarks: own }) =>
          own.map(({ place, says }) => (
            <li key={`${title} ${place} ${says}`}>
              {title}, {place}: {says}
            </li>
          )),
        )}
      </ul>
    </>
  );
}
