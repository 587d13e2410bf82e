import { strFromU8, strToU8 } from "fflate";
import { LIMITS } from "../../passage/limits.ts";
import type { Parsed } from "../../passage/parse.ts";
import { pack, unpack } from "../zip.ts";
import { all, child, parseXml } from "./tree.ts";

const CONTAINER = "META-INF/container.xml";

/** The score in a compressed MusicXML file (.mxl). A file that would unpack to more than any score is refused before it does. */
export function unpackScore(bytes: Uint8Array): Parsed<string> {
  const listed = unpack(bytes, { limit: LIMITS.score, wanted: (name) => name === CONTAINER });
  if (!listed.ok) return listed;
  const { files, names } = listed.value;
  const path = rootOf(files.get(CONTAINER)) ?? names.find((name) => isScore(name) && !name.startsWith("META-INF/"));
  const unpacked = unpack(bytes, { limit: LIMITS.score, wanted: (name) => name === path });
  if (!unpacked.ok) return unpacked;
  const score = path === undefined ? undefined : unpacked.value.files.get(path);
  if (score) return { ok: true, value: strFromU8(score) };
  const says = names.includes("library.json") ? "this is the backup of a library: bring it back under Backup" : "there is no score in the archive";
  return { ok: false, faults: [{ place: "file", says }] };
}

function isScore(name: string): boolean {
  return /\.(musicxml|xml)$/i.test(name);
}

function rootOf(container: Uint8Array | undefined): string | undefined {
  const read = container && parseXml(strFromU8(container));
  if (!read?.ok) return undefined;
  return all(child(read.value, "rootfiles"), "rootfile").map((file) => file.attributes["full-path"])[0];
}

/** A score packed as .mxl, with the container that names it. */
export function packScore(text: string): Uint8Array {
  const container = `<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles><rootfile full-path="score.musicxml" media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n`;
  return pack(
    new Map([
      [CONTAINER, strToU8(container)],
      ["score.musicxml", strToU8(text)],
    ]),
  );
}
