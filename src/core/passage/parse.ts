import type { z } from "zod";
import { beyond, refusedBeyond } from "./limits.ts";
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
  const refused = refusedBeyond("document", text.length);
  if (refused) return refused;
  const unfit = unfitText(text);
  if (unfit) return { ok: false, faults: [unfit] };
  let raw: unknown;
  try {
    raw = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return { ok: false, faults: [jsonFault(text, error as Error)] };
  }
  return parsePassage(raw);
}

const [QUOTE, BACKSLASH, OPEN_BRACE, CLOSE_BRACE, OPEN_BRACKET, CLOSE_BRACKET] = Array.from('"\\{}[]', (sign) => sign.charCodeAt(0));

/** More objects and lists, or deeper ones, than any passage has: seen in the text, before anything is made of it. */
function unfitText(text: string): Fault | null {
  let isString = false;
  let parts = 0;
  let depth = 0;
  for (let at = 0; at < text.length; at++) {
    const sign = text.charCodeAt(at);
    if (isString) {
      if (sign === BACKSLASH) at++;
      else if (sign === QUOTE) isString = false;
    } else if (sign === QUOTE) isString = true;
    else if (sign === OPEN_BRACE || sign === OPEN_BRACKET) {
      const says = beyond("parts", ++parts) ?? beyond("depth", depth++);
      if (says !== null) return { place: placeIn(text, at), says };
    } else if (sign === CLOSE_BRACE || sign === CLOSE_BRACKET) depth--;
  }
  return null;
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
  const unfit = unfitIn(raw);
  if (unfit) return { ok: false, faults: [unfit] };
  const result = passageSchema.safeParse(upgraded(raw as Record<string, unknown>));
  if (result.success) return { ok: true, value: result.data };
  return { ok: false, faults: result.error.issues.slice(0, MOST_FAULTS).flatMap(faultsOf) };
}

/**
 * What the schema is not asked about: more than any passage holds, which is refused before it costs any work, and a key that a
 * plain object cannot hold as its own, so that it would be lost without a word. Null where there is neither.
 */
function unfitIn(raw: object): Fault | null {
  const { bars } = raw as { bars?: unknown };
  let strokes = 0;
  for (const bar of Array.isArray(bars) ? (bars as unknown[]) : []) {
    const own = (bar as { strokes?: unknown } | null)?.strokes;
    if (Array.isArray(own)) strokes += own.length;
  }
  const tooMany = beyond("bars", Array.isArray(bars) ? bars.length : 0) ?? beyond("strokes", strokes);
  if (tooMany !== null) return { place: "/bars", says: tooMany };
  let parts = 0;
  const open: Part[] = [{ value: raw as Part["value"], key: "", within: null, depth: 0 }];
  for (let here = open.pop(); here; here = open.pop()) {
    const { value, depth } = here;
    const says = beyond("parts", ++parts) ?? beyond("depth", depth);
    if (says !== null) return { place: pointer(pathOf(here).slice(0, 4)), says };
    if (Object.hasOwn(value, "__proto__")) return { place: pointer([...pathOf(here), "__proto__"]), says: "no key can be called so" };
    const keys = Object.keys(value);
    const many = Array.isArray(value) ? null : beyond("keys", keys.length);
    if (many !== null) return { place: pointer(pathOf(here)), says: many };
    for (const key of keys) {
      const inner = value[key];
      if (typeof inner === "object" && inner !== null) open.push({ value: inner as Part["value"], key, within: here, depth: depth + 1 });
    }
  }
  return null;
}

/** An object or list of an input, and in which other it stands. */
interface Part {
  value: Readonly<Record<string, unknown>>;
  key: string;
  within: Part | null;
  depth: number;
}

function pathOf({ key, within }: Part): string[] {
  return within === null ? [] : [...pathOf(within), key];
}

/** JSON pointer (RFC 6901) of a path. */
export function pointer(path: readonly PropertyKey[]): string {
  return `/${path.map((key) => String(key).replaceAll("~", "~0").replaceAll("/", "~1")).join("/")}`;
}

/** Nobody reads more of them. */
const MOST_FAULTS = 100;
const MOST_KEYS_NAMED = 20;

/** Zod's issues as faults a person can act on. */
export function faultsOf(issue: z.core.$ZodIssue): Fault[] {
  if (issue.code === "unrecognized_keys")
    return issue.keys.slice(0, MOST_KEYS_NAMED).map((key) => ({ place: pointer([...issue.path, key]), says: "unknown key" }));
  return [{ place: pointer(issue.path), says: issue.message.replace(/^Invalid input: /, "") }];
}

function placeIn(text: string, at: number): string {
  const lines = text.slice(0, at).split("\n");
  return `line ${lines.length}, column ${(lines.at(-1) as string).length + 1}`;
}

function jsonFault(text: string, error: Error): Fault {
  const position = /position (\d+)/.exec(error.message);
  const place = placeIn(text, position ? Number(position[1]) : text.length);
  return { place, says: position ? "this is not JSON from here on" : "the JSON ends too early" };
}
