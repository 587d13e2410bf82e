import { type Request, type Response, Router, raw } from "express";
import { z } from "zod";
import { doubles, keptBackups, restored, restorePreview } from "../../api/wire.ts";
import { type LibraryBackup, packBackup, unpackBackup } from "../../core/formats/backup/backup.ts";
import type { Backups } from "../backups/backups.ts";
import { sendProblem } from "../problems.ts";
import { reply } from "../reply.ts";

const LARGEST_BACKUP = "300mb";
const ZIP = "application/zip";
const named = z.strictObject({ name: z.string() });

/** Backups of the library. A backup to look into or restore is sent as application/zip, or { name } names a kept one. */
export function backupRoutes(backups: Backups): Router {
  const router = Router();
  const zip = raw({ type: ZIP, limit: LARGEST_BACKUP });

  router.get("/backup", async (_request, response) => {
    const backup = await backups.take();
    response
      .attachment(`rest-hand-library-${backup.savedAt.slice(0, 10)}.zip`)
      .type(ZIP)
      .send(Buffer.from(packBackup(backup)));
  });

  router.get("/backups", (_request, response) => {
    reply(response, keptBackups, backups.kept());
  });

  router.get("/backups/:name", (request, response) => {
    const bytes = backups.read(request.params.name);
    if (!bytes) return noSuch(response);
    response.attachment(request.params.name).type(ZIP).send(Buffer.from(bytes));
  });

  router.post("/restore/preview", zip, async (request, response) => {
    const backup = backupIn(request, response);
    if (backup) reply(response, restorePreview, await backups.preview(backup));
  });

  router.post("/restore", zip, async (request, response) => {
    const choice = doubles.safeParse(request.query.doubles ?? "keep");
    if (!choice.success) return sendProblem(response, { status: 422, title: "What about doubles?", detail: "doubles is one of keep, replace and both." });
    const backup = backupIn(request, response);
    if (backup) reply(response, restored, await backups.restore(backup, choice.data));
  });

  /** The backup that a request sends or names; null when the answer has been given. */
  function backupIn(request: Request, response: Response): LibraryBackup | null {
    const body = named.safeParse(request.body);
    const bytes = Buffer.isBuffer(request.body) ? new Uint8Array(request.body) : body.success ? backups.read(body.data.name) : null;
    if (!bytes) {
      noSuch(response);
      return null;
    }
    const read = unpackBackup(bytes);
    if (read.ok) return read.value;
    sendProblem(response, { status: 422, title: "This backup cannot be read. Nothing was changed.", faults: read.faults });
    return null;
  }

  return router;
}

function noSuch(response: Response): void {
  sendProblem(response, { status: 404, title: "No such backup", detail: "Send a backup as application/zip, or { name } of a kept one." });
}
