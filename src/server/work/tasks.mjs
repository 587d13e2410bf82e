// Worker threads do not inherit the loader that runs TypeScript: fetch it, then the tasks.
import { setPriority } from "node:os";
import { register } from "tsx/esm/api";

register();
// On Linux that is of this thread alone: the server answers first. Not much lower, since a browser beside it works too.
if (process.platform === "linux") setPriority(3);
const tasks = await import("./tasks.ts");
export default tasks.default;
