import { transfer } from "comlink";
import type { Limits, PlanDocument } from "../../core/document/plan.ts";
import { drillsOf } from "../../core/drills/drills.ts";
import type { DrillPlan, Try, Turns } from "../../core/drills/types.ts";
import { documentOf, finished, limits, loudness, planStages, proposals, refinger, schools } from "../../core/engine.ts";
import { EngineCache } from "../../core/engine-cache.ts";
import { slug } from "../../core/formats/backup/backup.ts";
import { type FileOptions, type FileRead, readBytes, type WriteFileOptions, writeBytes } from "../../core/formats/files.ts";
import { readOnsets } from "../../core/formats/onsets.ts";
import { type Extension, WRITTEN } from "../../core/formats/written.ts";
import { pack } from "../../core/formats/zip.ts";
import type { Loudness } from "../../core/loudness/loudness.ts";
import type { Fault, Parsed } from "../../core/passage/parse.ts";
import type { Place } from "../../core/passage/place.ts";
import type { Passage } from "../../core/passage/schema.ts";
import { type Mistakes, NO_MISTAKES } from "../../core/perform/mistakes.ts";
import { perform } from "../../core/perform/perform.ts";
import type { KeptTake } from "../../core/practice/record.ts";
import type { SchoolQuestion } from "../../core/propose/schools.ts";
import type { Proposal, Wishes } from "../../core/propose/types.ts";
import type { BarChange } from "../../core/refinger/refinger.ts";
import { ProgrammeLoudness } from "../../core/sound/programme-loudness.ts";
import { Rendering } from "../../core/sound/render.ts";
import type { Damping } from "../../core/sound/score.ts";
import { type WavDepth, wavHeader, wavPadding, wavSamples } from "../../core/sound/wav.ts";
import { readWav } from "../../core/sound/wav-read.ts";
import type { Clock } from "../../core/take/align.ts";
import { type Delay, delayOf } from "../../core/take/delay.ts";
import { keptTakeOf } from "../../core/take/kept.ts";
import { type Judgement, judgedRound } from "../../core/take/rounds.ts";
import { type SaidTake, saidOf, summaryOf } from "../../core/take/said.ts";
import type { TakeResult } from "../../core/take/take.ts";
import { judgingWhole } from "../../core/take/times.ts";
import type { PlannedStages } from "../../core/verdict/verdict.ts";

/** Called with how much of a job is done. */
export type OnProgress = (done: number, of: number) => void;

/** Mono sound. */
export interface Samples {
  samples: Float32Array;
  sampleRate: number;
}

/** How loud every string is: per step and string, with the steps' times in ms. */
export interface LoudnessOverTime {
  steps: readonly (readonly Loudness[])[];
  stepsMs: readonly number[];
  endMs: number;
}

export interface ExportedFile {
  file: Blob;
  name: string;
  /** What the format could not hold, by passage. */
  remarks: { title: string; remarks: Fault[] }[];
}

/** One version among several that are compared; what is quick comes first. */
export type ComparedPart =
  | { kind: "plan"; index: number; plan: PlanDocument }
  /** Loudness of each version's sound in LKFS; null for one that is silent there. */
  | { kind: "levels"; levels: (number | null)[] }
  | { kind: "limits"; index: number; limits: Limits };

/** Stray rings that are heard, moves without time, and changes of the hands a bar. */
export interface HandFigures {
  strays: number;
  rushed: number;
  gestures: number;
}

/** A passage with other fingers and places, and what is otherwise in it. */
export interface FoundFingering {
  bars: Passage["bars"];
  changes: BarChange[];
}

/** Those figures, and the limits of tempo once they are known. */
export interface Weighed extends HandFigures {
  limits: Limits | null;
}

/** A take that was looked at. */
export interface JudgedTake {
  /** The passage as often as it was played. */
  of: Passage;
  times: number;
  result: TakeResult;
  says: string;
  /** In words, and as the log keeps it; null where it is no take of the passage. */
  judged: { said: SaidTake; kept: KeptTake } | null;
}

/** Samples rendered at a time where only their loudness is asked for. */
const PIECE = 16384;

/** Long work of the page, each piece in a worker of its own: it is stopped by ending that worker. */
export const JOBS = {
  /** Other fingers and places for a whole passage. */
  refinger(passage: Passage, onProgress: OnProgress): FoundFingering {
    const { passage: found, changes } = told(refinger(passage), onProgress);
    return { bars: found.bars, changes };
  },

  /** Patterns for the chords of a passage, each planned at its goal. */
  propose(passage: Passage, wishes: Wishes, onProgress: OnProgress): Proposal[] {
    return told(proposals(passage, wishes), onProgress);
  },

  /** What the hands really did in a recording. */
  take({ samples, sampleRate }: Samples, passage: Passage, about: Pick<KeptTake, "id" | "at" | "file">, onProgress: OnProgress): JudgedTake {
    const { of, planned, times, result } = told(judgingWhole(samples, sampleRate, passage, planStages), onProgress);
    const says = `${times > 1 ? `Played ${times} times. ` : ""}${summaryOf(passage, result)}`;
    if (result.kind !== "judged") return { of, times, result, says, judged: null };
    const said = saidOf(of, planned, result, times);
    return { of, times, result, says, judged: { said, kept: keptTakeOf(passage, result, said, { ...about, seconds: samples.length / sampleRate }) } };
  },

  /** One time through of somebody who plays to a click. */
  round(samples: Float32Array, clock: Clock, sampleRate: number, passage: Passage): Judgement {
    return judgedRound({ samples, clock }, sampleRate, passage, planStages(passage));
  },

  /** How much later clicks come in than they were sent. */
  delay({ samples, sampleRate }: Samples, clicksMs: readonly number[]): Delay | null {
    return delayOf(samples, sampleRate, clicksMs);
  },

  /** Sound as a WAV file. */
  wavOf({ samples, sampleRate }: Samples): Blob {
    return new Blob([wavHeader(samples.length, sampleRate, "16"), wavSamples(samples, "16")] as BlobPart[], { type: "audio/wav" });
  },

  /** A passage played by nobody, with mistakes. */
  perform(passage: Passage, mistakes: Partial<Mistakes>, seed: number, onProgress: OnProgress): Samples {
    onProgress(0, 0);
    const { samples, sampleRate } = perform(passage, planStages(passage), { ...NO_MISTAKES, ...mistakes }, seed);
    return transfer({ samples, sampleRate }, [samples.buffer]);
  },

  /** The sound of a WAV file. */
  readSound(bytes: Uint8Array): Parsed<Samples> {
    const read = readWav(bytes);
    return read.ok ? transfer(read, [read.value.samples.buffer]) : read;
  },

  loudness(passage: Passage): LoudnessOverTime {
    const cache = new EngineCache();
    const planned = planStages(passage, cache);
    const { steps, endMs } = planned.timeline;
    return { steps: loudness(passage, planned, cache), stepsMs: steps.map((step) => step.ms), endMs };
  },

  /** A passage out of a file. */
  read(bytes: Uint8Array, options: FileOptions, onProgress: OnProgress): Parsed<FileRead> {
    return readBytes(bytes, { ...options, onProgress });
  },

  /** Every way to play a passage, tried. */
  schools(passage: Passage, onProgress: OnProgress): SchoolQuestion[] {
    return told(schools(passage), onProgress);
  },

  /** What the hands have to do in each version of a passage. */
  handFigures(passages: readonly Passage[]): HandFigures[] {
    const cache = new EngineCache();
    return passages.map((passage) => figuresOf(passage, cache));
  },

  /** What the hands have to do in each version of a passage, then how fast each can go; what is quick comes first. */
  weigh(passages: readonly Passage[], onPart: (index: number, figures: Weighed) => void): void {
    const caches = passages.map(() => new EngineCache());
    const figures = passages.map((passage, index) => {
      const own = figuresOf(passage, caches[index]!);
      onPart(index, { ...own, limits: null });
      return own;
    });
    for (const [index, passage] of passages.entries()) onPart(index, { ...figures[index]!, limits: finished(limits(passage, caches[index]!)) });
  },

  /** What to practise, out of the plan. */
  drills(passage: Passage, history: readonly Try[], minutes: number, turns: Turns): DrillPlan {
    const cache = new EngineCache();
    return drillsOf(documentOf(passage, planStages(passage, cache), { cache }), passage, history, minutes, turns);
  },

  /** The plan alone. */
  plan(passage: Passage): PlanDocument {
    return documentOf(passage, planStages(passage), {});
  },

  /** Where something begins in a file, in the bars of a passage. */
  onsets(bytes: Uint8Array, bars: Passage["bars"]): Parsed<Place[]> {
    return readOnsets(bytes, bars);
  },

  /** Passages of the library as files, one after the other; several come as one archive. */
  async exportFiles(ids: readonly string[], extension: Extension, options: WriteFileOptions, onProgress: OnProgress): Promise<ExportedFile> {
    const { type } = WRITTEN.find((format) => format.extension === extension)!;
    const files = new Map<string, Uint8Array>();
    const remarks: ExportedFile["remarks"] = [];
    for (const [i, id] of ids.entries()) {
      onProgress(i, ids.length);
      const response = await fetch(`/api/export/${id}`);
      if (!response.ok) throw new Error(response.status === 404 ? "a passage is not there any more" : `the server answered ${response.status}`);
      const passage = (await response.json()) as Passage;
      const written = writeBytes(passage, extension, options);
      files.set(freeName(slug(passage.title), extension, files), written.bytes);
      if (written.remarks.length > 0) remarks.push({ title: passage.title, remarks: written.remarks });
    }
    const [name, bytes] = files.size === 1 ? [...files][0]! : [`rest-hand-${extension.replace(".", "-")}.zip`, pack(files)];
    return { file: new Blob([bytes as Uint8Array<ArrayBuffer>], { type: files.size === 1 ? type : "application/zip" }), name, remarks };
  },

  /** A whole passage as a sound file, heard in one of the ways to listen; one string alone unless it is null. */
  wav(passage: Passage, { damping, string, depth }: { damping: Damping; string: number | null; depth: WavDepth }, onProgress: OnProgress): Blob {
    const sound = new Rendering(passage, planStages(passage), { damping, ...(string === null ? {} : { string }) });
    const parts: BlobPart[] = [wavHeader(sound.length, sound.sampleRate, depth) as Uint8Array<ArrayBuffer>];
    let done = 0;
    for (let piece = sound.take(sound.sampleRate); piece; piece = sound.take(sound.sampleRate)) {
      parts.push(wavSamples(piece, depth) as Uint8Array<ArrayBuffer>);
      done += piece.length;
      onProgress(done, sound.length);
    }
    parts.push(wavPadding(sound.length, depth) as Uint8Array<ArrayBuffer>);
    return new Blob(parts, { type: "audio/wav" });
  },

  /** A passage once through as samples, as far as its end; one string alone unless it is null. */
  samples(passage: Passage, { damping, string }: { damping: Damping; string: number | null }): Samples {
    const planned = planStages(passage);
    const sound = new Rendering(passage, planned, { damping, toMs: planned.timeline.endMs, ...(string === null ? {} : { string }) });
    const samples = sound.take(sound.length) ?? new Float32Array(0);
    return transfer({ samples, sampleRate: sound.sampleRate }, [samples.buffer as ArrayBuffer]);
  },

  /** Plans several versions of a passage, then how loud they are over some bars, then how fast they can go. */
  compare(passages: readonly Passage[], fromBar: number, toBar: number, onPart: (part: ComparedPart) => void): void {
    const all = passages.map((passage, index) => {
      const own = new EngineCache();
      const planned = planStages(passage, own);
      onPart({ kind: "plan", index, plan: documentOf(passage, planned, { cache: own }) });
      return { passage, planned, own };
    });
    onPart({ kind: "levels", levels: all.map(({ passage, planned }) => levelOf(passage, planned, fromBar, toBar)) });
    for (const [index, { passage, own }] of all.entries()) onPart({ kind: "limits", index, limits: finished(limits(passage, own)) });
  },
};

function figuresOf(passage: Passage, cache: EngineCache): HandFigures {
  const { strays, bottlenecks, cost } = documentOf(passage, planStages(passage, cache), { cache });
  return {
    strays: strays.filter(({ faint }) => !faint).length,
    rushed: bottlenecks.length,
    gestures: Math.round((10 * cost.changes) / passage.bars.length) / 10,
  };
}

/** The result of a search that says how far it is. */
function told<T>(search: Generator<{ done: number; of: number }, T, void>, onProgress: OnProgress): T {
  let step = search.next();
  while (!step.done) {
    onProgress(step.value.done, step.value.of);
    step = search.next();
  }
  return step.value;
}

export type Jobs = typeof JOBS;

/** Passages may share a title: later ones are numbered. */
function freeName(name: string, extension: Extension, taken: ReadonlyMap<string, unknown>): string {
  for (let number = 1; ; number++) {
    const file = `${name}${number > 1 ? `-${number}` : ""}.${extension}`;
    if (!taken.has(file)) return file;
  }
}

/** How loud some bars sound to a listener, in LKFS; null where they are silent. */
function levelOf(passage: Passage, planned: PlannedStages, fromBar: number, toBar: number): number | null {
  const { bars, endMs } = planned.timeline;
  const fromMs = bars[fromBar]?.startMs ?? 0;
  const toMs = bars[toBar + 1]?.startMs ?? endMs;
  const sound = new Rendering(passage, planned, { damping: "planned", fromMs, toMs });
  const meter = new ProgrammeLoudness(sound.sampleRate);
  for (let piece = sound.take(PIECE); piece; piece = sound.take(PIECE)) meter.feed(piece);
  return meter.integrated();
}
