import fs from "node:fs";

/** A process that cannot be mistaken for a later one with the same number. */
export interface ProcessIdentity {
  readonly pid: number;
  /** When it was started, in the system's own count; empty where the system does not tell. */
  readonly started: string;
}

/**
 * The start time that Linux keeps of a process (field 22 of its `stat`, in clock ticks since boot); empty elsewhere.
 */
function startOf(pid: number): string {
  try {
    const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
    // The name in brackets may hold blanks and brackets: fields are counted from the last one.
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? "";
  } catch {
    return "";
  }
}

export const thisProcess = (): ProcessIdentity => ({ pid: process.pid, started: startOf(process.pid) });

/** Whether that very process still runs. */
export function isAlive({ pid, started }: ProcessIdentity): boolean {
  if (!Number.isInteger(pid) || pid <= 0) return false;
  try {
    process.kill(pid, 0);
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code !== "EPERM") return false;
  }
  const now = startOf(pid);
  return started === "" || now === "" || now === started;
}
