import { Trash2 } from "lucide-react";
import { useState } from "react";

/** Deletes something for good, after a second press that says what. Without words of its own it is a sign alone. */
export function SureButton({ says, label, sure, onSure }: { says?: string; label?: string; sure: string; onSure(): void }) {
  const [isSure, setSure] = useState(false);
  if (isSure)
    return (
      <button
        type="button"
        className="btn btn-sm btn-neutral"
        onClick={() => {
          setSure(false);
          onSure();
        }}
      >
        {sure}
      </button>
    );
  return (
    <button
      type="button"
      className={`btn btn-ghost btn-sm ${says ? "" : "btn-square"}`}
      aria-label={label}
      title={says ? undefined : "Delete"}
      onClick={() => setSure(true)}
    >
      <Trash2 size={says ? 16 : 18} aria-hidden /> {says}
    </button>
  );
}
