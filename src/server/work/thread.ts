import { setPriority } from "node:os";

/* What a thread of the pool begins with. */

// On Linux that is of this thread alone: the server answers first. Not much lower, since a browser beside it works too.
if (process.platform === "linux") setPriority(3);
const { run } = await import("./tasks.ts");
export default run;
