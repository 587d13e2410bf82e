import { timingSafeEqual } from "node:crypto";
import type { RequestHandler } from "express";
import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from "prom-client";
import { Refusal } from "./problems.ts";

/** What Prometheus asks for: how long requests take by route, what was saved, what waits. Names and contents are in none of it. */
export class Metrics {
  private readonly registry = new Registry();
  private readonly requests: Histogram;
  private readonly saves: Counter;

  constructor() {
    const registers = [this.registry];
    collectDefaultMetrics({ register: this.registry, prefix: "resthand_" });
    this.requests = new Histogram({
      name: "resthand_request_seconds",
      help: "How long requests took, by route and answer",
      labelNames: ["method", "route", "status"],
      buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10],
      registers,
    });
    this.saves = new Counter({ name: "resthand_saves_total", help: "Passages and sessions that were saved", labelNames: ["what"], registers });
  }

  /** A number that is read when it is asked for. */
  gauge(name: string, help: string, read: () => number): void {
    new Gauge({
      name: `resthand_${name}`,
      help,
      registers: [this.registry],
      collect() {
        this.set(read());
      },
    });
  }

  /** Notes how long every request takes; streams count until they end and are left out. */
  readonly watch: RequestHandler = (request, response, next) => {
    const end = this.requests.startTimer();
    response.on("finish", () => {
      const route = request.route ? `${request.baseUrl}${request.route.path as string}` : "none";
      if (route.endsWith("/changes")) return;
      end({ method: request.method, route, status: response.statusCode });
      if (request.method === "PUT" && response.statusCode === 200) {
        if (route === "/api/passages/:id") this.saves.inc({ what: "passage" });
        if (route === "/api/practice/sessions/:id") this.saves.inc({ what: "session" });
      }
    });
    next();
  };

  /** Answers who knows the token; where there is none, whoever reaches this machine's own address. */
  answer(token: string | null): RequestHandler {
    return async (request, response) => {
      if (token !== null && !isSame(request.headers.authorization ?? "", `Bearer ${token}`))
        throw new Refusal({ status: 401, title: "Not for everybody", detail: "Metrics are read with the token of METRICS_TOKEN." });
      response
        .setHeader("Cache-Control", "no-store")
        .type(this.registry.contentType)
        .send(await this.registry.metrics());
    };
  }
}

function isSame(a: string, b: string): boolean {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
}
