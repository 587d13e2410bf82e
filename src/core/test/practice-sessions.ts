import type { KeptTake, PracticeSession } from "../practice/record.ts";

/** A session of a passage (or of a move, by its name): some drills, each with tries given as tempos, those that failed below 0. */
export function practiceOf(
  n: number,
  of: { passage?: string; figure?: string },
  startedAt: string,
  drills: Readonly<Record<string, readonly number[]>>,
  goal = 100,
): PracticeSession {
  const start = Date.parse(startedAt);
  const at = (seconds: number) => new Date(start + 1000 * seconds).toISOString();
  let tries = 0;
  return {
    id: `00000000-0000-4000-9000-${String(n).padStart(12, "0")}`,
    passage: of.passage ?? null,
    figure: of.figure ?? null,
    title: `Session ${n}`,
    startedAt,
    minutes: 10,
    note: "",
    drills: Object.keys(drills).map((id) => ({ id, kind: id === "whole" ? "whole" : "both-strings", title: `Drill ${id}`, start: 60, goal, seconds: 90 })),
    tries: Object.entries(drills).flatMap(([drill, own]) =>
      own.map((tempo) => ({ drill, tempo: Math.abs(tempo), clean: tempo > 0, at: at(10 * ++tries), by: "player" as const })),
    ),
    endedAt: at(600),
    discomforts: [],
    takes: [],
  };
}

/** A take in which some strings rang that should be still. */
export function takeOfStrays(n: number, at: string, strings: readonly number[]): KeptTake {
  const says = "A string rang that should be still.";
  return {
    id: `00000000-0000-4000-b000-${String(n).padStart(12, "0")}`,
    at,
    file: null,
    seconds: 20,
    written: 100,
    played: 98,
    says,
    findings: strings.map((string, i) => ({ kind: "stray", bar: 1 + i, tick: 0, string, fromMs: 2000 * i, toMs: 2000 * i + 400, says })),
    notes: 12,
    untold: 1,
    evenMs: 6,
  };
}
