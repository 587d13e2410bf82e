/*
 * Whose the things are that this browser keeps: several people may sign in here, one after the other. On a machine of one's own
 * there is nobody to tell apart.
 */

const START = "rest-hand:";
const LAST = `${START}person`;

/** Null until it is known: then whoever was here last. */
let known: string | null = null;
const ownerNow = () => (known ??= localStorage.getItem(LAST) ?? "");

/** Says who is here now: a person's id, or none where nobody has to sign in. */
export function setOwner(person: string | null): void {
  if (ownerNow() !== (person ?? "")) void forgetAnswers();
  known = person ?? "";
  if (person === null) localStorage.removeItem(LAST);
  else localStorage.setItem(LAST, person);
}

/** Where something is kept that is one's own. */
export function ownKey(rest: string): string {
  const owner = ownerNow();
  return owner === "" ? START + rest : `${START}${owner}:${rest}`;
}

/** Removes what this browser keeps of whoever is here. */
export function forgetHere(): void {
  const owner = ownerNow();
  const own = `${START}${owner}:`;
  if (owner !== "") for (const key of Object.keys(localStorage)) if (key.startsWith(own)) localStorage.removeItem(key);
  localStorage.removeItem(LAST);
  known = "";
  void forgetAnswers();
}

/** The last answers of the server, which the page's service worker keeps. */
async function forgetAnswers(): Promise<void> {
  await globalThis.caches?.delete("rest-hand-answers");
}
