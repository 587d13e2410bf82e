import { json, type Request, type Response, Router, raw } from "express";
import { z } from "zod";
import { doubles, keptBackups, restored, restorePreview, writtenBackup } from "../../api/wire.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import type { Backups } from "../backups/backups.ts";
import { job } from "../jobs.ts";
import { Refusal } from "../problems.ts";
import { reply } from "../reply.ts";

/** A little more than the largest that is written. */
const LARGEST_BACKUP = 250_000_000;
const ZIP = "application/zip";
const named = z.strictObject({ name: z.string() });

/**
 * Backups of the library. A backup to look into or restore is sent as application/zip, or { name } names a kept one. What takes
 * long is a job: whoever accepts application/x-ndjson is told how far it is, and stops it by going away.
 */
export function backupRoutes(backups: Backups): Router {
  const router = Router();
  const sent = [raw({ type: ZIP, limit: LARGEST_BACKUP }), json({ limit: "4kb" })];

  router.get("/backup", (request, response) =>
    job(
      request,
      response,
      (options) => backups.take(options, request.query.recordings !== undefined),
      (bytes) =>
        response
          .attachment(`rest-hand-library-${new Date().toISOString().slice(0, 10)}.zip`)
          .type(ZIP)
          .send(Buffer.from(bytes)),
    ),
  );

  router.get("/backups", (_request, response) => {
    reply(response, keptBackups, backups.kept());
  });

  router.post("/backups", (request, response) =>
    job(
      request,
      response,
      async (options) => writtenBackup.parse(await backups.write("asked", options, request.query.recordings !== undefined)),
      (result) => reply(response.status(201), writtenBackup, result),
    ),
  );

  router.get("/backups/:name", (request, response) => {
    const bytes = backups.read(request.params.name);
    if (!bytes) throw noSuch();
    response.attachment(`rest-hand-library-${request.params.name}`).type(ZIP).send(Buffer.from(bytes));
  });

  router.post("/restore/preview", ...sent, (request: Request, response: Response) => {
    const bytes = bytesIn(request);
    return job(
      request,
      response,
      async (options) => restorePreview.parse(read(await backups.preview(bytes, options))),
      (result) => reply(response, restorePreview, result),
    );
  });

  router.post("/restore", ...sent, (request: Request, response: Response) => {
    const choice = doubles.safeParse(request.query.doubles ?? "keep");
    if (!choice.success) throw new Refusal({ status: 422, title: "What about doubles?", detail: "doubles is one of keep, replace and both." });
    const bytes = bytesIn(request);
    return job(
      request,
      response,
      async (options) => restored.parse(read(await backups.restore(bytes, choice.data, options))),
      (result) => reply(response, restored, result),
    );
  });

  /** The backup that a request sends or names. */
  function bytesIn(request: Request): Uint8Array {
    if (Buffer.isBuffer(request.body)) return new Uint8Array(request.body);
    const body = named.safeParse(request.body);
    const bytes = body.success ? backups.read(body.data.name) : null;
    if (!bytes) throw noSuch();
    return bytes;
  }

  return router;
}

function read<T>(parsed: Parsed<T>): T {
  if (parsed.ok) return parsed.value;
  throw new Refusal({ status: 422, title: "This backup cannot be read. Nothing was changed.", faults: parsed.faults.slice(0, 20) });
}

function noSuch(): Refusal {
  return new Refusal({ status: 404, title: "No such backup", detail: "Send a backup as application/zip, or { name } of a kept one." });
}
