import { useState } from "react";
import { useDispatch } from "react-redux";
import type { Passage } from "../../core/passage/schema.ts";
import type { Damping } from "../../core/sound/score.ts";
import type { WavDepth } from "../../core/sound/wav.ts";
import { useJob } from "../jobs/use-job.ts";
import { Dialog } from "../parts/Dialog.tsx";
import { download, fileName } from "../parts/download.ts";
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
  const { progress, failed, run, stop } = useJob();
  const dispatch = useDispatch<Dispatch>();

  const save = () =>
    run(
      (jobs, onProgress) => jobs.wav(passage, { damping: way, string: alone === "all" ? null : Number(alone), depth }, onProgress),
      (file) => {
        const said = DAMPING_WORDS.find((d) => d.damping === way)!.says;
        download(file, `${fileName(passage.title)}, ${said}${alone === "all" ? "" : `, string ${alone}`}.wav`);
        dispatch(notify({ says: "The sound file is saved with your downloads." }));
        onClose();
      },
    );

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
              <progress className="progress w-56" value={progress.done} max={Math.max(1, progress.of)} aria-label="Making the sound" />
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
