// Worker threads do not inherit the loader that runs TypeScript: fetch it, then the worker.
import { register } from "tsx/esm/api";

register();
await import("./reader-worker.ts");
