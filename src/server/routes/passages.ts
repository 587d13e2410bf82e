import { createHash } from "node:crypto";
import { json, type Request, type Response, Router, raw, text } from "express";
import { z } from "zod";
import { limits, listedPassages, nextStep, planSummary, type StoredPassage } from "../../api/wire.ts";
import { slug } from "../../core/formats/backup/backup.ts";
import { MIDI_GRIDS } from "../../core/formats/midi/grids.ts";
import { STAVES, WRITTEN } from "../../core/formats/written.ts";
import { beyond, LIMITS } from "../../core/passage/limits.ts";
import type { Fault } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { textSchema } from "../../core/passage/text.ts";
import { signalOf } from "../jobs.ts";
import { faultsIn, Refusal, sendProblem } from "../problems.ts";
import { reply } from "../reply.ts";
import type { Services } from "../services.ts";
import type { Summaries } from "../summaries.ts";
import type { WorkPool } from "../work/pool.ts";

const id = z.uuid();
/** Texts of one person that are known to be sound. */
const MOST_SOUND = 500;
/** More than any file that is read, so that the reader itself says what is too large. */
const LARGEST_FILE = 25_000_000;
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
export function passageRoutes(
  { library, practice, recordings, gifts }: Pick<Services, "library" | "practice" | "recordings" | "gifts">,
  summaries: Summaries,
  pool: WorkPool,
): Router {
  const router = Router();
  const document = text({ type: "application/json", limit: LIMITS.document.most });
  /** The document that a request sends. */
  const passageIn = async (request: Request, response: Response): Promise<Passage> => {
    const read = await pool.run("readPassage", typeof request.body === "string" ? request.body : "", { signal: signalOf(response) });
    if (read.ok) return read.value;
    const isNoJson = read.faults[0]!.place.startsWith("line ");
    throw new Refusal(isNoJson ? { status: 400, title: "Not JSON", faults: read.faults } : { status: 422, title: "Not a valid passage", faults: read.faults });
  };
  router.param("id", (_request, response, next, value) => {
    if (id.safeParse(value).success) next();
    else notFound(response);
  });

  /** Sums of texts that were looked into and are sound: they are not looked into again. */
  const sound = new Set<string>();
  const remember = (sum: string) => {
    sound.delete(sum);
    sound.add(sum);
    if (sound.size > MOST_SOUND) sound.delete(sound.values().next().value as string);
  };

  router.get("/passages", async (request, response) => {
    reply(response, listedPassages, await library.list(request.query.bin === undefined ? "shelf" : "bin"));
  });

  router.post("/passages", document, async (request, response) => {
    const passage = await passageIn(request, response);
    send(response.status(201), await library.create(passage));
  });

  router.get("/passages/:id", async (request, response) => {
    const { id } = request.params;
    const texts = await library.texts(id).catch((error: Error) => {
      throw damaged({ place: "/", says: error.message });
    });
    if (!texts) return notFound(response);
    const { title, ...rows } = texts;
    const sum = createHash("md5").update(JSON.stringify(rows)).digest("base64");
    const [fault] = sound.has(sum) ? [] : await pool.run("checkPassages", [rows]);
    if (!fault) remember(sum);
    else {
      library.noteFault({ id, title, says: `${fault.place}: ${fault.says}`, isLost: false });
      throw damaged(fault);
    }
    const stored = await library.find(id);
    if (!stored || stored.deletedAt) return notFound(response);
    // Fetched ahead, to be there when the server is not: nobody has opened it.
    if (request.headers.purpose !== "prefetch") await library.noteOpened(stored.id);
    send(response, stored);
  });

  router.put("/passages/:id", document, async (request, response) => {
    const basedOn = versionIn(request);
    if (basedOn === null)
      return sendProblem(response, { status: 428, title: "Version needed", detail: "Name the version this change is based on in If-Match." });
    const result = await library.save(request.params.id, basedOn, await passageIn(request, response));
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
    const takes = await practice.takeIds(id);
    const done = request.query.forever === undefined ? await library.setBinned(id, true, basedOn) : await library.removeFromBin(id, basedOn);
    if (!done) return notFound(response);
    // Its takes went with it.
    if (request.query.forever !== undefined) recordings.removeOf(takes);
    response.status(204).end();
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

  /** What to begin with when it is practised next; what is due after `by` rests. */
  router.get("/passages/:id/next", async (request, response) => {
    const by = z.iso.datetime().safeParse(request.query.by);
    if (!by.success) return sendProblem(response, { status: 422, title: "Not a moment", detail: "by is a moment such as 2026-01-31T23:00:00.000Z." });
    const stored = await library.find(request.params.id);
    if (!stored) return notFound(response);
    const states = await practice.standing({ passage: stored.id, figure: null });
    reply(response, nextStep, await summaries.nextOf(stored.passage, states, Date.parse(by.data), await gifts.askedOf(stored.id)));
  });

  router.post("/import", raw({ type: "application/octet-stream", limit: LARGEST_FILE }), json({ limit: LARGEST_FILE }), async (request, response) => {
    const body = Buffer.isBuffer(request.body) ? { bytes: new Uint8Array(request.body) } : importBody.safeParse(request.body).data;
    const asked = importQuery.safeParse(request.query);
    if (!body)
      return sendProblem(response, {
        status: 422,
        title: "Nothing to import",
        detail: "Send { text } with a passage document or a tablature, or a file as application/octet-stream.",
      });
    if (!asked.success) return sendProblem(response, { status: 422, title: "Not a way to import", faults: faultsIn(asked.error) });
    const { keep, ...options } = asked.data;
    const bytes = "bytes" in body ? body.bytes : new TextEncoder().encode(body.text);
    const read = await pool.run("readFile", { bytes, options }, { signal: signalOf(response) });
    if (!read.ok) return sendProblem(response, { status: 422, title: "This could not be read", faults: read.faults });
    const tooLarge = keep === undefined ? null : beyond("original", bytes.length);
    const stored = await library.create(read.value.passage, keep === undefined || tooLarge !== null ? null : { name: keep, bytes });
    const remarks = tooLarge === null ? read.value.remarks : [...read.value.remarks, { place: "file", says: `the file itself is not kept: ${tooLarge}` }];
    response.status(201).json({ ...stored, remarks });
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
    const withPlan = request.query.plan !== undefined;
    const staves = STAVES.find((choice) => choice === (request.query.staves ?? "both"));
    if (!staves) return sendProblem(response, { status: 422, title: "No such staves", detail: `One of ${STAVES.join(", ")}.` });
    const bytes = await pool.run("writeFile", { passage: stored.passage, extension: format.extension, withPlan, staves }, { signal: signalOf(response) });
    response
      .attachment(`${slug(stored.passage.title)}.${format.extension}`)
      .type(format.type)
      .send(Buffer.from(bytes));
  });

  return router;
}

function damaged(fault: Fault): Refusal {
  return new Refusal({
    status: 422,
    title: "This passage cannot be read",
    detail: "What the library has of it is damaged. It is left as it is; a backup may have it whole.",
    faults: [fault],
  });
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
