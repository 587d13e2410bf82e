import { json, type Response, Router } from "express";
import { z } from "zod";
import { keptTakes, listedSessions, standings } from "../../api/wire.ts";
import { writePracticeCsv } from "../../core/formats/practice-csv.ts";
import { textSchema } from "../../core/passage/text.ts";
import { logOf, practiceSessionSchema } from "../../core/practice/record.ts";
import { bodyOf } from "../asked.ts";
import type { Practice } from "../practice.ts";
import { sendProblem } from "../problems.ts";
import type { Recordings } from "../recordings.ts";
import { reply } from "../reply.ts";

/** A session with as many tries as it may have. */
const LARGEST_SESSION = "2mb";
const since = z.iso.datetime().default("1970-01-01T00:00:00.000Z");
const noteBody = z.strictObject({ note: textSchema(4000) });
const formats = z.enum(["json", "csv"]).default("json");

/** The log of practice: sessions, how drills stand, and all of it as a file. */
export function practiceRoutes(practice: Practice, recordings: Recordings): Router {
  const router = Router();
  const sent = json({ limit: LARGEST_SESSION });
  router.param("id", (_request, response, next, value) => {
    if (z.uuid().safeParse(value).success) next();
    else notFound(response);
  });

  router.get("/practice", async (request, response) => {
    const asked = since.safeParse(request.query.since);
    if (!asked.success) return sendProblem(response, { status: 422, title: "Not a moment", detail: "since is a moment such as 2026-01-31T00:00:00.000Z." });
    reply(response, listedSessions, await practice.list(new Date(asked.data)));
  });

  router.get("/practice/standings", async (_request, response) => {
    reply(response, standings, await practice.standings());
  });

  router.get("/practice/takes", async (request, response) => {
    const asked = z.uuid().safeParse(request.query.passage);
    if (!asked.success) return sendProblem(response, { status: 422, title: "Not a passage", detail: "passage is the id of one." });
    reply(response, keptTakes, await practice.takes(asked.data));
  });

  router.get("/practice/export", async (request, response) => {
    const asked = formats.safeParse(request.query.format);
    if (!asked.success) return sendProblem(response, { status: 422, title: "No such format", detail: "One of json, csv." });
    const sessions = await practice.all();
    response.attachment(`rest-hand-practice.${asked.data}`);
    if (asked.data === "csv") response.type("text/csv").send(writePracticeCsv(sessions));
    else response.json(logOf(sessions));
  });

  router.put("/practice/sessions/:id", sent, async (request, response) => {
    const body = bodyOf(practiceSessionSchema, request, "Not a session of practice");
    if (body.id !== request.params.id) return sendProblem(response, { status: 422, title: "Another session", detail: "The id is not that of the address." });
    reply(response, practiceSessionSchema, await practice.save(body));
  });

  router.patch("/practice/sessions/:id", sent, async (request, response) => {
    const { note } = bodyOf(noteBody, request, "Not a note");
    const session = await practice.note(request.params.id, note);
    if (session) reply(response, practiceSessionSchema, session);
    else notFound(response);
  });

  router.delete("/practice/sessions/:id", async (request, response) => {
    const takes = await practice.remove(request.params.id);
    if (!takes) return notFound(response);
    recordings.removeOf(takes);
    response.status(204).end();
  });

  router.delete("/practice", async (_request, response) => {
    const takes = await practice.takeIds();
    await practice.removeAll();
    recordings.removeOf(takes);
    response.status(204).end();
  });

  return router;
}

function notFound(response: Response): void {
  sendProblem(response, { status: 404, title: "Not there", detail: "There is no such session of practice." });
}
