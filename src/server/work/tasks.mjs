// Worker threads do not inherit the loader that runs TypeScript: fetch it, then the tasks.
import { register } from "tsx/esm/api";

register();
const tasks = await import("./tasks.ts");
export default tasks.default;
