import { randomUUID } from "node:crypto";
import { existsSync } from "node:fs";
import type { IncomingMessage, ServerResponse } from "node:http";
import { join } from "node:path";
import express, { type Express, type RequestHandler, Router } from "express";
import type { Logger } from "pino";
import { pinoHttp } from "pino-http";
import { health } from "../api/wire.ts";
import type { Care } from "./care.ts";
import { guard, securityHeaders } from "./guard.ts";
import { Metrics } from "./metrics.ts";
import { type Access, OWN_MACHINE } from "./people/access.ts";
import { problemHandler, sendProblem } from "./problems.ts";
import { reply } from "./reply.ts";
import { backupRoutes } from "./routes/backups.ts";
import { changeRoutes } from "./routes/changes.ts";
import { passageRoutes } from "./routes/passages.ts";
import { practiceRoutes } from "./routes/practice.ts";
import { recordingRoutes } from "./routes/recordings.ts";
import { setupRoutes } from "./routes/setup.ts";
import { teachingRoutes } from "./routes/teaching.ts";
import type { Services } from "./services.ts";
import type { Summaries } from "./summaries.ts";
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
  metrics?: Metrics;
  /** What has to be known to read the metrics. */
  metricsToken?: string | null;
}

export interface App {
  express: Express;
  /** Opens the API once the database is there. */
  serve(parts: { care: Care; servicesOf(person: string): Services; access: Access; shared: RequestHandler; summaries: Summaries }): void;
  fail(reason: string): void;
  /** From now on the server says that it is not ready: it is about to end. What is under way goes on. */
  drain(): void;
}

/** Log lines name the request by its id and its place: no headers, no query, nothing that somebody wrote. */
const SERIALIZERS = {
  req: ({ id, method, url }: { id: string; method: string; url: string }) => ({ id, method, path: url.split("?")[0] }),
  res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
};

/** The id that a proxy gave a request, or one of our own; it stands in the answer too. */
function idOf(request: IncomingMessage, response: ServerResponse): string {
  const given = request.headers["x-request-id"];
  const id = typeof given === "string" && /^[\w-]{8,64}$/.test(given) ? given : randomUUID();
  response.setHeader("X-Request-Id", id);
  return id;
}

/** The web application. It answers at once; until the library is open the API says so. */
export function createApp({ log, hosts, page, pool, trustProxy, metrics = new Metrics(), metricsToken = null }: AppOptions): App {
  const app = express();
  let api: RequestHandler | null = null;
  let failure: string | null = null;
  let care: Care | null = null;
  let isDraining = false;
  /** Whose machine it is reads what is wrong with which passage; strangers do not. */
  let isOwn = false;
  app.disable("x-powered-by");
  if (trustProxy !== undefined) app.set("trust proxy", trustProxy);
  app.use(pinoHttp({ logger: log, genReqId: idOf, serializers: SERIALIZERS, customLogLevel: (_req, res) => (res.statusCode >= 500 ? "error" : "info") }));
  app.use(metrics.watch);
  app.use((_request, response, next) => {
    // What comes next on this connection goes to another server.
    if (isDraining) response.setHeader("Connection", "close");
    next();
  });
  app.use(securityHeaders());
  app.use(guard(hosts));
  // That the process answers, for whoever restarts it; and that it is worth sending requests to, for whoever spreads them.
  app.get("/api/health/live", (_request, response) => void response.setHeader("Cache-Control", "no-store").json({ status: "live" }));
  app.get("/api/health/ready", async (_request, response) => {
    response.setHeader("Cache-Control", "no-store");
    const reason = isDraining ? "This server is about to end." : (failure ?? (care ? await care.fault() : "The library is opening."));
    if (reason === null) response.json({ status: "ready" });
    else response.status(503).json({ status: "not ready", reason });
  });
  app.get("/api/metrics", metrics.answer(metricsToken));
  app.get("/api/health", async (_request, response) => {
    response.setHeader("Cache-Control", "no-store");
    const reason = failure ?? (await care?.fault()) ?? null;
    if (reason !== null) reply(response.status(503), health, { status: "failed", reason });
    else reply(response, health, { status: care ? "ready" : "opening", ...(care && isOwn && care.faults.length > 0 ? { faults: [...care.faults] } : {}) });
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
    serve({ care: looked, servicesOf, access, shared, summaries }) {
      care = looked;
      failure = null;
      isOwn = access === OWN_MACHINE;
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
        .use(shared)
        .use(async (request, response, next) => routerOf(await access.personOf(request, response))(request, response, next));
    },
    fail(reason) {
      failure = reason;
    },
    drain() {
      isDraining = true;
    },
  };
}

/** People whose routes are kept ready. */
const MOST_ROUTERS = 200;

/** All that one person can ask for: their routes know nothing of anybody else. */
export function personalRoutes(services: Services, summaries: Summaries, pool: WorkPool): Router {
  const { setup, practice, recordings, backups } = services;
  const router = Router();
  router.use(passageRoutes(services, summaries, pool));
  router.use(setupRoutes(setup));
  router.use(practiceRoutes(practice, recordings));
  router.use(recordingRoutes(recordings, practice));
  router.use(backupRoutes(backups));
  router.use(teachingRoutes(services, pool));
  router.use(changeRoutes(services));
  return router;
}
