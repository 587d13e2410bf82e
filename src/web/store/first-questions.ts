import { api } from "./api.ts";
import type { Dispatch } from "./root.ts";

/**
 * What the first view shows is asked for while it is still being made, and not one after the other: who is here, and on the Shelf what there is.
 * While the library is still opening nobody has asked yet; other trouble is told by the place that has it.
 */
export async function askFirst(dispatch: Dispatch, pathname: string): Promise<void> {
  const { data, error } = await dispatch(api.endpoints.me.initiate(undefined, { subscribe: false }));
  if (error && "status" in error && error.status === 503) dispatch(api.util.resetApiState());
  if (!data) return;
  const isOut = data.login && data.person === null;
  if (isOut || pathname !== "/") return;
  dispatch(api.util.prefetch("list", "shelf", {}));
  dispatch(api.util.prefetch("standings", undefined, {}));
}
