import { isFulfilled, isRejected, type Middleware } from "@reduxjs/toolkit";
import { api, TAGS } from "./api.ts";
import type { Dispatch, RootState } from "./root.ts";

/*
 * An answer that was on its way while something was changed may be from before the change, and what is on its way already is not
 * asked for a second time: so it is asked for again once it is there.
 */
export const askAgain: Middleware<object, RootState, Dispatch> = ({ getState, dispatch }) => {
  const onTheirWay = new Set<string>();
  return (next) => (action) => {
    const notePending = () => {
      for (const [key, entry] of Object.entries(getState().api.queries)) if (entry?.status === "pending") onTheirWay.add(key);
    };
    // Something was changed elsewhere: what is asked for because of it has not begun yet.
    if (api.util.invalidateTags.match(action)) notePending();
    const result = next(action);
    if (api.internalActions.resetApiState.match(action)) onTheirWay.clear();
    if (!isEnd(action)) return result;
    const { arg } = action.meta;
    if (arg.type === "mutation") notePending();
    else if (!hasNotBegun(action) && onTheirWay.delete(arg.queryCacheKey)) {
      const canChange = api.util.selectInvalidatedBy(getState(), TAGS).some(({ queryCacheKey }) => queryCacheKey === arg.queryCacheKey);
      const { initiate } = api.endpoints[arg.endpointName as "sessions"];
      if (canChange) void dispatch(initiate(arg.originalArgs as object, { subscribe: false, forceRefetch: true }));
    }
    return result;
  };
};

interface End {
  meta: { arg: { type: "mutation" } | { type: "query"; queryCacheKey: string; endpointName: string; originalArgs: unknown }; condition?: boolean };
}

function isEnd(action: unknown): action is End {
  if (!isFulfilled(action) && !isRejected(action)) return false;
  const { arg } = action.meta as { arg?: { type?: string } };
  return arg?.type === "mutation" || arg?.type === "query";
}

/** Refused before it was sent: what is on its way is still. */
const hasNotBegun = ({ meta }: End) => meta.condition === true;
