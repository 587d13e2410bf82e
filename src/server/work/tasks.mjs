// Worker threads do not inherit the loader that runs TypeScript: fetch it, then the tasks.
import { constants, setPriority } from "node:os";
import { register } from "tsx/esm/api";

register();
// On Linux that is of this thread alone: the server answers first.
if (process.platform === "linux") setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
const tasks = await import("./tasks.ts");
export default tasks.default;
