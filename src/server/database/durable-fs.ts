import { closeSync, fsyncSync, openSync } from "node:fs";
import { join } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import { NodeFS } from "@electric-sql/pglite/nodefs";

interface NodeStream {
  nfd?: number;
  node: { name: string; parent: NodeStream["node"]; mount: { opts: { root: string } } };
}

interface EmscriptenModule {
  NODEFS: { stream_ops: { fsync?: (stream: NodeStream) => number } };
}

/** PostgreSQL settings that make a commit wait for the disk. */
export const DURABLE_PARAMS = ["-c", "fsync=on", "-c", "wal_sync_method=fsync", "-c", "shared_buffers=32MB", "-c", "max_connections=5", "-c", "jit=off"];

/** A file that was renamed is there after a crash only once its directory has reached the disk too. */
export function syncDirectory(directory: string): void {
  // Windows opens no directories, and writes through.
  if (process.platform === "win32") return;
  const fd = openSync(directory, "r");
  try {
    fsyncSync(fd);
  } finally {
    closeSync(fd);
  }
}

/** The node file system of PGlite with an fsync that reaches the disk; as shipped it has none. */
export class DurableNodeFS extends NodeFS {
  override async init(pg: PGlite, options: Parameters<NodeFS["init"]>[1]) {
    const result = await super.init(pg, options);
    const preRun = result.emscriptenOpts.preRun;
    const hooks = Array.isArray(preRun) ? preRun : preRun ? [preRun] : [];
    hooks.push((module) => {
      (module as unknown as EmscriptenModule).NODEFS.stream_ops.fsync = syncToDisk;
    });
    return { ...result, emscriptenOpts: { ...result.emscriptenOpts, preRun: hooks } };
  }
}

function syncToDisk(stream: NodeStream): number {
  if (stream.nfd !== undefined) {
    fsyncSync(stream.nfd);
    return 0;
  }
  const fd = openSync(realPath(stream.node), "r");
  try {
    fsyncSync(fd);
  } finally {
    closeSync(fd);
  }
  return 0;
}

function realPath(node: NodeStream["node"]): string {
  const parts: string[] = [];
  let at = node;
  while (at.parent !== at) {
    parts.push(at.name);
    at = at.parent;
  }
  return join(at.mount.opts.root, ...parts.reverse());
}
