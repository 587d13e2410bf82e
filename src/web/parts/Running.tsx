/** How far work is, and a way to stop it; `of` is 0 until it is known how much there is. */
export function Running({ progress: { done, of }, says, onStop }: { progress: { done: number; of: number }; says: string; onStop(): void }) {
  return (
    <span role="status" className="flex items-center gap-3">
      <progress className="progress w-40 min-w-16" value={of > 0 ? done : undefined} max={Math.max(1, of)} aria-label={says} />
      <button type="button" className="btn btn-sm" onClick={onStop}>
        Stop
      </button>
    </span>
  );
}
