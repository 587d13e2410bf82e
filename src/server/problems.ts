import type { ErrorRequestHandler, Response } from "express";
import type { z } from "zod";
import type { Problem } from "../api/wire.ts";
import { whyAway } from "./database/away.ts";
import { WorkEnded } from "./work/pool.ts";

export function sendProblem(response: Response, problem: Problem): void {
  response
    .status(problem.status)
    .type("application/problem+json")
    .send(JSON.stringify({ type: "about:blank", ...problem }));
}

/** What is wrong with the words of a request, with their places. */
export function faultsIn({ issues }: z.ZodError): { place: string; says: string }[] {
  return issues.map(({ path, message }) => ({ place: `/${path.join("/")}`, says: message }));
}

/** A refusal as an error, for where the answer is not at hand. */
export class Refusal extends Error {
  constructor(
    readonly problem: Problem,
    /** After so many seconds it may be tried again. */
    readonly retryAfterS?: number,
  ) {
    super(problem.title);
  }
}

type Failure = Error & { status?: number; type?: string; limit?: number; length?: number };

/** What went wrong, for whoever asked; what nobody expected without inner details. */
export function problemOf(error: Failure): Problem {
  if (error instanceof Refusal) return error.problem;
  if (error instanceof WorkEnded)
    return error.why === "busy"
      ? { status: 503, title: "Busy", detail: error.message }
      : { status: 422, title: error.why === "stopped" ? "Stopped" : "Too much for one request", detail: `${error.message} Nothing was changed.` };
  const away = whyAway(error);
  if (away !== null)
    return { status: 503, title: "Not just now", detail: `It could not be done because ${away}. Nothing was half done; try again in a moment.` };
  if (error.type === "entity.too.large") {
    const [sent, most] = [error.length, error.limit].map((bytes) => (bytes === undefined ? null : `${Math.ceil(bytes / 1e5) / 10} MB`));
    return {
      status: 413,
      title: "Too large",
      detail: sent && most ? `${sent}, more than the ${most} this server takes here.` : "More than this server takes here.",
    };
  }
  if (error.type === "entity.parse.failed") return { status: 400, title: "Not JSON", detail: "The request's body is not valid JSON." };
  if (error.status && error.status < 500) return { status: error.status, title: "Bad request" };
  return { status: 500, title: "Something went wrong", detail: "The server could not do this. Nothing was changed." };
}

/** The last handler: whatever was thrown becomes a problem. */
export const problemHandler: ErrorRequestHandler = (error: Failure, request, response, next) => {
  // Whoever asked has gone.
  if (response.destroyed) return;
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = problemOf(error);
  if (problem.status === 500 || whyAway(error) !== null) request.log?.error({ err: error }, "request failed");
  if (error instanceof Refusal && error.retryAfterS !== undefined) response.setHeader("Retry-After", String(error.retryAfterS));
  if (problem.status === 503) response.setHeader("Retry-After", "2");
  sendProblem(response, problem);
};
