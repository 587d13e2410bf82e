import { Worker } from "node:worker_threads";
import type { AbsurdFormat } from "./absurd-files.ts";
import type { AbsurdRead, Asked, HostileRead } from "./reader-worker.ts";

/** Reads files in a thread of its own with a bounded heap; a thread that needs more ends, and is reported as such. */
export class Readers {
  private worker: Worker | null = null;

  constructor(private readonly heapMb: number) {}

  hostile(index: number, size: number): Promise<HostileRead> {
    return this.ask<HostileRead>({ kind: "hostile", index, size });
  }

  absurd(format: AbsurdFormat, from: number, count: number): Promise<AbsurdRead> {
    return this.ask<AbsurdRead>({ kind: "absurd", format, from, count });
  }

  async close(): Promise<void> {
    await this.worker?.terminate();
  }

  private ask<T>(asked: Asked): Promise<T> {
    this.worker ??= new Worker(new URL("./reader-worker.mjs", import.meta.url), { resourceLimits: { maxOldGenerationSizeMb: this.heapMb } });
    const { worker } = this;
    return new Promise((resolve, reject) => {
      const failed = (error: Error) => {
        this.worker = null;
        reject(error);
      };
      worker.once("error", failed);
      worker.once("message", (answer: T) => {
        worker.off("error", failed);
        resolve(answer);
      });
      worker.postMessage(asked);
    });
  }
}
