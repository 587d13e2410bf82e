import type { Response } from "express";
import type { z } from "zod";

/** Answers with what a schema of the API says, and with nothing else: fields that it does not name stay here. */
export function reply<Schema extends z.ZodType>(response: Response, schema: Schema, value: z.input<Schema>): void {
  response.json(schema.parse(value));
}
