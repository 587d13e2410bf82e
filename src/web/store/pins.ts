import { useSyncExternalStore } from "react";
import type { ListedPassage } from "../../api/wire.ts";
import { api } from "./api.ts";
import type { Dispatch } from "./root.ts";
import { ownKey } from "./whose.ts";

/*
 * Passages that are kept in this browser for when the server is away, opened or not. Their answers lie where those of opened ones lie,
 * with the page's service worker; here it is written which ones, and as which version they were fetched.
 */

type Pins = Readonly<Record<string, number>>;

const NONE: Pins = {};
const key = () => ownKey("pins");
const listeners = new Set<() => void>();
let read: { text: string | null; pins: Pins } = { text: null, pins: NONE };

/** Whether this browser keeps anything for when the server is away: on safe addresses alone. */
export function canPin(): boolean {
  return Boolean(globalThis.navigator?.serviceWorker?.controller);
}

/** Version by id. */
export function pins(): Pins {
  const text = localStorage.getItem(key());
  if (text !== read.text) read = { text, pins: parsed(text) };
  return read.pins;
}

function parsed(text: string | null): Pins {
  try {
    return (JSON.parse(text ?? "{}") as Pins | null) ?? NONE;
  } catch {
    return NONE;
  }
}

function write(now: Pins): void {
  localStorage.setItem(key(), JSON.stringify(now));
  for (const listener of listeners) listener();
}

export function usePins(): Pins {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    addEventListener("storage", listener);
    return () => {
      listeners.delete(listener);
      removeEventListener("storage", listener);
    };
  }, pins);
}

export function unpin(ids: readonly string[]): void {
  write(Object.fromEntries(Object.entries(pins()).filter(([id]) => !ids.includes(id))));
}

/** Fetches passages so that they are there without the server, one after the other; says how many could not be fetched. */
export function pin(passages: readonly Pick<ListedPassage, "id" | "version">[]) {
  return async (dispatch: Dispatch): Promise<number> => {
    let failed = 0;
    for (const { id, version } of passages) {
      const { data } = await dispatch(api.endpoints.ahead.initiate(id, { forceRefetch: true, subscribe: false }));
      if (data) write({ ...pins(), [id]: version });
      else failed++;
    }
    return failed;
  };
}

/** Fetches anew what has changed of what is kept; what is no more on the Shelf is kept no longer. */
export function freshen(shelf: readonly Pick<ListedPassage, "id" | "version">[]) {
  return async (dispatch: Dispatch): Promise<void> => {
    const kept = pins();
    const gone = Object.keys(kept).filter((id) => !shelf.some((one) => one.id === id));
    if (gone.length > 0) unpin(gone);
    await dispatch(pin(shelf.filter(({ id, version }) => kept[id] !== undefined && kept[id] !== version)));
  };
}
