import { type Request, type Response, Router, raw } from "express";
import { z } from "zod";
import { type ListedPassage, limits, listedPassages, planSummary, type StoredPassage } from "../../api/wire.ts";
import { slug } from "../../core/formats/backup/backup.ts";
import { readBytes, writeBytes } from "../../core/formats/files.ts";
import { MIDI_GRIDS } from "../../core/formats/midi/grids.ts";
import { WRITTEN } from "../../core/formats/written.ts";
import { INSTRUMENT_KINDS } from "../../core/music/instruments.ts";
import { faultsOf, parsePassage } from "../../core/passage/parse.ts";
import { passageSchema } from "../../core/passage/schema.ts";
import { textSchema } from "../../core/passage/text.ts";
import type { Library, UnreadablePassage } from "../library.ts";
import { sendProblem } from "../problems.ts";
import { reply } from "../reply.ts";
import type { Summaries } from "../summaries.ts";

const id = z.uuid();
/** A little more than any score, so that the reader itself says what is too large. */
const LARGEST_FILE = "25mb";
const importBody = z.strictObject({ text: z.string().min(1) });
const importQuery = z.strictObject({
  /** Which part or voice of a file that has several, counted from 0. */
  part: z.coerce.number().int().min(0).optional(),
  /** Grid for the moments of a MIDI file. */
  grid: z.enum(MIDI_GRIDS).optional(),
  /** Name under which the file is kept with the passage; without it, it is not kept. */
  keep: textSchema(255, 1).optional(),
});

/** Passages, the bin, imports and exports. */
export function passageRoutes(library: Library, summaries: Summaries): Router {
  const router = Router();
  router.param("id", (_request, response, next, value) => {
    if (id.safeParse(value).success) next();
    else notFound(response);
  });

  router.get("/passages", async (request, response) => {
    reply(response, listedPassages, await library.list(request.query.bin === undefined ? "shelf" : "bin", listed, named));
  });

  router.post("/passages", async (request, response) => {
    const parsed = parsePassage(request.body);
    if (!parsed.ok) return sendProblem(response, { status: 422, title: "Not a valid passage", faults: parsed.faults });
    send(response.status(201), await library.create(parsed.value));
  });

  router.get("/passages/:id", async (request, response) => {
    const stored = await library.find(request.params.id);
    if (!stored || stored.deletedAt) return notFound(response);
    const { error } = passageSchema.safeParse(stored.passage);
    if (error)
      return sendProblem(response, {
        status: 422,
        title: "This passage cannot be read",
        detail: "What the library has of it is damaged. It is left as it is; a backup may have it whole.",
        faults: error.issues.flatMap(faultsOf).slice(0, 5),
      });
    await library.noteOpened(stored.id);
    send(response, stored);
  });

  router.put("/passages/:id", async (request, response) => {
    const basedOn = versionIn(request);
    if (basedOn === null)
      return sendProblem(response, { status: 428, title: "Version needed", detail: "Name the version this change is based on in If-Match." });
    const parsed = parsePassage(request.body);
    if (!parsed.ok) return sendProblem(response, { status: 422, title: "Not a valid passage", faults: parsed.faults });
    const result = await library.save(request.params.id, basedOn, parsed.value);
    if (result.outcome === "missing") return notFound(response);
    if (result.outcome === "stale") return changedElsewhere(response, result.version);
    send(response, result.stored);
  });

  router.delete("/passages/:id", async (request, response) => {
    const { id } = request.params;
    const basedOn = versionIn(request);
    if (request.headers["if-match"] !== undefined) {
      const stored = await library.find(id);
      if (stored && stored.version !== basedOn) return changedElsewhere(response, stored.version);
    }
    const done = request.query.forever === undefined ? await library.setBinned(id, true, basedOn) : await library.removeFromBin(id, basedOn);
    if (done) response.status(204).end();
    else notFound(response);
  });

  router.post("/passages/:id/restore", async (request, response) => {
    if (await library.setBinned(request.params.id, false)) send(response, (await library.find(request.params.id))!);
    else notFound(response);
  });

  router.get("/passages/:id/summary", async (request, response) => {
    const stored = await library.find(request.params.id);
    if (!stored) return notFound(response);
    reply(response, planSummary, await summaries.of(stored.passage));
  });

  router.get("/passages/:id/limits", async (request, response) => {
    const stored = await library.find(request.params.id);
    if (!stored) return notFound(response);
    reply(response, limits, await summaries.limitsOf(stored.passage));
  });

  router.post("/import", raw({ type: "application/octet-stream", limit: LARGEST_FILE }), async (request, response) => {
    const body = Buffer.isBuffer(request.body) ? { bytes: new Uint8Array(request.body) } : importBody.safeParse(request.body).data;
    const asked = importQuery.safeParse(request.query);
    if (!body)
      return sendProblem(response, {
        status: 422,
        title: "Nothing to import",
        detail: "Send { text } with a passage document or a tablature, or a file as application/octet-stream.",
      });
    if (!asked.success) return sendProblem(response, { status: 422, title: "Not a way to import", faults: asked.error.issues.flatMap(faultsOf) });
    const { keep, ...options } = asked.data;
    const bytes = "bytes" in body ? body.bytes : new TextEncoder().encode(body.text);
    const read = readBytes(bytes, options);
    if (!read.ok) return sendProblem(response, { status: 422, title: "This could not be read", faults: read.faults });
    const stored = await library.create(read.value.passage, keep === undefined ? null : { name: keep, bytes });
    response.status(201).json({ ...stored, remarks: read.value.remarks });
  });

  router.get("/passages/:id/original", async (request, response) => {
    const original = await library.original(request.params.id);
    if (!original) return sendProblem(response, { status: 404, title: "Not kept", detail: "The file this passage came from was not kept with it." });
    response.attachment(original.name).type("application/octet-stream").send(Buffer.from(original.bytes));
  });

  router.get("/export/:id", async (request, response) => {
    const stored = await library.find(request.params.id);
    if (!stored) return notFound(response);
    const format = WRITTEN.find(({ extension }) => extension === (request.query.format ?? "resthand.json"));
    if (!format) return sendProblem(response, { status: 422, title: "No such format", detail: `One of ${WRITTEN.map((w) => w.extension).join(", ")}.` });
    const { bytes } = writeBytes(stored.passage, format.extension, { withPlan: request.query.plan !== undefined });
    response
      .attachment(`${slug(stored.passage.title)}.${format.extension}`)
      .type(format.type)
      .send(Buffer.from(bytes));
  });

  return router;
}

/** What a list needs of a passage; the music itself is fetched when it is opened. */
function listed({ id, version, updatedAt, openedAt, deletedAt, original, passage }: StoredPassage): ListedPassage {
  const { title, tags, tempo, goalTempo, instrument, bars } = passage;
  return {
    id,
    version,
    updatedAt,
    openedAt,
    deletedAt,
    original,
    title,
    tags,
    tempo,
    goalTempo: goalTempo ?? null,
    kind: instrument.kind,
    strings: instrument.tuning.length,
    bars: bars.length,
  };
}

/** One that cannot be read. */
function named({ id, version, updatedAt, openedAt, deletedAt, original, title, fault }: UnreadablePassage): ListedPassage {
  const nothing = { tags: [], tempo: 0, goalTempo: null, kind: INSTRUMENT_KINDS[0], strings: 0, bars: 0 };
  return { id, version, updatedAt, openedAt, deletedAt, original, title, ...nothing, fault };
}

function send(response: Response, stored: StoredPassage): void {
  response.setHeader("ETag", `"${stored.version}"`);
  // What the library holds has been read by the schema on its way in; the page reads it once more.
  response.json(stored);
}

function versionIn(request: Request): number | null {
  const match = /^"(\d+)"$/.exec(request.headers["if-match"] ?? "");
  return match ? Number(match[1]) : null;
}

function changedElsewhere(response: Response, version: number): void {
  sendProblem(response, {
    status: 412,
    title: "Changed elsewhere",
    detail: "This passage was saved from another place since you opened it. Nothing was overwritten.",
    version,
  });
}

function notFound(response: Response): void {
  sendProblem(response, { status: 404, title: "Not there", detail: "There is no such passage, or it lies in the bin." });
}
