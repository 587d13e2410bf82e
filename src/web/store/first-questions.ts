import { api } from "./api.ts";
import type { Dispatch } from "./root.ts";

/**
 * What the first view shows is asked for while it is still being made, and not one after the other: who is here, and on the Shelf what there is.
 * Where that has no answer nobody has asked yet, so that trouble is told by the place that needs it.
 */
export async function askFirst(dispatch: Dispatch, pathname: string): Promise<void> {
  const { data } = await dispatch(api.endpoints.me.initiate(undefined, { subscribe: false }));
  if (!data) {
    dispatch(api.util.resetApiState());
    return;
  }
  const isOut = data.login && data.person === null;
  if (isOut || pathname !== "/") return;
  dispatch(api.util.prefetch("list", "shelf", {}));
  dispatch(api.util.prefetch("standings", undefined, {}));
}
