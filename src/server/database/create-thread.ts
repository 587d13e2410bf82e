import { workerData } from "node:worker_threads";
import { openPlace } from "./open.ts";

/* A database is created in a thread of its own; `workerData` is its place. */

const client = await openPlace(workerData as string);
await client.close();
