import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { MIDI_GRIDS, type MidiGrid } from "../../core/formats/midi/grids.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useImportFileMutation } from "../store/api.ts";
import { useRead } from "./use-read.ts";

const GRID_WORDS: Readonly<Record<MidiGrid, string>> = {
  "1/8": "eighths",
  "1/12": "eighth triplets",
  "1/16": "sixteenths",
  "1/24": "sixteenth triplets",
  "1/32": "thirty-seconds",
};

const EXAMPLE = `e|----------------|
B|----------------|
G|----------------|
D|----5-7---------|
A|5-5-----7-5-----|
E|3-3-------------|`;

/** What is to be read: a file has a name, pasted text has none. */
export interface ImportSource {
  name: string | null;
  bytes: Uint8Array | null;
}

/** Reads a pasted text or a dropped or chosen file; shows what was guessed or not understood before anything is saved. */
export function ImportDialog({ initial, onClose }: { initial: ImportSource; onClose(): void }) {
  const [source, setSource] = useState(initial);
  const [part, setPart] = useState<number | undefined>(undefined);
  const [grid, setGrid] = useState<MidiGrid | undefined>(undefined);
  const [keeps, setKeeps] = useState(true);
  const { read, isReading, progress } = useRead(source.bytes, { part, grid });
  const [importFile, { error, isLoading }] = useImportFileMutation();
  const navigate = useNavigate();
  const text = useMemo(() => textIn(source.bytes), [source.bytes]);
  const take = (bytes: Uint8Array | null, name: string | null = null) => {
    setPart(undefined);
    setSource({ name, bytes });
  };

  const submit = async () => {
    if (!read?.ok || !source.bytes) return;
    const made = await importFile({
      bytes: source.bytes,
      part,
      grid,
      ...(keeps && read.value.format !== "document" ? { keep: source.name ?? "pasted.txt" } : {}),
    });
    if (made.data) navigate(`/bench/${made.data.id}`);
  };

  return (
    <Dialog title="Paste or open a tab or a score" onClose={onClose} wide>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        {text === null ? (
          <p>
            <b>{source.name ?? "A file"}</b>, {Math.ceil((source.bytes?.length ?? 0) / 1000)} KB{" "}
            <button type="button" className="btn btn-xs" onClick={() => take(null)}>
              another one
            </button>
          </p>
        ) : (
          <label className="flex flex-col gap-1">
            Plain-text tablature, MusicXML or a passage document
            <textarea
              className="textarea h-56 w-full font-mono text-base whitespace-pre"
              value={text}
              data-first
              spellCheck={false}
              placeholder={EXAMPLE}
              onChange={(event) => take(new TextEncoder().encode(event.target.value))}
            />
          </label>
        )}
        <label className="flex items-center gap-3">
          or a file
          <input
            type="file"
            className="file-input file-input-sm"
            accept=".txt,.tab,.json,.xml,.musicxml,.mxl,.mid,.midi"
            onChange={async (event) => {
              const file = event.target.files?.[0];
              if (file) take(new Uint8Array(await file.arrayBuffer()), file.name);
            }}
          />
        </label>
        <div aria-live="polite" className="flex flex-col gap-3">
          {isReading && (
            <p className="quiet flex flex-wrap items-center gap-3">
              {progress ? `Finding places on the neck: ${progress.done} of ${progress.of}` : "Reading …"}
              <progress className="progress w-40" value={progress?.done} max={Math.max(1, progress?.of ?? 1)} aria-label="Reading" />
              <button type="button" className="btn btn-xs" onClick={() => take(null)}>
                Stop
              </button>
            </p>
          )}
          {read && !read.ok && <Trouble title="This cannot be read yet. Nothing was saved." faults={read.faults} />}
          {read?.ok && (
            <div>
              <div className="mb-2 flex flex-wrap items-center gap-x-6 gap-y-2">
                {read.value.parts.length > 1 && (
                  <label className="flex items-center gap-3">
                    Part
                    <select
                      className="select select-sm"
                      value={part ?? ""}
                      onChange={(event) => setPart(event.target.value === "" ? undefined : Number(event.target.value))}
                    >
                      <option value="">the first with notes</option>
                      {read.value.parts.map((name, i) => (
                        // biome-ignore lint/suspicious/noArrayIndexKey: parts may share a name
                        <option key={i} value={i}>
                          {i + 1}: {name}
                        </option>
                      ))}
                    </select>
                  </label>
                )}
                {read.value.format === "midi" && (
                  <label className="flex items-center gap-3 whitespace-nowrap">
                    Notes begin on
                    <select className="select select-sm" value={grid ?? "1/32"} onChange={(event) => setGrid(event.target.value as MidiGrid)}>
                      {MIDI_GRIDS.map((unit) => (
                        <option key={unit} value={unit}>
                          {GRID_WORDS[unit]}
                        </option>
                      ))}
                    </select>
                  </label>
                )}
              </div>
              <p>
                <strong>{read.value.passage.title}</strong>: {read.value.passage.bars.length} bars on {read.value.passage.instrument.tuning.length} strings,{" "}
                {[...read.value.passage.instrument.tuning].reverse().join(" ")}.
              </p>
              {read.value.remarks.length > 0 && (
                <>
                  <p className="mt-2 font-semibold">Guessed or not understood:</p>
                  {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys */}
                  <ul className="max-h-40 list-disc overflow-auto pl-5" tabIndex={0}>
                    {read.value.remarks.map((remark, i) => (
                      // biome-ignore lint/suspicious/noArrayIndexKey: remarks may be alike
                      <li key={i}>
                        {remark.place}: {remark.says}
                      </li>
                    ))}
                  </ul>
                </>
              )}
            </div>
          )}
          {error && <Trouble {...troubleOf(error)} />}
        </div>
        {read?.ok && read.value.format !== "document" && (
          <label className="flex items-center gap-3">
            <input type="checkbox" className="checkbox checkbox-sm" checked={keeps} onChange={(event) => setKeeps(event.target.checked)} />
            Keep {source.name ? "the file" : "the text"} with the passage, as it is
          </label>
        )}
        <button type="submit" className="btn btn-primary self-start" disabled={!read?.ok || isReading || isLoading}>
          {isLoading ? "Saving …" : "Put it on the shelf"}
        </button>
      </form>
    </Dialog>
  );
}

/** Text that can be shown and mended where it stands; null for files that are none. */
function textIn(bytes: Uint8Array | null): string | null {
  if (!bytes) return "";
  if (bytes.length > 200_000) return null;
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return text.includes("\0") ? null : text;
  } catch {
    return null;
  }
}
