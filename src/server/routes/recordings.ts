import { basename } from "node:path";
import { type Response, Router } from "express";
import { z } from "zod";
import { keptRecording, keptRecordings } from "../../api/wire.ts";
import type { Practice } from "../practice.ts";
import { sendProblem } from "../problems.ts";
import type { Recordings } from "../recordings.ts";
import { reply } from "../reply.ts";

/** The sound of takes that somebody asked to keep, sent and given as audio/wav. */
export function recordingRoutes(recordings: Recordings, practice: Practice): Router {
  const router = Router();
  router.param("id", (_request, response, next, value) => {
    if (z.uuid().safeParse(value).success) next();
    else notFound(response);
  });

  router.get("/recordings", (_request, response) => {
    reply(response, keptRecordings, recordings.list());
  });

  router.get("/recordings/:id", (request, response) => {
    const place = recordings.find(request.params.id);
    // From its folder on: a data directory may lie in one that is hidden.
    if (place) response.type("audio/wav").sendFile(basename(place), { root: recordings.folder });
    else notFound(response);
  });

  router.put("/recordings/:id", async (request, response) => {
    const { id } = request.params;
    if (!(await practice.takeIds()).has(id))
      return sendProblem(response, { status: 404, title: "No such take", detail: "A recording is kept with a take of the log; there is none of this id." });
    reply(response, keptRecording, { id, bytes: await recordings.keep(id, request) });
  });

  router.delete("/recordings/:id", (request, response) => {
    if (recordings.remove(request.params.id)) response.status(204).end();
    else notFound(response);
  });

  router.delete("/recordings", (_request, response) => {
    recordings.removeOf(recordings.list().map(({ id }) => id));
    response.status(204).end();
  });

  return router;
}

function notFound(response: Response): void {
  sendProblem(response, { status: 404, title: "Not there", detail: "There is no such recording." });
}
