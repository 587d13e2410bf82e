import { useEffect } from "react";
import { useDispatch } from "react-redux";
import { change, type Told } from "../../api/wire.ts";
import { api, TAGS } from "./api.ts";
import { sendDrafts } from "./drafts-outbox.ts";
import { heardOf } from "./edit-slice.ts";
import { sendWaiting } from "./practice-outbox.ts";
import type { Dispatch } from "./root.ts";

/** What changes within so many ms is asked for once. */
const TOGETHER_MS = 250;

/** Hears what other pages and other machines change, while this page is looked at; what it missed meanwhile is asked for when it is again. */
export function useChanges(): void {
  const dispatch = useDispatch<Dispatch>();
  useEffect(() => {
    let source: EventSource | null = null;
    const tags = new Set<(typeof TAGS)[number]>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const askFor = (...changed: (typeof TAGS)[number][]) => {
      for (const tag of changed) tags.add(tag);
      timer ??= setTimeout(() => {
        timer = undefined;
        dispatch(api.util.invalidateTags([...tags]));
        tags.clear();
      }, TOGETHER_MS);
    };
    const hear = (told: Told) => {
      if (told.what === "passage") {
        dispatch(heardOf(told));
        askFor("shelf", "bin");
      } else if (told.what !== "anything") askFor(told.what);
      else {
        // The first one too: what was asked for before the stream began may be older than it.
        askFor(...TAGS);
        void dispatch(newestOfOpen());
        // The server is there, perhaps again.
        void dispatch(sendWaiting());
        void dispatch(sendDrafts());
      }
    };
    const follow = () => {
      // A browser has few connections to one server: pages that nobody looks at have none.
      if (document.hidden) {
        source?.close();
        source = null;
      } else if (!source) {
        source = new EventSource("/api/changes");
        source.onmessage = ({ data }) => {
          const read = change.safeParse(JSON.parse(data as string));
          hear(read.success ? read.data : { what: "anything" });
        };
      }
    };
    follow();
    document.addEventListener("visibilitychange", follow);
    return () => {
      document.removeEventListener("visibilitychange", follow);
      source?.close();
      clearTimeout(timer);
    };
  }, [dispatch]);
}

/** Asks which version the library has of the passage that is open: lists are asked for again by those who show them, it is not. */
export function newestOfOpen() {
  return async (dispatch: Dispatch): Promise<void> => {
    const { data } = await dispatch(api.endpoints.list.initiate("shelf", { forceRefetch: true, subscribe: false }));
    for (const passage of data ?? []) dispatch(heardOf(passage));
  };
}
