import { useDispatch, useSelector } from "react-redux";
import { api, troubleOf, useGiftsQuery, useLeaveOfferMutation, useMeQuery, useTakeOfferMutation } from "../store/api.ts";
import { notify } from "../store/notices-slice.ts";
import type { Dispatch, RootState } from "../store/root.ts";

/** A teacher has a newer version of a passage that they gave: the student takes it when they want, or leaves it. */
export function GiftBanner({ id }: { id: string }) {
  const { data: me } = useMeQuery();
  const { data: gifts } = useGiftsQuery(undefined, { skip: !me?.person });
  const isSaved = useSelector(({ edit }: RootState) => edit.save === "saved");
  const [take, taking] = useTakeOfferMutation();
  const [leave, leaving] = useLeaveOfferMutation();
  const dispatch = useDispatch<Dispatch>();
  const gift = gifts?.find(({ passage, isOffered }) => passage === id && isOffered);
  if (!gift) return null;
  const takeIt = async () => {
    const { data, error } = await take(gift.id);
    if (!data) return void dispatch(notify({ says: troubleOf(error).title }));
    await dispatch(api.endpoints.passage.initiate(id, { forceRefetch: true, subscribe: false }));
    dispatch(notify({ says: data.kept ? `This is ${gift.by}'s version now. Yours is beside it on the Shelf.` : `This is ${gift.by}'s version now.` }));
  };
  return (
    <div role="status" className="flex flex-wrap items-center gap-3 border-b border-base-300 bg-base-200 px-5 py-2">
      <p className="mr-auto">
        <b>{gift.by} has a newer version of this passage.</b> What you changed in yours is kept beside it.
      </p>
      <button type="button" className="btn btn-sm btn-primary" disabled={!isSaved || taking.isLoading} onClick={() => void takeIt()}>
        Take the newer one
      </button>
      <button type="button" className="btn btn-sm" disabled={leaving.isLoading} onClick={() => void leave(gift.id)}>
        Leave mine as it is
      </button>
    </div>
  );
}
