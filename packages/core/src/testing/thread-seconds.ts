import fs from "node:fs";

/**
 * Seconds of processor time that the calling thread has used. Tests share a process: what others use at the same time
 * does not count. Where the system does not tell, the time of the whole process.
 */
export function threadSeconds(): number {
  try {
    const stat = fs.readFileSync("/proc/thread-self/stat", "utf8");
    const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
    return (Number(fields[11]) + Number(fields[12])) / 100;
  } catch {
    const { user, system } = process.cpuUsage();
    return (user + system) / 1e6;
  }
}
