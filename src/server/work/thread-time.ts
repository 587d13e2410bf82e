import { readFileSync, readlinkSync } from "node:fs";

/** What the system calls this thread; null where it does not say. */
export function ownThread(): string | null {
  try {
    // "PID/task/TID", on Linux.
    return readlinkSync("/proc/thread-self").split("/").at(-1)!;
  } catch {
    return null;
  }
}

/** Clock ticks a second in /proc, on every Linux that is built today (proc(5), USER_HZ). */
const TICKS_A_SECOND = 100;

/** Time that a thread of this process has worked so far, in ms, whatever else the machine does; by the clock on the wall where that is not known. */
export function workedMs(thread: string | null): number {
  if (thread === null) return performance.now();
  try {
    // After the name in brackets: utime and stime are the 14th and 15th field of all.
    const fields = readFileSync(`/proc/self/task/${thread}/stat`, "utf8").split(") ").at(-1)!.split(" ");
    return ((Number(fields[11]) + Number(fields[12])) * 1000) / TICKS_A_SECOND;
  } catch {
    // A thread that has gone works no more.
    return 0;
  }
}
