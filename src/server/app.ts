import { existsSync } from "node:fs";
import { join } from "node:path";
import express, { type Express, type RequestHandler, Router } from "express";
import type { Logger } from "pino";
import { pinoHttp } from "pino-http";
import { health } from "../api/wire.ts";
import type { Care } from "./care.ts";
import { guard, securityHeaders } from "./guard.ts";
import type { Access } from "./people/access.ts";
import { problemHandler, sendProblem } from "./problems.ts";
import { reply } from "./reply.ts";
import { backupRoutes } from "./routes/backups.ts";
import { changeRoutes } from "./routes/changes.ts";
import { passageRoutes } from "./routes/passages.ts";
import { practiceRoutes } from "./routes/practice.ts";
import { recordingRoutes } from "./routes/recordings.ts";
import { setupRoutes } from "./routes/setup.ts";
import type { Services } from "./services.ts";
import { Summaries } from "./summaries.ts";
import type { WorkPool } from "./work/pool.ts";

export interface AppOptions {
  log: Logger;
  /** Host headers this server answers to, e.g. "127.0.0.1:4310". */
  hosts: () => readonly string[];
  /** Where the work of requests is done. */
  pool: WorkPool;
  /** Folder of the built page; null for the API alone. */
  page: string | null;
  /** The proxies that say who is asking: how many there are before this server, or their addresses. */
  trustProxy?: number | string;
}

export interface App {
  express: Express;
  /** Opens the API once the database is there. */
  serve(parts: { care: Care; servicesOf(person: string): Services; access: Access }): void;
  fail(reason: string): void;
}

/** Log lines name the request, not its headers. */
const SERIALIZERS = {
  req: ({ method, url }: { method: string; url: string }) => ({ method, url }),
  res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
};

/** The web application. It answers at once; until the library is open the API says so. */
export function createApp({ log, hosts, page, pool, trustProxy }: AppOptions): App {
  const app = express();
  const summaries = new Summaries(pool);
  let api: RequestHandler | null = null;
  let failure: string | null = null;
  let care: Care | null = null;
  app.disable("x-powered-by");
  if (trustProxy !== undefined) app.set("trust proxy", trustProxy);
  app.use(pinoHttp({ logger: log, serializers: SERIALIZERS, customLogLevel: (_req, res) => (res.statusCode >= 500 ? "error" : "debug") }));
  app.use(securityHeaders());
  app.use(guard(hosts));
  app.get("/api/health", async (_request, response) => {
    response.setHeader("Cache-Control", "no-store");
    const reason = failure ?? (await care?.fault()) ?? null;
    if (reason !== null) reply(response.status(503), health, { status: "failed", reason });
    else reply(response, health, { status: care ? "ready" : "opening", ...(care && care.faults.length > 0 ? { faults: [...care.faults] } : {}) });
  });
  app.use("/api", (request, response, next) => {
    response.setHeader("Cache-Control", "no-store");
    if (api) api(request, response, next);
    else sendProblem(response.setHeader("Retry-After", "1"), { status: 503, title: "The library is opening", detail: failure ?? "Try again in a moment." });
  });
  app.use("/api", (_request, response) => sendProblem(response, { status: 404, title: "Not there", detail: "This address does not exist." }));
  if (page && existsSync(page)) {
    app.use("/assets", express.static(join(page, "assets"), { immutable: true, maxAge: "1y", fallthrough: false }));
    app.use(express.static(page, { index: false }));
    app.get("/{*path}", (_request, response) => {
      response.setHeader("Cache-Control", "no-cache");
      response.sendFile(join(page, "index.html"));
    });
  }
  app.use(problemHandler);
  return {
    express: app,
    serve({ care: looked, servicesOf, access }) {
      care = looked;
      failure = null;
      const routers = new Map<string, Router>();
      const routerOf = (person: string) => {
        const router = routers.get(person) ?? personalRoutes(servicesOf(person), summaries, pool);
        // Those who were here last stay.
        routers.delete(person);
        routers.set(person, router);
        if (routers.size > MOST_ROUTERS) routers.delete(routers.keys().next().value as string);
        return router;
      };
      api = Router()
        .use(access.routes)
        .use(async (request, response, next) => routerOf(await access.personOf(request, response))(request, response, next));
    },
    fail(reason) {
      failure = reason;
    },
  };
}

/** People whose routes are kept ready. */
const MOST_ROUTERS = 200;

/** All that one person can ask for: their routes know nothing of anybody else. */
export function personalRoutes({ library, setup, practice, recordings, backups, hear }: Services, summaries: Summaries, pool: WorkPool): Router {
  const router = Router();
  router.use(passageRoutes(library, practice, recordings, summaries, pool));
  router.use(setupRoutes(setup));
  router.use(practiceRoutes(practice, recordings));
  router.use(recordingRoutes(recordings, practice));
  router.use(backupRoutes(backups));
  router.use(changeRoutes(hear));
  return router;
}
