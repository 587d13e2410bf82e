// Worker threads do not inherit the loader that runs TypeScript: fetch it, then the thread's own code. The built server has no need of this.
import { register } from "tsx/esm/api";

register();
await import("./create-thread.ts");
