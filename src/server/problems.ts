import type { ErrorRequestHandler, Response } from "express";
import type { Problem } from "../api/wire.ts";

export function sendProblem(response: Response, problem: Problem): void {
  response
    .status(problem.status)
    .type("application/problem+json")
    .send(JSON.stringify({ type: "about:blank", ...problem }));
}

/** The last handler: what nobody expected becomes a problem without inner details. */
export const problemHandler: ErrorRequestHandler = (error: Error & { status?: number; type?: string }, request, response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  if (error.type === "entity.too.large")
    return sendProblem(response, { status: 413, title: "Too large", detail: "The request is larger than this server takes." });
  if (error.type === "entity.parse.failed") return sendProblem(response, { status: 400, title: "Not JSON", detail: "The request's body is not valid JSON." });
  if (error.status && error.status < 500) return sendProblem(response, { status: error.status, title: "Bad request" });
  request.log?.error({ err: error }, "request failed");
  sendProblem(response, { status: 500, title: "Something went wrong", detail: "The server could not do this. Nothing was changed." });
};
