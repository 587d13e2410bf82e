import { HardDriveDownload, Trash2 } from "lucide-react";
import { useState } from "react";
import { useDispatch } from "react-redux";
import type { Samples } from "../jobs/jobs.ts";
import { startJob } from "../jobs/use-job.ts";
import { megabytes } from "../parts/megabytes.ts";
import { Trouble } from "../parts/Trouble.tsx";
import { troubleOf, useKeepRecordingMutation, useRecordingsQuery, useRemoveRecordingMutation } from "../store/api.ts";
import { sendWaiting } from "../store/practice-outbox.ts";
import type { Dispatch } from "../store/root.ts";

/** 16 bits a sample, one channel. */
const BYTES = 2;

/** Keeps the sound of a take beside the library, where that is asked for; says how large it is, and deletes it again. */
export function KeepSound({ id, sound }: { id: string; sound: Samples }) {
  const dispatch = useDispatch<Dispatch>();
  const { data: kept } = useRecordingsQuery();
  const [keep, keeping] = useKeepRecordingMutation();
  const [remove, removing] = useRemoveRecordingMutation();
  const [isPacking, setPacking] = useState(false);
  const here = kept?.find((one) => one.id === id);
  const [failed, setFailed] = useState<string | null>(null);
  const keepIt = async () => {
    setPacking(true);
    setFailed(null);
    const job = startJob();
    try {
      const wav = (await job.result(job.jobs.wavOf(sound) as Promise<Blob>)) as Blob;
      // Its take first: a recording belongs to one.
      await dispatch(sendWaiting());
      await keep({ id, wav });
    } catch (error) {
      setFailed((error as Error).message);
    } finally {
      job.stop();
      setPacking(false);
    }
  };
  const trouble = keeping.error ?? removing.error;
  return (
    <>
      {here ? (
        <button type="button" className="btn btn-sm btn-ghost" disabled={removing.isLoading} onClick={() => void remove(id)}>
          <Trash2 size={14} aria-hidden /> Delete the kept recording ({megabytes(here.bytes)})
        </button>
      ) : (
        <button type="button" className="btn btn-sm" disabled={!kept || isPacking} onClick={() => void keepIt()}>
          <HardDriveDownload size={14} aria-hidden /> {isPacking ? "Keeping it" : `Keep the recording (${megabytes(BYTES * sound.samples.length)})`}
        </button>
      )}
      {trouble && <Trouble {...troubleOf(trouble)} />}
      {failed && <Trouble title="The recording is not kept" says={failed} />}
    </>
  );
}
