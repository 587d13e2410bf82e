import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { parsePassageText } from "../core/passage/parse.ts";
import { type PracticeSession, practiceLogSchema } from "../core/practice/record.ts";
import type { Library } from "./library.ts";
import type { Practice } from "./practice.ts";

/** Puts the demo passages, and what was practised of them, into an empty library; one that holds anything is left as it is. */
export async function loadDemo(library: Library, practice: Practice, folder: string): Promise<void> {
  if ((await library.count()) > 0) return;
  const files = readdirSync(folder)
    .filter((name) => name.endsWith(".resthand.json"))
    .sort();
  const passages = files.map((file) => {
    const parsed = parsePassageText(readFileSync(join(folder, file), "utf8"));
    if (!parsed.ok) throw new Error(`demo/${file}: ${parsed.faults[0]!.place}: ${parsed.faults[0]!.says}`);
    return parsed.value;
  });
  const ids = await library.createAll(passages);
  const byTitle = new Map(passages.map(({ title }, i) => [title, ids[i]!]));
  const { sessions } = practiceLogSchema.parse(JSON.parse(readFileSync(join(folder, "practice.json"), "utf8")));
  for (const session of movedToNow(sessions, Date.now())) await practice.save({ ...session, passage: byTitle.get(session.title) ?? null });
}

const DAY_MS = 86_400_000;

/** The same sessions at their times of day, so that the last one was yesterday. */
export function movedToNow(sessions: readonly PracticeSession[], now: number): PracticeSession[] {
  const last = Math.max(...sessions.map(({ startedAt }) => Date.parse(startedAt)));
  const by = (Math.floor(now / DAY_MS) - Math.floor(last / DAY_MS) - 1) * DAY_MS;
  const later = (moment: string) => new Date(Date.parse(moment) + by).toISOString();
  return sessions.map((session) => ({
    ...session,
    startedAt: later(session.startedAt),
    endedAt: later(session.endedAt),
    tries: session.tries.map((one) => ({ ...one, at: later(one.at) })),
    takes: session.takes.map((one) => ({ ...one, at: later(one.at) })),
    discomforts: session.discomforts.map((one) => ({ ...one, at: later(one.at) })),
  }));
}
