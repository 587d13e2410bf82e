import { unzipSync, zipSync } from "fflate";
import type { Parsed } from "../passage/parse.ts";

export interface UnpackOptions {
  /** More than this many bytes is refused before anything is unpacked. */
  most: number;
  /** What such an archive holds, for the refusal: "no score does". */
  says: string;
  /** Files to unpack; all if left out. */
  wanted?: (name: string) => boolean;
}

/** The wanted files of a zip archive by name, and the names of all. Names are never used as paths. */
export function unpack(bytes: Uint8Array, { most, says, wanted = () => true }: UnpackOptions): Parsed<{ files: Map<string, Uint8Array>; names: string[] }> {
  let total = 0;
  const names: string[] = [];
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        names.push(name);
        return total <= most && wanted(name);
      },
    });
    if (total > most) return fault(`it unpacks to more than ${most / 1_000_000} MB, which ${says}`);
    return { ok: true, value: { files: new Map(Object.entries(files)), names } };
  } catch (error) {
    return fault(`the archive cannot be unpacked: ${(error as Error).message}`);
  }
}

/** Packs files. The date is fixed: the same content gives the same bytes. */
export function pack(files: ReadonlyMap<string, Uint8Array>): Uint8Array {
  return zipSync(Object.fromEntries(files), { mtime: new Date(1980, 0, 1, 12) });
}

function fault(says: string): Parsed<never> {
  return { ok: false, faults: [{ place: "file", says }] };
}
