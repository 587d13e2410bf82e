import type { z } from "zod";
import { PASSAGE_FORMAT, PASSAGE_VERSION, type Passage, passageSchema } from "./schema.ts";
import { upgraded } from "./upgrade.ts";

/** One fault in an input: where it is (line, JSON path, element) and what is wrong. */
export interface Fault {
  place: string;
  says: string;
}

export type Parsed<T> = { ok: true; value: T } | { ok: false; faults: Fault[] };

/** Reads the text of a passage document. Every fault carries its line or JSON path. */
export function parsePassageText(text: string): Parsed<Passage> {
  let raw: unknown;
  try {
    raw = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return { ok: false, faults: [jsonFault(text, error as Error)] };
  }
  return parsePassage(raw);
}

/** Checks a value against the passage schema, after upgrading older versions. */
export function parsePassage(raw: unknown): Parsed<Passage> {
  if (typeof raw !== "object" || raw === null || Array.isArray(raw))
    return { ok: false, faults: [{ place: "/", says: "not a passage document: it must be an object" }] };
  const { format, version } = raw as Record<string, unknown>;
  if (format !== PASSAGE_FORMAT) return { ok: false, faults: [{ place: "/format", says: `must be "${PASSAGE_FORMAT}"` }] };
  if (typeof version === "number" && version > PASSAGE_VERSION)
    return {
      ok: false,
      faults: [{ place: "/version", says: `version ${version} is newer than this program reads (${PASSAGE_VERSION})` }],
    };
  const unreadable = unreadableKey(raw, "");
  if (unreadable !== null) return { ok: false, faults: [{ place: unreadable, says: "no key can be called so" }] };
  const result = passageSchema.safeParse(upgraded(raw as Record<string, unknown>));
  if (result.success) return { ok: true, value: result.data };
  return { ok: false, faults: result.error.issues.flatMap(faultsOf) };
}

/** Where a key stands that a plain object cannot hold as its own, so that it would be lost without a word; null where none does. */
function unreadableKey(value: unknown, place: string): string | null {
  if (typeof value !== "object" || value === null) return null;
  if (Object.hasOwn(value, "__proto__")) return `${place}/__proto__`;
  for (const [key, inner] of Object.entries(value)) {
    if (typeof inner !== "object" || inner === null) continue;
    const found = unreadableKey(inner, `${place}/${key.replaceAll("~", "~0").replaceAll("/", "~1")}`);
    if (found !== null) return found;
  }
  return null;
}

/** JSON pointer (RFC 6901) of a path. */
export function pointer(path: readonly PropertyKey[]): string {
  return `/${path.map((key) => String(key).replaceAll("~", "~0").replaceAll("/", "~1")).join("/")}`;
}

/** Zod's issues as faults a person can act on. */
export function faultsOf(issue: z.core.$ZodIssue): Fault[] {
  if (issue.code === "unrecognized_keys") return issue.keys.map((key) => ({ place: pointer([...issue.path, key]), says: "unknown key" }));
  return [{ place: pointer(issue.path), says: issue.message.replace(/^Invalid input: /, "") }];
}

function jsonFault(text: string, error: Error): Fault {
  const position = /position (\d+)/.exec(error.message);
  const before = text.slice(0, position ? Number(position[1]) : text.length);
  const lines = before.split("\n");
  const place = `line ${lines.length}, column ${(lines.at(-1) as string).length + 1}`;
  return { place, says: position ? "this is not JSON from here on" : "the JSON ends too early" };
}
