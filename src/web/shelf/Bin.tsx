import { useState } from "react";
import { Dialog } from "../parts/Dialog.tsx";
import { Trouble } from "../parts/Trouble.tsx";
import { Waiting } from "../parts/Waiting.tsx";
import { troubleOf, useListQuery, useRemoveForeverMutation, useRestoreMutation } from "../store/api.ts";

/** Deleted passages: back onto the shelf, or gone for good after a second press. */
export function Bin({ onClose }: { onClose(): void }) {
  const { data, error, isLoading } = useListQuery("bin", { refetchOnMountOrArgChange: true });
  const [restore, restoring] = useRestoreMutation();
  const [remove, removing] = useRemoveForeverMutation();
  const [sure, setSure] = useState<string | null>(null);
  const trouble = error ?? restoring.error ?? removing.error;
  return (
    <Dialog title="Bin" onClose={onClose}>
      {isLoading && <Waiting says="Looking into the bin" />}
      {trouble && <Trouble {...troubleOf(trouble)} />}
      {data?.length === 0 && <p>The bin is empty.</p>}
      {data && data.length > 0 && <p className="quiet">What was practised of a passage lies here with it, and goes with it.</p>}
      <ul className="divide-y divide-base-300">
        {data?.map((passage) => (
          <li key={passage.id} className="flex items-center gap-2 py-2">
            <span className="mr-auto font-semibold">{passage.title}</span>
            <button type="button" className="btn btn-sm" onClick={() => void restore(passage.id)}>
              Put back
            </button>
            {sure === passage.id ? (
              <button type="button" className="btn btn-sm btn-neutral" onClick={() => void remove(passage.id)}>
                Yes, delete for good
              </button>
            ) : (
              <button type="button" className="btn btn-ghost btn-sm" onClick={() => setSure(passage.id)}>
                Delete for good
              </button>
            )}
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
