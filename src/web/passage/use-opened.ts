import equal from "fast-deep-equal";
import { useEffect } from "react";
import { useDispatch } from "react-redux";
import { usePassageQuery } from "../store/api.ts";
import { keptDraft } from "../store/drafts.ts";
import { closed, opened } from "../store/edit-slice.ts";
import type { Dispatch } from "../store/root.ts";

const START = { bar: 0, tick: 0, string: 1 };

/** Opens a passage from the library, or from what the browser kept when that is newer or the server is away. */
export function useOpened(id: string) {
  const { data, error, isFetching, refetch } = usePassageQuery(id, { refetchOnMountOrArgChange: true });
  const dispatch = useDispatch<Dispatch>();
  const status = (error as { status?: unknown } | undefined)?.status;

  useEffect(() => {
    if (isFetching || (!data && !error)) return;
    const draft = keptDraft(id);
    if (data) {
      const newer = draft?.unsaved && !equal(draft.passage, data.passage) ? draft : null;
      if (newer)
        dispatch(
          opened({
            id,
            passage: newer.passage,
            version: newer.version,
            past: newer.past,
            future: newer.future,
            cursor: newer.cursor,
            save: newer.version === data.version ? "unsaved" : "stale",
          }),
        );
      else {
        const same = draft && draft.version === data.version ? draft : null;
        dispatch(
          opened({
            id,
            passage: data.passage,
            version: data.version,
            past: same?.past ?? [],
            future: same?.future ?? [],
            cursor: same?.cursor ?? START,
            save: "saved",
          }),
        );
      }
    } else if (draft && status !== 404) dispatch(opened({ id, ...draft, save: draft.unsaved ? "unsaved" : "saved" }));
  }, [id, data, error, status, isFetching, dispatch]);

  useEffect(() => () => void dispatch(closed()), [dispatch]);

  return { error, isFetching, refetch };
}
