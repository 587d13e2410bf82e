import type { Request } from "express";
import type { z } from "zod";
import { faultsIn, Refusal } from "./problems.ts";

/** The body of a request as a schema takes it; refuses any other. */
export function bodyOf<Schema extends z.ZodType>(schema: Schema, request: Request, title = "This cannot be taken"): z.output<Schema> {
  const body = schema.safeParse(request.body);
  if (body.success) return body.data;
  throw new Refusal({ status: 422, title, faults: faultsIn(body.error) });
}

export function notThere(): Refusal {
  return new Refusal({ status: 404, title: "Not there", detail: "There is no such thing." });
}
