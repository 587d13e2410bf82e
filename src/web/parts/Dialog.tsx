import { useLayoutEffect, useRef } from "react";

/** A modal dialog on the browser's own element: focus begins at `data-first`, stays inside and goes back; Escape closes. */
export function Dialog({ title, onClose, wide = false, children }: { title: string; onClose(): void; wide?: boolean; children: React.ReactNode }) {
  const ref = useRef<HTMLDialogElement>(null);
  useLayoutEffect(() => {
    const dialog = ref.current;
    if (!dialog || dialog.open) return;
    dialog.showModal();
    dialog.querySelector<HTMLElement>("[data-first]")?.focus();
    // Closed while it still stands, it gives the focus back to where it was.
    return () => dialog.close();
  }, []);
  return (
    <dialog
      ref={ref}
      className={`m-auto max-h-screen w-11/12 overflow-y-auto overscroll-contain rounded-box border border-base-300 bg-base-100 p-6 text-base-content shadow-2xl backdrop:bg-black/40 ${wide ? "max-w-5xl" : "max-w-2xl"}`}
      aria-label={title}
      onClose={() => !ref.current?.open && onClose()}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <div className="mb-3 flex items-start justify-between gap-4">
        <h2 className="text-xl font-bold">{title}</h2>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => ref.current?.close()}>
          Close
        </button>
      </div>
      {children}
    </dialog>
  );
}
