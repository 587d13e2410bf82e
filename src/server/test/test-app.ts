import { pino } from "pino";
import { createApp } from "../app.ts";
import { Care } from "../care.ts";
import { LOCAL_PERSON, type OpenDatabase } from "../database/database.ts";
import { OWN_MACHINE } from "../people/access.ts";
import { servicesOf } from "../services.ts";
import type { WorkPool } from "../work/pool.ts";

export const HOST = "127.0.0.1:4310";

/** The web application of a player on a machine of their own, over a database. */
export function testApp(database: OpenDatabase, pool: WorkPool, directory = "/nowhere") {
  const care = new Care(database.client, pool);
  const services = servicesOf(database, care, pool, { directory, secondBackups: null }, LOCAL_PERSON);
  const app = createApp({ log: pino({ level: "silent" }), hosts: () => [HOST, "localhost:4310"], page: null, pool });
  app.serve({ care, servicesOf: () => services, access: OWN_MACHINE });
  return { app, care, ...services };
}
