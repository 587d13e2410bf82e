import { hostname, networkInterfaces } from "node:os";
import type { RequestHandler } from "express";
import helmet from "helmet";
import { sendProblem } from "./problems.ts";

/**
 * Refuses requests that name a foreign host or come from a foreign page: what keeps other sites that a browser has open away,
 * on a machine of one's own, where nobody signs in, and everywhere.
 */
export function guard(hosts: () => readonly string[]): RequestHandler {
  return (request, response, next) => {
    const allowed = hosts();
    const { host, origin } = request.headers;
    const named = request.rawHeaders.filter((name, i) => i % 2 === 0 && name.toLowerCase() === "host");
    if (named.length > 1) return sendProblem(response, { status: 400, title: "Two hosts", detail: "A request names one host." });
    if (!host || !allowed.includes(host.toLowerCase()))
      return sendProblem(response, {
        status: 403,
        title: "Foreign host",
        detail: "This server answers only under its own addresses. Other names that lead here are given in ALLOWED_HOSTS.",
      });
    if (origin !== undefined && !allowed.some((h) => origin.toLowerCase() === `${request.protocol}://${h}`))
      return sendProblem(response, { status: 403, title: "Foreign origin", detail: "Requests from other pages are refused." });
    // Browsers say where a request comes from, also one that has no origin to name; whoever follows a link to a page is let in.
    const site = request.headers["sec-fetch-site"];
    const isVisit = request.headers["sec-fetch-mode"] === "navigate" && !request.path.startsWith("/api");
    if ((site === "cross-site" || site === "same-site") && !isVisit)
      return sendProblem(response, { status: 403, title: "Foreign page", detail: "Requests from other pages are refused." });
    next();
  };
}

const LOOPBACK = ["127.0.0.1", "localhost", "::1"];

/**
 * What a Host header may say: the loopback names, the address that is listened on, and where that is every address, those that
 * this machine has and its name; besides what is configured. Behind a proxy what is configured is what others know it by.
 */
export function ownNames(host: string, port: number, configured = "", isBehindProxy = false): string[] {
  const every = host === "0.0.0.0" || host === "::";
  const own = every
    ? [hostname(), ...Object.values(networkInterfaces()).flatMap((all) => (all ?? []).map(({ address }) => address.replace(/%.*$/, "")))]
    : [host];
  const other = configured
    .split(",")
    .map((name) => name.trim())
    .filter((name) => name !== "");
  return [...new Set([...LOOPBACK, ...own, ...other])].flatMap((name) => {
    const lower = name.toLowerCase();
    if (/:\d+$/.test(lower) && !lower.includes("::")) return [lower];
    const at = lower.includes(":") ? `[${lower}]` : lower;
    // Browsers leave out the usual port.
    return port === 80 || (isBehindProxy && other.includes(name)) ? [at, `${at}:${port}`] : [`${at}:${port}`];
  });
}

/** Whether only this machine reaches an address. */
export function isLoopback(host: string): boolean {
  return LOOPBACK.includes(host);
}

/** Everything from this origin, nothing from any other, no inline code; of what a browser can lend a page, the microphone and the wake lock. */
export function securityHeaders(): RequestHandler {
  const protect = helmet({
    strictTransportSecurity: false,
    crossOriginOpenerPolicy: { policy: "same-origin" },
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", "data:"],
        connectSrc: ["'self'"],
        manifestSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
  });
  return (request, response, next) => {
    response.setHeader("Permissions-Policy", "microphone=(self), screen-wake-lock=(self), camera=(), geolocation=(), display-capture=()");
    protect(request, response, next);
  };
}
