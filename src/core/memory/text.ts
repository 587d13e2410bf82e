/**
 * Plain data as text: all its values in order, without the names of fields. Values of one type have equal texts exactly when
 * they are equal, as long as their fields are always written in the same order and none is left out.
 */
export function textOf(value: unknown): string {
  if (typeof value === "string") return `${value};`;
  if (typeof value !== "object" || value === null) return `${value},`;
  let text = "[";
  if (Array.isArray(value)) for (let i = 0; i < value.length; i++) text += textOf(value[i]);
  else for (const key in value) text += textOf((value as Record<string, unknown>)[key]);
  return `${text}]`;
}
