import { useEffect, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import type { Damping } from "../../core/sound/score.ts";
import type { WavDepth } from "../../core/sound/wav.ts";
import type { JobAnswer, JobRequest } from "../jobs/protocol.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { RadioQuestion } from "../parts/RadioQuestion.tsx";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch } from "../store/root.ts";
import { DAMPING_WORDS } from "./damping-words.ts";

const DEPTHS: readonly { value: WavDepth; says: string }[] = [
  { value: "16", says: "16 bit" },
  { value: "24", says: "24 bit" },
  { value: "float", says: "floating point" },
];

/** The passage as a WAV file, in any way it can be heard; the work shows how far it is and can be stopped. */
export function SaveSound({ passage, damping, string, onClose }: { passage: Passage; damping: Damping; string: number | null; onClose(): void }) {
  const [way, setWay] = useState<Damping>(damping);
  const [alone, setAlone] = useState(string === null ? "all" : String(string));
  const [depth, setDepth] = useState<WavDepth>("16");
  const [progress, setProgress] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const worker = useRef<Worker | null>(null);
  const dispatch = useDispatch<Dispatch>();
  const stop = () => {
    worker.current?.terminate();
    worker.current = null;
    setProgress(null);
  };
  useEffect(() => () => worker.current?.terminate(), []);

  const save = () => {
    stop();
    setFailed(null);
    setProgress(0);
    const made = new Worker(new URL("../jobs/worker.ts", import.meta.url), { type: "module" });
    worker.current = made;
    const fail = (says: string) => {
      stop();
      setFailed(says);
    };
    made.onerror = (event) => fail(event.message || "the work stopped");
    made.onmessage = ({ data }: MessageEvent<JobAnswer>) => {
      if (data.kind === "progress") setProgress(data.of > 0 ? data.done / data.of : 0);
      else if (data.kind === "failed") fail(data.says);
      else if (data.kind === "wav") {
        stop();
        download(
          data.file,
          `${fileName(passage.title)}, ${DAMPING_WORDS.find((d) => d.damping === way)!.says}${alone === "all" ? "" : `, string ${alone}`}.wav`,
        );
        dispatch(notify({ says: "The sound file is saved with your downloads." }));
        onClose();
      }
    };
    made.postMessage({ kind: "wav", passage, damping: way, string: alone === "all" ? null : Number(alone), depth } satisfies JobRequest);
  };

  return (
    <Dialog title="Save as a sound file" onClose={onClose}>
      <div className="flex flex-col gap-4">
        <RadioQuestion
          name="way"
          asks="Whose damping is heard?"
          value={way}
          options={DAMPING_WORDS.map(({ damping: value, title }) => ({ value, says: title }))}
          onChoose={(value) => setWay(value)}
        />
        <RadioQuestion
          name="alone"
          asks="Which strings?"
          value={alone}
          options={[{ value: "all", says: "all" }, ...passage.instrument.tuning.map((_, s) => ({ value: String(s + 1), says: String(s + 1) }))]}
          onChoose={setAlone}
        />
        <RadioQuestion name="depth" asks="Samples" value={depth} options={DEPTHS} onChoose={(value) => setDepth(value)} />
        {failed && (
          <p role="alert" className="font-bold">
            The file could not be made: {failed}. Try again.
          </p>
        )}
        <div className="flex items-center gap-3">
          {progress === null ? (
            <button type="button" className="btn btn-primary" onClick={save}>
              Save
            </button>
          ) : (
            <>
              <progress className="progress w-56" value={progress} max={1} aria-label="Making the sound" />
              <button type="button" className="btn" onClick={stop}>
                Stop
              </button>
            </>
          )}
        </div>
      </div>
    </Dialog>
  );
}

function download(file: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A title as a file name: what file systems refuse becomes a blank. */
function fileName(title: string): string {
  return title.replace(/[\\/:*?"<>|\p{Cc}]+/gu, " ").trim() || "passage";
}
