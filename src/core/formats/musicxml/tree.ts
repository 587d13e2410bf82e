import { SaxesParser } from "saxes";
import { beyond, type Limit } from "../../passage/limits.ts";
import type { Fault, Parsed } from "../../passage/parse.ts";

/** An element of a read XML document. */
export interface Node {
  name: string;
  attributes: Readonly<Record<string, string>>;
  children: readonly Node[];
  /** Its own text, without blanks around it. */
  text: string;
}

interface OpenNode extends Node {
  children: OpenNode[];
}

/** Stops the parser where it stands. */
class Refused extends Error {
  constructor(readonly fault: Fault) {
    super(fault.says);
  }
}

/**
 * Reads XML into plain nodes, in one pass. What could make a small file a large one, or reach outside it, is refused where it
 * stands: entities of its own, a depth or a number of elements or attributes beyond any score's.
 */
export function parseXml(text: string): Parsed<Node> {
  if (text.trim() === "") return { ok: false, faults: [{ place: "line 1", says: "no XML element in it" }] };
  const declarations = beyond("declarations", countOf(text, "<?") + countOf(text, "<!DOCTYPE"));
  if (declarations !== null) return { ok: false, faults: [{ place: "file", says: declarations }] };
  const parser = new SaxesParser<{ position: true; xmlns: false }>({ position: true, xmlns: false });
  const refuse = (says: string): never => {
    throw new Refused({ place: `line ${parser.line}`, says });
  };
  const within = (limit: Limit, count: number) => {
    const says = beyond(limit, count);
    if (says !== null) refuse(says);
  };
  const open: OpenNode[] = [];
  let root: Node | null = null;
  let elements = 0;
  let attributes = 0;
  parser.on("error", (error) => refuse(`not XML: ${error.message.replace(/^\d+:\d+: /, "").replace(/\.$/, "")}`));
  parser.on("doctype", (declared) => {
    if (/<!ENTITY/i.test(declared)) refuse("it defines entities of its own, which no score needs");
  });
  parser.on("opentagstart", () => {
    attributes = 0;
    within("elements", ++elements);
    within("elementDepth", open.length + 1);
  });
  parser.on("attribute", () => within("attributes", ++attributes));
  parser.on("opentag", (tag) => {
    const node: OpenNode = { name: tag.name, attributes: tag.attributes, children: [], text: "" };
    open.at(-1)?.children.push(node);
    root ??= node;
    open.push(node);
  });
  const write = (part: string) => {
    const node = open.at(-1);
    if (node) node.text += part;
  };
  parser.on("text", write);
  parser.on("cdata", write);
  parser.on("closetag", () => {
    const node = open.pop()!;
    node.text = node.text.trim();
  });
  try {
    parser.write(text).close();
  } catch (error) {
    if (error instanceof Refused) return { ok: false, faults: [error.fault] };
    throw error;
  }
  return root ? { ok: true, value: root } : { ok: false, faults: [{ place: "line 1", says: "no XML element in it" }] };
}

function countOf(text: string, part: string): number {
  let count = 0;
  for (let at = text.indexOf(part); at !== -1; at = text.indexOf(part, at + part.length)) count++;
  return count;
}

export function child(node: Node | undefined, name: string): Node | undefined {
  return node?.children.find((c) => c.name === name);
}

export function all(node: Node | undefined, name: string): Node[] {
  return node?.children.filter((c) => c.name === name) ?? [];
}

/** The text of a path of children. */
export function textAt(node: Node | undefined, ...path: string[]): string | undefined {
  let here = node;
  for (const name of path) here = child(here, name);
  return here?.text;
}

export function numberAt(node: Node | undefined, ...path: string[]): number | undefined {
  const text = textAt(node, ...path);
  const value = text === undefined || text === "" ? Number.NaN : Number(text);
  return Number.isFinite(value) ? value : undefined;
}
