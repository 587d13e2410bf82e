import { useDispatch, useSelector } from "react-redux";
import { useNavigate } from "react-router";
import { api, troubleOf, useCreateMutation } from "../store/api.ts";
import { dropDraft } from "../store/drafts.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";

/** Another place saved this passage meanwhile: nothing is overwritten, the player decides. */
export function StaleBanner() {
  const state = useSelector(({ edit }: RootState) => (edit.save === "stale" ? "stale" : edit.save === "saved" && edit.newest > edit.version ? "newer" : null));
  return state === "stale" ? <Choice /> : state === "newer" ? <Newer /> : null;
}

/** It was changed elsewhere and nothing was here: the newer one comes when the player wants it, never in the middle of something. */
function Newer() {
  const id = useSelector(({ edit }: RootState) => edit.id);
  const dispatch = useDispatch<Dispatch>();
  if (!id) return null;
  return (
    <div role="status" className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-5 py-2">
      <p className="mr-auto font-semibold">This passage was changed elsewhere.</p>
      <button
        type="button"
        className="btn btn-sm btn-primary"
        onClick={() => void dispatch(api.endpoints.passage.initiate(id, { forceRefetch: true, subscribe: false }))}
      >
        Show it as it is now
      </button>
    </div>
  );
}

function Choice() {
  const { id, passage } = useSelector((root: RootState) => root.edit);
  const [create, { isLoading }] = useCreateMutation();
  const dispatch = useDispatch<Dispatch>();
  const navigate = useNavigate();
  if (!id || !passage) return null;
  const keep = async () => {
    const made = await create({ ...passage, title: `${passage.title} (my copy)` });
    if (!made.data) {
      dispatch(notify({ says: troubleOf(made.error).title }));
      return;
    }
    dropDraft(id);
    navigate(`/bench/${made.data.id}`);
  };
  const take = () => {
    dropDraft(id);
    navigate(0);
  };
  return (
    <div role="alert" className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-5 py-2">
      <p className="mr-auto font-semibold">
        This passage was changed or removed elsewhere since you opened it. Your work is kept here and nothing was overwritten.
      </p>
      <button type="button" className="btn btn-sm btn-primary" disabled={isLoading} onClick={() => void keep()}>
        Keep mine as a copy
      </button>
      <button type="button" className="btn btn-sm" onClick={take}>
        Take the saved one
      </button>
    </div>
  );
}
