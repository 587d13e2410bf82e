import { Unzip, UnzipInflate, UnzipPassThrough, unzipSync, type Zippable, zipSync } from "fflate";
import { type Bound, beyond, LIMITS } from "../passage/limits.ts";
import type { Parsed } from "../passage/parse.ts";

export interface UnpackOptions {
  /** More bytes than this are refused, by what the archive says of itself and again where it lied. */
  limit: Bound;
  /** Files to unpack; all if left out. */
  wanted?: (name: string) => boolean;
}

/** Bytes of an archive unpacked in one go: what they unpack to is looked at before the next ones. */
const AT_ONCE = 64 * 1024;

/** The wanted files of a zip archive by name, and the names of all. Names are never used as paths. */
export function unpack(bytes: Uint8Array, { limit, wanted = () => true }: UnpackOptions): Parsed<{ files: Map<string, Uint8Array>; names: string[] }> {
  try {
    const sizes = sizesOf(bytes);
    const names = [...sizes.keys()];
    const asked = new Map([...sizes].filter(([name]) => wanted(name)));
    const total = [...asked.values()].reduce((sum, size) => sum + size, 0);
    const refused = beyond("filesInArchive", names.length) ?? beyond(limit, total);
    if (refused !== null) return fault(`it holds ${refused}`);
    return { ok: true, value: { files: unpacked(bytes, asked), names } };
  } catch (error) {
    return fault(`the archive cannot be unpacked: ${(error as Error).message}`);
  }
}

/** What the archive's own list says of every file in it; nothing is unpacked. */
function sizesOf(bytes: Uint8Array): Map<string, number> {
  const sizes = new Map<string, number>();
  unzipSync(bytes, {
    filter: ({ name, originalSize }) => {
      if (sizes.size <= LIMITS.filesInArchive.most) sizes.set(name, originalSize);
      return false;
    },
  });
  return sizes;
}

/** Throws where a file is not as large as the list said, or not there. */
function unpacked(bytes: Uint8Array, sizes: ReadonlyMap<string, number>): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>();
  const unzip = new Unzip((file) => {
    const size = sizes.get(file.name);
    if (size === undefined) return;
    const whole = new Uint8Array(size);
    let filled = 0;
    file.ondata = (error, part, isLast) => {
      if (error) throw error;
      if (filled + part.length > size) throw new Error(`${file.name} is larger than its list of contents says`);
      whole.set(part, filled);
      filled += part.length;
      if (isLast && filled === size) files.set(file.name, whole);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  unzip.register(UnzipPassThrough);
  for (let at = 0; at < bytes.length; at += AT_ONCE) unzip.push(bytes.subarray(at, at + AT_ONCE), at + AT_ONCE >= bytes.length);
  for (const name of sizes.keys()) if (!files.has(name)) throw new Error(`${name} is damaged`);
  return files;
}

/** Packs files; sound, which gets hardly smaller, as it is. The date is fixed: the same content gives the same bytes. */
export function pack(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const packed = Array.from(files, ([name, bytes]) => [name, name.endsWith(".wav") ? [bytes, { level: 0 as const }] : bytes] as const);
  return zipSync(Object.fromEntries(packed) as Zippable, { mtime: new Date(1980, 0, 1, 12) });
}

function fault(says: string): Parsed<never> {
  return { ok: false, faults: [{ place: "file", says }] };
}
