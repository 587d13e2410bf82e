import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { readPassage } from "../../core/formats/read.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useImportTextMutation } from "../store/api.ts";

const EXAMPLE = `e|----------------|
B|----------------|
G|----------------|
D|----5-7---------|
A|5-5-----7-5-----|
E|3-3-------------|`;

/** Reads a pasted or dropped tablature or passage document; shows what was guessed before anything is saved. */
export function ImportDialog({ initial, onClose }: { initial: string; onClose(): void }) {
  const [text, setText] = useState(initial);
  const [importText, { error, isLoading }] = useImportTextMutation();
  const navigate = useNavigate();
  const read = useMemo(() => (text.trim() === "" ? null : readPassage(text)), [text]);

  const submit = async () => {
    const made = await importText(text);
    if (made.data) navigate(`/bench/${made.data.id}`);
  };

  return (
    <Dialog title="Paste or open a tab" onClose={onClose} wide>
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (read?.ok) void submit();
        }}
      >
        <label className="flex flex-col gap-1">
          Plain-text tablature or a passage document (.resthand.json)
          <textarea
            className="textarea h-56 w-full font-mono text-base whitespace-pre"
            value={text}
            data-first
            spellCheck={false}
            placeholder={EXAMPLE}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <label className="flex items-center gap-3">
          or a file
          <input
            type="file"
            className="file-input file-input-sm"
            accept=".txt,.tab,.json,text/plain,application/json"
            onChange={async (event) => {
              const file = event.target.files?.[0];
              if (file) setText(await file.text());
            }}
          />
        </label>
        <div aria-live="polite" className="flex flex-col gap-3">
          {read && !read.ok && <Trouble title="This cannot be read yet. Nothing was saved." faults={read.faults} />}
          {read?.ok && (
            <div>
              <p>
                <strong>{read.value.passage.title}</strong>: {read.value.passage.bars.length} bars on {read.value.passage.instrument.tuning.length} strings,{" "}
                {[...read.value.passage.instrument.tuning].reverse().join(" ")}.
              </p>
              {read.value.remarks.length > 0 && (
                <>
                  <p className="mt-2 font-semibold">Guessed or not understood:</p>
                  <ul className="max-h-40 list-disc overflow-auto pl-5">
                    {read.value.remarks.map((remark) => (
                      <li key={`${remark.place}${remark.says}`}>
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
        <button type="submit" className="btn btn-primary self-start" disabled={!read?.ok || isLoading}>
          {isLoading ? "Saving …" : "Put it on the shelf"}
        </button>
      </form>
    </Dialog>
  );
}
