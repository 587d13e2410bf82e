import { useEffect } from "react";
import { useDispatch, useSelector } from "react-redux";
import { useRestoreMutation } from "../store/api.ts";
import { dismissNotice } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";
import { NewVersion } from "./NewVersion.tsx";

const SHOWN_MS = 10_000;

/** Short messages at the foot of the page, some with an undo. */
export function Notices() {
  const notices = useSelector((state: RootState) => state.notices.list);
  const dispatch = useDispatch<Dispatch>();
  const [restore] = useRestoreMutation();
  return (
    <div role="status" className="toast toast-center z-50 print:hidden">
      <NewVersion />
      {notices.map((notice) => (
        <NoticeLine key={notice.id} says={notice.says} onDone={() => dispatch(dismissNotice(notice.id))}>
          {notice.restoreId && (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => {
                void restore(notice.restoreId!);
                dispatch(dismissNotice(notice.id));
              }}
            >
              Undo
            </button>
          )}
        </NoticeLine>
      ))}
    </div>
  );
}

function NoticeLine({ says, onDone, children }: { says: string; onDone(): void; children: React.ReactNode }) {
  useEffect(() => {
    const timer = setTimeout(onDone, SHOWN_MS);
    return () => clearTimeout(timer);
  }, [onDone]);
  return (
    <div className="flex items-center gap-4 rounded-box bg-neutral px-4 py-2 text-neutral-content">
      <span>{says}</span>
      {children}
    </div>
  );
}
