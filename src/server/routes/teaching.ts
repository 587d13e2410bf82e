import { json, type Response, Router } from "express";
import { z } from "zod";
import { giftList, given, giving, linkAsked, linkList, madeLink, shownToTeacher, studentReport, takenOffer, teachings } from "../../api/wire.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { bodyOf, notThere } from "../asked.ts";
import { signalOf } from "../jobs.ts";
import type { Library } from "../library.ts";
import { faultsIn, Refusal } from "../problems.ts";
import { reply } from "../reply.ts";
import type { Services } from "../services.ts";
import type { WorkPool } from "../work/pool.ts";

const LONGEST_NAME = 60;
const asked = z.object({
  /** Since when. */
  since: z.iso.datetime(),
  /** Where days begin, as the time zone database names it. */
  zone: z.string().max(LONGEST_NAME).default("UTC"),
});

/** Whom one teaches and who teaches one, what is given and taken, and addresses for whoever has no account. */
export function teachingRoutes({ library, teaching, gifts, links }: Pick<Services, "library" | "teaching" | "gifts" | "links">, pool: WorkPool): Router {
  const router = Router();
  const sent = json({ limit: "64kb" });
  router.param("id", (_request, _response, next, value) => {
    if (z.uuid().safeParse(value).success) next();
    else throw notThere();
  });

  router.get("/teaching", async (_request, response) => {
    reply(response, teachings, await teaching.list());
  });
  router.patch("/teachers/:id", sent, async (request, response) => {
    done(response, await teaching.show(request.params.id as string, bodyOf(shownToTeacher, request).sees));
  });
  router.delete("/teachers/:id", async (request, response) => {
    done(response, await teaching.end(request.params.id, "student"));
  });
  router.delete("/students/:id", async (request, response) => {
    done(response, await teaching.end(request.params.id, "teacher"));
  });
  router.get("/students/:id/report", async (request, response) => {
    const query = asked.safeParse(request.query);
    if (!query.success) throw new Refusal({ status: 422, title: "Not a report", faults: faultsIn(query.error) });
    const found = await teaching.report(request.params.id, new Date(query.data.since), daysIn(query.data.zone));
    if (!found) throw notThere();
    reply(response, studentReport, found);
  });

  router.post("/passages/:id/give", sent, async (request, response) => {
    const { students, note, drills } = bodyOf(giving, request);
    const origin = request.params.id as string;
    const passage = await sound(library, origin, response, pool);
    const counts = await gifts.give(students, { origin, passage, note, drills });
    if (!counts) throw new Refusal({ status: 404, title: "Not there", detail: "One of them is no student of yours any more. Nothing was given." });
    reply(response, given, counts);
  });
  router.get("/gifts", async (_request, response) => {
    reply(response, giftList, await gifts.list());
  });
  router.post("/gifts/:id/take", async (request, response) => {
    const taken = await gifts.take(request.params.id);
    if (!taken) throw notThere();
    reply(response, takenOffer, taken);
  });
  router.post("/gifts/:id/leave", async (request, response) => {
    done(response, await gifts.leave(request.params.id));
  });

  router.get("/links", async (_request, response) => {
    reply(response, linkList, await links.list());
  });
  router.post("/passages/:id/links", sent, async (request, response) => {
    const made = await links.make(request.params.id as string, bodyOf(linkAsked, request).days);
    if (!made) throw notThere();
    reply(response.status(201), madeLink, made);
  });
  router.delete("/links/:id", async (request, response) => {
    done(response, await links.withdraw(request.params.id));
  });
  return router;
}

/** A passage that is given on has been looked into: damage stays where it is. */
async function sound(library: Library, id: string, response: Response, pool: WorkPool): Promise<Passage> {
  const stored = await library.find(id);
  if (!stored || stored.deletedAt) throw notThere();
  const read = await pool.run("readPassage", JSON.stringify(stored.passage), { signal: signalOf(response) });
  if (!read.ok) throw new Refusal({ status: 422, title: "This passage cannot be read", faults: read.faults });
  return read.value;
}

/** The day of a moment, where somebody lives. */
function daysIn(timeZone: string): (at: Date) => string {
  try {
    const days = new Intl.DateTimeFormat("en-CA", { timeZone });
    return (at) => days.format(at);
  } catch {
    throw new Refusal({ status: 422, title: "No such time zone", detail: "zone is a name such as Europe/Lisbon." });
  }
}

function done(response: Response, isDone: boolean): void {
  if (!isDone) throw notThere();
  response.status(204).end();
}
