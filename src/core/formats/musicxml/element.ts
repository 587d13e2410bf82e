/** One element as the builder takes it: name with content, attributes beside. */
export type Element = { [name: string]: unknown };

export const el = (name: string, content: (Element | null)[] | string | number, attributes: Record<string, string | number> = {}): Element => ({
  [name]: Array.isArray(content) ? content.filter((e) => e !== null) : [{ "#text": String(content) }],
  ":@": Object.fromEntries(Object.entries(attributes).map(([key, value]) => [`@_${key}`, String(value)])),
});
