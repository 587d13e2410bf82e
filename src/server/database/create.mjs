// Worker threads do not inherit the loader that runs TypeScript: fetch it, then create the database.
import { workerData } from "node:worker_threads";
import { register } from "tsx/esm/api";

register();
const { openPlace } = await import("./open.ts");
const client = await openPlace(workerData);
await client.close();
