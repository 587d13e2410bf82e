import { useEffect, useRef, useState } from "react";
import { useDispatch } from "react-redux";
import type { Workbox } from "workbox-window";
import { api, TAGS } from "../store/api.ts";
import type { Dispatch } from "../store/root.ts";

/** Keeps the page for when its server is away, and offers a newer version of it once there is one; it is never taken by itself. */
export function NewVersion() {
  const [isThere, setThere] = useState(false);
  const worker = useRef<Workbox | null>(null);
  const dispatch = useDispatch<Dispatch>();
  useEffect(() => {
    // Not where it is developed, and not where the address is neither this machine nor https: browsers refuse it there.
    if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
    const begin = async () => {
      const { Workbox } = await import("workbox-window");
      const workbox = new Workbox("/sw.js");
      worker.current = workbox;
      workbox.addEventListener("waiting", () => setThere(true));
      workbox.addEventListener("controlling", ({ isUpdate }) => {
        if (isUpdate) location.reload();
        // What was asked for before it was here is asked for once more, so that it is kept.
        else dispatch(api.util.invalidateTags([...TAGS, "me"]));
      });
      await workbox.register();
    };
    begin().catch(() => {});
  }, [dispatch]);
  if (!isThere) return null;
  return (
    <div className="flex items-center gap-4 rounded-box bg-neutral px-4 py-2 text-neutral-content">
      <span>A newer Rest Hand is here.</span>
      <button type="button" className="btn btn-sm" onClick={() => worker.current?.messageSkipWaiting()}>
        Take it now
      </button>
      <button type="button" className="btn btn-sm btn-ghost" onClick={() => setThere(false)}>
        Later
      </button>
    </div>
  );
}
