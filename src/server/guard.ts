import type { RequestHandler } from "express";
import helmet from "helmet";
import { sendProblem } from "./problems.ts";

/**
 * Refuses requests that name a foreign host or come from a foreign page. The server has no
 * login, so this is what keeps other sites a browser has open away from it.
 */
export function guard(hosts: () => readonly string[]): RequestHandler {
  return (request, response, next) => {
    const allowed = hosts();
    const { host, origin } = request.headers;
    if (!host || !allowed.includes(host.toLowerCase()))
      return sendProblem(response, { status: 403, title: "Foreign host", detail: "This server answers only under its own address." });
    if (origin !== undefined && !allowed.some((h) => origin.toLowerCase() === `http://${h}`))
      return sendProblem(response, { status: 403, title: "Foreign origin", detail: "Requests from other pages are refused." });
    next();
  };
}

/** Everything from this origin, nothing from any other, no inline code. */
export function securityHeaders(): RequestHandler {
  return helmet({
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
}
