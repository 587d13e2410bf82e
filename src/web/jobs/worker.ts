import { documentOf, finished, limits, loudness, planStages, refinger } from "../../core/engine.ts";
import { EngineCache } from "../../core/engine-cache.ts";
import { slug } from "../../core/formats/backup/backup.ts";
import { readBytes, writeBytes } from "../../core/formats/files.ts";
import { WRITTEN } from "../../core/formats/written.ts";
import { pack } from "../../core/formats/zip.ts";
import { TICKS_PER_WHOLE } from "../../core/music/ticks.ts";
import type { Fault } from "../../core/passage/parse.ts";
import type { Bar, Passage } from "../../core/passage/schema.ts";
import { Rendering } from "../../core/sound/render.ts";
import { wavHeader, wavPadding, wavSamples } from "../../core/sound/wav.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";
import { barsReceived } from "../planner/protocol.ts";
import type { Beat, JobAnswer, JobRequest } from "./protocol.ts";

const cache = new EngineCache();
let bars: readonly Bar[] = [];
let prepared: { passage: Passage; planned: PlannedStages } | null = null;
let rendering: { job: number; sound: Rendering } | null = null;

/** A step alone is heard this long at least, in ms. */
const SHORTEST_STEP_MS = 600;

self.onmessage = async ({ data }: MessageEvent<JobRequest>) => {
  try {
    await work(data);
  } catch (error) {
    post({ kind: "failed", says: (error as Error).message });
  }
};

function work(request: JobRequest): void | Promise<void> {
  switch (request.kind) {
    case "prepare": {
      bars = barsReceived(bars, request.bars);
      const passage: Passage = { ...request.passage, bars: [...bars] };
      prepared = { passage, planned: planStages(passage, cache) };
      return;
    }
    case "render": {
      if (!prepared) throw new Error("nothing was prepared");
      const { passage, planned } = prepared;
      const { steps } = planned.timeline;
      const from = steps[request.fromStep];
      const fromMs = from?.ms ?? 0;
      const until = request.toStep === null ? planned.timeline.endMs : (steps[request.toStep]?.ms ?? planned.timeline.endMs);
      const toMs =
        request.stepOnly && from
          ? { toMs: fromMs + Math.max(SHORTEST_STEP_MS, from.lengthMs) }
          : request.toStep === null && !request.loop
            ? {}
            : { toMs: until };
      const string = request.string === null ? {} : { string: request.string };
      rendering = { job: request.job, sound: new Rendering(passage, planned, { damping: request.damping, fromMs, ...string, ...toMs }) };
      post({
        kind: "rendering",
        job: request.job,
        stepsMs: steps.map((step) => step.ms - fromMs),
        beats: beatsOf(passage, planned, fromMs, until),
      });
      return;
    }
    case "more": {
      if (rendering?.job !== request.job) return;
      const samples = rendering.sound.take(request.samples) as Float32Array<ArrayBuffer> | null;
      if (samples)
        self.postMessage({ kind: "piece", job: request.job, samples, sampleRate: rendering.sound.sampleRate } satisfies JobAnswer, {
          transfer: [samples.buffer],
        });
      else post({ kind: "rendered", job: request.job });
      return;
    }
    case "loudness": {
      const planned = planStages(request.passage, cache);
      const { steps, endMs } = planned.timeline;
      post({ kind: "loudness", steps: loudness(request.passage, planned, cache), stepsMs: steps.map((step) => step.ms), endMs });
      return;
    }
    case "read":
      post({
        kind: "read",
        read: readBytes(request.bytes, { part: request.part, grid: request.grid, onProgress: (done, of) => post({ kind: "progress", done, of }) }),
      });
      return;
    case "export":
      return exportFiles(request);
    case "wav": {
      const { passage, damping, string, depth } = request;
      const sound = new Rendering(passage, planStages(passage, cache), { damping, ...(string === null ? {} : { string }) });
      const parts: BlobPart[] = [wavHeader(sound.length, sound.sampleRate, depth) as Uint8Array<ArrayBuffer>];
      let done = 0;
      for (let piece = sound.take(sound.sampleRate); piece; piece = sound.take(sound.sampleRate)) {
        parts.push(wavSamples(piece, depth) as Uint8Array<ArrayBuffer>);
        done += piece.length;
        post({ kind: "progress", done, of: sound.length });
      }
      parts.push(wavPadding(sound.length, depth) as Uint8Array<ArrayBuffer>);
      post({ kind: "wav", file: new Blob(parts, { type: "audio/wav" }) });
      return;
    }
    case "compare": {
      compare(request);
      return;
    }
    case "refinger": {
      const search = refinger(request.passage);
      let step = search.next();
      while (!step.done) {
        post({ kind: "progress", ...step.value });
        step = search.next();
      }
      const { passage, changes, before, after } = step.value;
      post({ kind: "refingered", bars: passage.bars, changes, before: before.length, after: after.length });
    }
  }
}

/** Writes one passage after the other; several come as one archive. */
async function exportFiles({ ids, extension, withPlan }: Extract<JobRequest, { kind: "export" }>): Promise<void> {
  const { type } = WRITTEN.find((format) => format.extension === extension)!;
  const files = new Map<string, Uint8Array>();
  const remarks: { title: string; remarks: Fault[] }[] = [];
  for (const [i, id] of ids.entries()) {
    post({ kind: "progress", done: i, of: ids.length });
    const response = await fetch(`/api/export/${id}`);
    if (!response.ok) throw new Error(response.status === 404 ? "a passage is not there any more" : `the server answered ${response.status}`);
    const passage = (await response.json()) as Passage;
    const written = writeBytes(passage, extension, { withPlan });
    // Passages may share a title.
    const name = slug(passage.title);
    const taken = [...files.keys()].filter((file) => file.replace(/(-\d+)?\.[a-z.]+$/, "") === name).length;
    files.set(`${name}${taken > 0 ? `-${taken + 1}` : ""}.${extension}`, written.bytes);
    if (written.remarks.length > 0) remarks.push({ title: passage.title, remarks: written.remarks });
  }
  const [name, bytes] = files.size === 1 ? [...files][0]! : [`rest-hand-${extension.replace(".", "-")}.zip`, pack(files)];
  post({ kind: "exported", file: new Blob([bytes as Uint8Array<ArrayBuffer>], { type: files.size === 1 ? type : "application/zip" }), name, remarks });
}

/** What is quick comes first: plans, then how loud they are, then how fast they can go. */
function compare({ passages, fromBar, toBar }: Extract<JobRequest, { kind: "compare" }>): void {
  const all = passages.map((passage, index) => {
    const own = new EngineCache();
    const planned = planStages(passage, own);
    post({ kind: "compared", index, plan: documentOf(passage, planned, { cache: own }) });
    return { passage, planned, own };
  });
  post({ kind: "levels", levels: all.map(({ passage, planned }) => levelOf(passage, planned, fromBar, toBar)) });
  for (const [index, { passage, own }] of all.entries()) post({ kind: "limits-of", index, limits: finished(limits(passage, own)) });
}

/** Root mean square of the sound of some bars. */
function levelOf(passage: Passage, planned: PlannedStages, fromBar: number, toBar: number): number | null {
  const { bars, endMs } = planned.timeline;
  const fromMs = bars[fromBar]?.startMs ?? 0;
  const toMs = bars[toBar + 1]?.startMs ?? endMs;
  const sound = new Rendering(passage, planned, { damping: "planned", fromMs, toMs });
  let power = 0;
  let count = 0;
  for (let piece = sound.take(16384); piece; piece = sound.take(16384)) {
    for (const sample of piece) power += sample * sample;
    count += piece.length;
  }
  return power > 0 ? Math.sqrt(power / count) : null;
}

/** Beats from one moment to another, with one bar to count in before. */
function beatsOf(passage: Passage, { timeline }: PlannedStages, fromMs: number, toMs: number): Beat[] {
  const beats: Beat[] = [];
  let ms = 0;
  let tempo = passage.tempo;
  let first: { beatMs: number; count: number } | null = null;
  passage.bars.forEach((bar, b) => {
    tempo = bar.tempo ?? tempo;
    const [count, unit] = bar.meter;
    const beatMs = (60_000 / tempo) * (4 / unit);
    // A pick-up bar begins with its first stroke.
    const skipped = b === 0 ? (timeline.bars[0]?.offset ?? 0) : 0;
    const skippedMs = (skipped / TICKS_PER_WHOLE) * 4 * (60_000 / tempo);
    for (let k = 0; k < count; k++) {
      const at = ms + k * beatMs - skippedMs;
      if (at < fromMs - 1 || at >= toMs - 1) continue;
      first ??= { beatMs, count };
      beats.push({ ms: at - fromMs, strong: k === 0 });
    }
    ms += count * beatMs - skippedMs;
  });
  const { beatMs, count } = first ?? { beatMs: 60_000 / passage.tempo, count: 4 };
  const countIn = Array.from({ length: count }, (_, k) => ({ ms: (k - count) * beatMs, strong: k === 0 }));
  return [...countIn, ...beats];
}

function post(answer: JobAnswer): void {
  self.postMessage(answer);
}
