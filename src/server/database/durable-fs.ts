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

/** One connection of one player: a fifth of the memory that PostgreSQL takes unasked, and no compiler. */
const SMALL = ["-c", "shared_buffers=32MB", "-c", "max_connections=5", "-c", "jit=off"];

/** PostgreSQL settings that make a commit wait for the disk. */
export const DURABLE_PARAMS = ["-c", "fsync=on", "-c", "wal_sync_method=fsync", ...SMALL];

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
