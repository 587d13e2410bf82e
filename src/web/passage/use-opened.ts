import { useEffect } from "react";
import { useDispatch } from "react-redux";
import { usePassageQuery } from "../store/api.ts";
import { keptDraft } from "../store/drafts.ts";
import { sendingOf } from "../store/drafts-outbox.ts";
import { closed, opened } from "../store/edit-slice.ts";
import { openingOf } from "../store/opening.ts";
import type { Dispatch } from "../store/root.ts";

/** Opens a passage from the library, or from what the browser kept when that is newer or the server is away. */
export function useOpened(id: string) {
  const { data, error, isFetching, refetch } = usePassageQuery(id, { refetchOnMountOrArgChange: true });
  const dispatch = useDispatch<Dispatch>();
  const status = (error as { status?: unknown } | undefined)?.status;

  useEffect(() => {
    if (isFetching || (!data && !error)) return;
    // What was left of it is on its way to the library: with that it has another version.
    const sending = sendingOf(id);
    if (sending) return void sending.then(refetch);
    const opening = openingOf(id, data ? { kind: "there", stored: data } : { kind: status === 404 ? "gone" : "away" }, keptDraft(id));
    if (opening) dispatch(opened(opening));
  }, [id, data, error, status, isFetching, dispatch, refetch]);

  useEffect(() => () => void dispatch(closed()), [dispatch]);

  return { error, isFetching, refetch };
}
