import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import type { Parsed } from "../../passage/parse.ts";
import { all, child, parseXml } from "./tree.ts";

/** More than any score unpacks to. */
const MOST_UNPACKED = 30_000_000;
const CONTAINER = "META-INF/container.xml";

/** The score in a compressed MusicXML file (.mxl). A file that would unpack to more than any score is refused before it does. */
export function unpackScore(bytes: Uint8Array): Parsed<string> {
  let total = 0;
  let names: string[] = [];
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        names = [...names, name];
        return total <= MOST_UNPACKED && (name === CONTAINER || /\.(musicxml|xml)$/i.test(name));
      },
    });
    if (total > MOST_UNPACKED) return fault(`it unpacks to more than ${MOST_UNPACKED / 1_000_000} MB, which no score does`);
    const path = rootOf(files[CONTAINER]) ?? names.find((name) => /\.(musicxml|xml)$/i.test(name) && !name.startsWith("META-INF/"));
    const score = path === undefined ? undefined : files[path];
    return score ? { ok: true, value: strFromU8(score) } : fault("there is no score in the archive");
  } catch (error) {
    return fault(`the archive cannot be unpacked: ${(error as Error).message}`);
  }
}

function rootOf(container: Uint8Array | undefined): string | undefined {
  const read = container && parseXml(strFromU8(container));
  if (!read?.ok) return undefined;
  return all(child(read.value, "rootfiles"), "rootfile").map((file) => file.attributes["full-path"])[0];
}

function fault(says: string): Parsed<never> {
  return { ok: false, faults: [{ place: "file", says }] };
}

/** A score packed as .mxl, with the container that names it. */
export function packScore(text: string): Uint8Array {
  const container = `<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles><rootfile full-path="score.musicxml" media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n`;
  // The date is fixed: the same music gives the same bytes.
  return zipSync({ [CONTAINER]: strToU8(container), "score.musicxml": strToU8(text) }, { mtime: new Date(1980, 0, 1, 12) });
}
