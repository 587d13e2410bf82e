import { Sparkles } from "lucide-react";
import { useId, useRef, useState } from "react";
import { ticksOf } from "../../core/music/ticks.ts";
import type { Parsed } from "../../core/passage/parse.ts";
import type { Place } from "../../core/passage/place.ts";
import type { Passage, Rule } from "../../core/passage/schema.ts";
import { NO_WISHES, type Proposal, type Wishes } from "../../core/propose/types.ts";
import { useJob } from "../jobs/use-job.ts";
import { Running } from "../parts/Running.tsx";
import { keepDrummer, playsWithDrummer } from "./DrummerQuestion.tsx";

type Lean = Pick<Wishes, "busy" | "backbeat" | "steady">;

/** Away from what was proposed, a step at a time. */
const LEANS: readonly { says: string; lean: Partial<Lean> }[] = [
  { says: "busier", lean: { busy: 1 } },
  { says: "calmer", lean: { busy: -1 } },
  { says: "more backbeat", lean: { backbeat: 1 } },
  { says: "fewer lifts", lean: { steady: 1 } },
];

/** Patterns for these chords, sought and planned at the goal tempo; one is taken with a press. */
export function Proposals({ passage, onTake }: { passage: Passage; onTake(rules: readonly Rule[]): void }) {
  const { progress, failed, run, stop } = useJob();
  const [drummer, setDrummer] = useState(() => playsWithDrummer() === "yes");
  const [lean, setLean] = useState<Lean>(NO_WISHES);
  const [track, setTrack] = useState<{ name: string; heard: readonly Place[] } | null>(null);
  const [trackFault, setTrackFault] = useState<string | null>(null);
  const [found, setFound] = useState<readonly Proposal[] | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const hintId = useId();
  const heard = track?.heard ?? accentsIn(passage);

  const seek = (wishes: Partial<Wishes>) =>
    run(
      (jobs, onProgress) => jobs.propose(passage, { drummer, heard, ...lean, ...wishes }, onProgress),
      (proposals) => setFound(proposals),
    );
  const leanTo = (change: Partial<Lean>) => {
    const next = { ...lean };
    for (const [key, by] of Object.entries(change) as [keyof Lean, number][]) next[key] = Math.max(-2, Math.min(2, next[key] + by));
    setLean(next);
    seek(next);
  };
  const readTrack = async (chosen: File) => {
    const bytes = new Uint8Array(await chosen.arrayBuffer());
    setTrackFault(null);
    run<Parsed<Place[]>>(
      (jobs) => jobs.onsets(bytes, passage.bars) as Promise<Parsed<Place[]>>,
      (read) => {
        if (read.ok) setTrack({ name: chosen.name, heard: read.value });
        else setTrackFault(`${read.faults[0]!.place}: ${read.faults[0]!.says}`);
      },
    );
  };

  return (
    <section aria-label="Proposed patterns" className="rounded-lg border border-base-300 p-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <button type="button" className="btn btn-primary btn-sm" disabled={progress !== null} onClick={() => seek({})} aria-describedby={hintId}>
          <Sparkles size={16} aria-hidden /> Propose patterns
        </button>
        <label className="flex cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={drummer}
            onChange={({ target }) => {
              setDrummer(target.checked);
              keepDrummer(target.checked ? "yes" : "no");
              if (found) seek({ drummer: target.checked });
            }}
          />
          with a drummer
        </label>
      </div>
      <p id={hintId} className="quiet mt-1 text-sm">
        {heardWords(heard.length, track?.name ?? null)}{" "}
        {track ? (
          <button type="button" className="link" onClick={() => setTrack(null)}>
            take the accents instead
          </button>
        ) : (
          <button type="button" className="link" onClick={() => file.current?.click()}>
            or take them from a tune or drum track
          </button>
        )}
      </p>
      <input
        ref={file}
        type="file"
        className="hidden"
        aria-label="A tune or drum track"
        accept=".mid,.midi,.musicxml,.mxl,.xml,.txt,.tab,.json"
        onChange={({ target }) => {
          const chosen = target.files?.[0];
          target.value = "";
          if (chosen) void readTrack(chosen);
        }}
      />
      {trackFault && (
        <p role="alert" className="mt-1 font-semibold">
          This file cannot be read. {trackFault}
        </p>
      )}
      {failed && (
        <p role="alert" className="mt-1 font-semibold">
          The search failed: {failed}
        </p>
      )}
      {progress && (
        <div className="mt-2">
          <Running progress={progress} says="Trying patterns" onStop={stop} />
        </div>
      )}
      {found && found.length === 0 && !progress && (
        <p role="status" className="mt-2">
          Nothing fits: there are no chords to strum, or the goal tempo is beyond these hands.
        </p>
      )}
      {found && found.length > 0 && (
        <>
          <ul className="mt-2 space-y-1.5">
            {found.map((proposal) => (
              <li key={JSON.stringify(proposal.rules)}>
                <button
                  type="button"
                  className="w-full rounded-md border border-base-300 px-3 py-1.5 text-left hover:bg-base-300"
                  onClick={() => onTake(proposal.rules)}
                >
                  <b className="block">{proposal.name}</b>
                  <span className="block overflow-hidden font-mono text-ellipsis whitespace-nowrap">{lineOf(proposal)}</span>
                  <span className="quiet block text-sm">{proposal.why}</span>
                </button>
              </li>
            ))}
          </ul>
          <div className="mt-2 flex flex-wrap gap-1.5">
            {LEANS.map(({ says, lean: by }) => (
              <button key={says} type="button" className="btn btn-sm" disabled={progress !== null} onClick={() => leanTo(by)}>
                {says}
              </button>
            ))}
          </div>
        </>
      )}
    </section>
  );
}

function heardWords(count: number, file: string | null): string {
  if (count === 0) return file ? `Nothing begins in ${file} within these bars;` : "Nothing is accented that must be heard;";
  const places = count === 1 ? "1 place must be heard" : `${count} places must be heard`;
  return file ? `${places}, out of ${file};` : `${places}: the accents;`;
}

function lineOf({ rules }: Proposal): string {
  return rules.flatMap((rule) => (rule.kind === "pattern" ? [rule.pattern] : [])).join(" | ");
}

function accentsIn({ bars }: Passage): Place[] {
  return bars.flatMap((bar, b) => bar.strokes.filter((stroke) => stroke.accent).map((stroke) => ({ bar: b, tick: ticksOf(stroke.at) })));
}
