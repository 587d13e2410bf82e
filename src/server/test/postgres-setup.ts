import type { TestProject } from "vitest/node";
import { startCluster } from "./postgres-cluster.ts";

declare module "vitest" {
  interface ProvidedContext {
    /** URL of a PostgreSQL cluster; null for tests on the embedded database. */
    cluster: string | null;
  }
}

/** One PostgreSQL server for all tests that run on it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const cluster = await startCluster();
  project.provide("cluster", cluster.url);
  return cluster.remove;
}
