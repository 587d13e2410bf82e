import stringify from "safe-stable-stringify";

/** JSON with sorted keys: equal values have equal text. */
export function canonical(value: unknown): string {
  return stringify(value)!;
}
