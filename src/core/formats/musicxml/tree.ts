import { XMLParser } from "fast-xml-parser";
import type { Fault, Parsed } from "../../passage/parse.ts";

/** An element of a read XML document. */
export interface Node {
  name: string;
  attributes: Readonly<Record<string, string>>;
  children: readonly Node[];
  text: string;
}

/** More than any score needs; a file beyond it is refused before it is read. */
const DEEPEST = 60;
const MOST_ELEMENTS = 300_000;

/**
 * Reads XML into plain nodes. What could make a small file a large one, or reach outside it, is refused: entities of
 * its own, a depth or a number of elements beyond any score's.
 */
export function parseXml(text: string): Parsed<Node> {
  if (text.trim() === "") return { ok: false, faults: [{ place: "line 1", says: "no XML element in it" }] };
  const refused = refusal(text);
  if (refused) return { ok: false, faults: [refused] };
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: "",
    parseTagValue: false,
    parseAttributeValue: false,
    processEntities: true,
    trimValues: true,
    ignoreDeclaration: true,
    ignorePiTags: true,
  });
  try {
    const [root] = (parser.parse(text, true) as Raw[]).map(nodeOf).filter((node) => node.name !== "#text");
    return root ? { ok: true, value: root } : { ok: false, faults: [{ place: "line 1", says: "no XML element in it" }] };
  } catch (error) {
    return { ok: false, faults: [xmlFault(error as Error)] };
  }
}

type Raw = Record<string, unknown> & { ":@"?: Record<string, string> };

function nodeOf(raw: Raw): Node {
  const name = Object.keys(raw).find((key) => key !== ":@") ?? "#text";
  const content = raw[name];
  if (!Array.isArray(content)) return { name, attributes: {}, children: [], text: String(content ?? "") };
  const all = (content as Raw[]).map(nodeOf);
  const text = all
    .filter((child) => child.name === "#text")
    .map((child) => child.text)
    .join("");
  return { name, attributes: raw[":@"] ?? {}, children: all.filter((child) => child.name !== "#text"), text };
}

function refusal(text: string): Fault | null {
  const entity = /<!ENTITY/i.exec(text);
  if (entity) return { place: lineOf(text, entity.index), says: "it defines entities of its own, which no score needs" };
  let depth = 0;
  let count = 0;
  for (const match of text.matchAll(/<(\/?)[A-Za-z_][^<>]*?(\/?)>/g)) {
    if (match[2] === "/") continue;
    depth += match[1] === "/" ? -1 : 1;
    count++;
    if (depth > DEEPEST) return { place: lineOf(text, match.index), says: `more than ${DEEPEST} elements inside one another` };
    if (count > MOST_ELEMENTS) return { place: lineOf(text, match.index), says: "more elements than any score has" };
  }
  return null;
}

function lineOf(text: string, index: number): string {
  return `line ${text.slice(0, index).split("\n").length}`;
}

/** The parser names line and column in its message. */
function xmlFault(error: Error): Fault {
  const at = /^(.*?)(?: at)? (?:in )?line:?\s*(\d+)/i.exec(error.message) ?? /(.*):(\d+):\d+/.exec(error.message);
  return at ? { place: `line ${at[2]}`, says: `not XML: ${at[1]}` } : { place: "file", says: `not XML: ${error.message}` };
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
