import fs from "node:fs";

/** Clock ticks a second, in which Linux counts processor time. */
const TICKS = 100;

/** The system's number of the calling thread; undefined where it does not tell. */
export function threadNumber(): string | undefined {
  try {
    return fs.readlinkSync("/proc/thread-self").split("/").pop();
  } catch {
    return undefined;
  }
}

/** Seconds of processor time that a thread of this process has used; undefined where the system does not tell. */
export function threadSeconds(thread: string | undefined): number | undefined {
  if (thread === undefined) return undefined;
  try {
    const stat = fs.readFileSync(`/proc/self/task/${thread}/stat`, "utf8");
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    return (Number(fields[11]) + Number(fields[12])) / TICKS;
  } catch {
    return undefined;
  }
}
