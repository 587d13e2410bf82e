import { Dialog } from "../parts/Dialog.tsx";

const KEY = "rest-hand:drummer";

/** What the player said last about playing beside a drummer; null when never asked. */
export function playsWithDrummer(): "yes" | "no" | null {
  const kept = localStorage.getItem(KEY);
  return kept === "yes" || kept === "no" ? kept : null;
}

export function keepDrummer(drummer: "yes" | "no"): void {
  localStorage.setItem(KEY, drummer);
}

/** Percussion on the backbeat doubles a snare: asked before it is written. */
export function DrummerQuestion({ onAnswer }: { onAnswer(takes: boolean): void }) {
  const answer = (drummer: "yes" | "no", takes: boolean) => {
    keepDrummer(drummer);
    onAnswer(takes);
  };
  return (
    <Dialog title="Is there a drummer?" onClose={() => onAnswer(false)}>
      <p className="mb-4">This strikes on 2 and 4. A player alone needs that; beside a drummer it doubles the snare, and the two are rarely quite together.</p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-primary" data-first onClick={() => answer("no", true)}>
          No drummer: write it
        </button>
        <button type="button" className="btn" onClick={() => answer("yes", true)}>
          There is one, write it all the same
        </button>
        <button type="button" className="btn btn-ghost" onClick={() => answer("yes", false)}>
          There is one: leave it
        </button>
      </div>
    </Dialog>
  );
}
