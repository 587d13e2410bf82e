import { json, type Request, type Response, Router } from "express";
import { z } from "zod";
import { changedSetup, type SetupKind, setupBodies, setupItems } from "../../api/wire.ts";
import { faultsIn, sendProblem } from "../problems.ts";
import { reply } from "../reply.ts";
import type { Setup, SetupResult } from "../setup.ts";

const FIRST_NAMES = { instruments: "instrument", players: "player" } as const;

/** Instruments and players: list, make, change, take for new passages, remove. */
export function setupRoutes(setup: Setup): Router {
  const router = Router();
  const sent = json({ limit: "64kb" });
  router.param("id", (_request, response, next, value) => {
    if (z.uuid().safeParse(value).success) next();
    else notFound(response);
  });
  for (const kind of ["instruments", "players"] as const) {
    router.get(`/${kind}`, async (_request, response) => {
      const items = await setup.list(kind);
      // The value stands under its first name too: others read it there.
      response.json(setupItems[kind].parse(items).map((item) => ({ ...item, [FIRST_NAMES[kind]]: item.value })));
    });
    router.post(`/${kind}`, sent, async (request, response) => {
      const body = readBody(kind, request.body, response);
      if (body) answer(response.status(201), await setup.create(kind, body.name, body.value));
    });
    router.put(`/${kind}/:id`, sent, async (request, response) => {
      const body = readBody(kind, request.body, response);
      if (body) answer(response, await setup.change(kind, request.params.id, body.name, body.value, basedOn(request)));
    });
    router.put(`/${kind}/:id/default`, async (request, response) => {
      if (await setup.setDefault(kind, request.params.id)) response.status(204).end();
      else notFound(response);
    });
    router.delete(`/${kind}/:id`, async (request, response) => {
      const result = await setup.remove(kind, request.params.id, basedOn(request));
      if (result.outcome === "missing") return notFound(response);
      if (result.outcome === "stale") return changedElsewhere(response);
      if (result.outcome === "used")
        return sendProblem(response, {
          status: 409,
          title: "Still in use",
          detail: `${result.passages} passage${result.passages === 1 ? " uses" : "s use"} it, those in the bin included.`,
        });
      response.status(204).end();
    });
  }
  return router;
}

function readBody<K extends SetupKind>(kind: K, raw: unknown, response: Response) {
  const read = setupBodies[kind].safeParse(raw);
  if (read.success) return read.data as { name: string; value: never };
  sendProblem(response, { status: 422, title: "Not valid", faults: faultsIn(read.error) });
  return null;
}

function answer(response: Response, result: SetupResult<SetupKind>): void {
  if (result.outcome === "done") reply(response, changedSetup, { ...result.item, changedPassages: result.changedPassages });
  else if (result.outcome === "missing") notFound(response);
  else if (result.outcome === "stale") changedElsewhere(response);
  else if (result.outcome === "double")
    sendProblem(response, { status: 409, title: "You have this one already", detail: `It is the same as "${result.name}".` });
  else
    sendProblem(response, {
      status: 409,
      title: `"${result.title}" would not fit any more`,
      detail: `${result.says}. Make a new instrument instead, or change the passage first. Nothing was changed.`,
    });
}

/** The version that a change names; null where it names none. */
function basedOn(request: Request): string | null {
  return /^"([0-9a-f]{16})"$/.exec(request.headers["if-match"] ?? "")?.[1] ?? (request.headers["if-match"] === undefined ? null : "");
}

function changedElsewhere(response: Response): void {
  sendProblem(response, { status: 412, title: "Changed elsewhere", detail: "It was changed from another place since you opened it. Nothing was overwritten." });
}

function notFound(response: Response): void {
  sendProblem(response, { status: 404, title: "Not there", detail: "It was removed, or never was." });
}
