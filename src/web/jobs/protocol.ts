import type { Limits, PlanDocument } from "../../core/document/plan.ts";
import type { FileRead } from "../../core/formats/files.ts";
import type { MidiGrid } from "../../core/formats/midi/grids.ts";
import type { Extension } from "../../core/formats/written.ts";
import type { Loudness } from "../../core/loudness/loudness.ts";
import type { Fault, Parsed } from "../../core/passage/parse.ts";
import type { Passage } from "../../core/passage/schema.ts";
import type { Damping } from "../../core/sound/score.ts";
import type { WavDepth } from "../../core/sound/wav.ts";

/** Messages between the page and a worker for long work. Work is stopped by terminating its worker. */
export type JobRequest =
  /** Plans ahead, so that sound can begin at once. Bars known from before come as their index. */
  | { kind: "prepare"; passage: Omit<Passage, "bars">; bars: (Passage["bars"][number] | number)[] }
  /** Renders the prepared passage from a step: to the end, to where another step begins, or that step alone. */
  | { kind: "render"; job: number; damping: Damping; string: number | null; fromStep: number; stepOnly: boolean; toStep: number | null; loop: boolean }
  /** The next piece, please: pieces are made as they are needed. */
  | { kind: "more"; job: number; samples: number }
  | { kind: "refinger"; passage: Passage }
  | { kind: "loudness"; passage: Passage }
  /** A passage out of a file. */
  | { kind: "read"; bytes: Uint8Array; part?: number | undefined; grid?: MidiGrid | undefined }
  /** Passages of the library as files; several come packed. */
  | { kind: "export"; ids: readonly string[]; extension: Extension; withPlan: boolean }
  /** The whole passage as a sound file, heard in one of the ways to listen. */
  | { kind: "wav"; passage: Passage; damping: Damping; string: number | null; depth: WavDepth }
  /** Plans several versions, and measures how loud each is over some bars. */
  | { kind: "compare"; passages: readonly Passage[]; fromBar: number; toBar: number };

/** A beat in ms from the start of the sound; those of the bar to count in come before 0. */
export interface Beat {
  ms: number;
  strong: boolean;
}

export type JobAnswer =
  | { kind: "piece"; job: number; samples: Float32Array<ArrayBuffer>; sampleRate: number }
  /** Nothing more to come; `steps` are the times of all steps in ms from the start of the sound. */
  | { kind: "rendered"; job: number }
  | { kind: "rendering"; job: number; stepsMs: number[]; beats: Beat[] }
  | { kind: "progress"; done: number; of: number }
  | { kind: "refingered"; bars: Passage["bars"]; changes: string[]; before: number; after: number }
  | { kind: "loudness"; steps: Loudness[][]; stepsMs: number[]; endMs: number }
  | { kind: "wav"; file: Blob }
  | { kind: "read"; read: Parsed<FileRead> }
  | { kind: "exported"; file: Blob; name: string; remarks: { title: string; remarks: Fault[] }[] }
  | { kind: "compared"; index: number; plan: PlanDocument }
  | { kind: "limits-of"; index: number; limits: Limits }
  /** Root mean square of each version's sound; null for one that is silent there. */
  | { kind: "levels"; levels: (number | null)[] }
  | { kind: "failed"; says: string };
