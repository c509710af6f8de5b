import { spawnSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { ServerProcess } from "./endure.js";

interface Job {
  readonly id: number;
  readonly state: string;
  readonly endedAt: number | null;
}

const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const SIZE = 24;

/** A small disk of its own; undefined where this process may not make one. */
function smallDisk(folder: string): (() => void) | undefined {
  fs.mkdirSync(folder, { recursive: true });
  const made = spawnSync("mount", ["-t", "tmpfs", "-o", `size=${SIZE}m`, "tmpfs", folder], { stdio: "ignore" });
  return made.status === 0 ? () => void spawnSync("umount", ["-l", folder]) : undefined;
}

/**
 * Lets jobs run on a disk that has room for a few kilobytes, or none: the server goes on, every answer is a clean one,
 * states are true, and once there is room again the next job is done.
 *
 * @returns what did not hold; undefined where no small disk can be made
 */
export async function endureFullDisk(
  base: string,
  study: { name: string; folder: string },
  script: string,
  rounds: number,
  random: () => number,
): Promise<string[] | undefined> {
  const disk = path.join(base, "disk");
  const unmount = smallDisk(disk);
  if (!unmount) return undefined;
  const broken: string[] = [];
  const server = new ServerProcess(path.join(disk, "data"));
  try {
    await server.start();
    await server.ask("POST", "studies", study);
    const run = async (round: string): Promise<string> => {
      const { id } = await server.ask<Job>("POST", "jobs", {
        script: "full.ts",
        text: script.replaceAll("@round", round),
        mode: "run",
      });
      for (const start = Date.now(); ; await pause(30)) {
        const job = await server.ask<Job>("GET", `jobs/${id}`);
        if (job.endedAt !== null) return job.state;
        if (Date.now() - start > 60_000) return "does not end";
      }
    };
    const filler = path.join(disk, "filler");
    for (let round = 0; round < rounds; round++) {
      const free = fs.statfsSync(disk);
      const room = Math.floor(random() ** 3 * 600_000);
      fs.writeFileSync(filler, Buffer.alloc(Math.max(0, free.bfree * free.bsize - room)));
      try {
        const state = await run(String(2 * round));
        if (!["done", "failed"].includes(state)) broken.push(`round ${round}, ${room} bytes free: the job is ${state}`);
      } catch (e) {
        // A refusal in words is an answer; silence is not.
        if (!/: (?:4\d\d|5\d\d) \{"error":"/.test((e as Error).message))
          broken.push(`round ${round}: ${(e as Error).message}`);
      }
      if (!server.alive) {
        broken.push(`round ${round}, ${room} bytes free: the server ended`);
        await server.start();
      }
      fs.rmSync(filler);
      await pause(2500);
      const state = await run(String(2 * round + 1)).catch((e: unknown) => (e as Error).message);
      if (state !== "done") broken.push(`round ${round}: with room again the job is ${state}`);
      for (const f of ["cache", "jobs"]) clear(path.join(disk, "data", f), f === "jobs" ? 6 : 0);
    }
  } finally {
    await server.kill();
    unmount();
  }
  return broken;
}

/** Keeps the disk small: old jobs and the cache go. */
function clear(folder: string, keep: number): void {
  const names = fs.existsSync(folder) ? fs.readdirSync(folder).sort((a, b) => Number(a) - Number(b)) : [];
  for (const n of names.slice(0, Math.max(0, names.length - keep)))
    fs.rmSync(path.join(folder, n), { recursive: true });
}
