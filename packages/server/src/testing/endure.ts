import { createHash } from "node:crypto";
import { spawn, type ChildProcess } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

/** What happened in a round, by what was done to the job. */
export interface Endured {
  readonly rounds: number;
  /** Job states by what was done, e.g. `{ "kill server": { interrupted: 60, done: 4 } }`. */
  readonly ended: Readonly<Record<string, Readonly<Record<string, number>>>>;
  /** What did not hold; empty when all is well. */
  readonly broken: readonly string[];
}

interface Job {
  readonly id: number;
  readonly state: string;
  readonly exit: number | null;
  readonly endedAt: number | null;
}

const main = fileURLToPath(new URL("../main.js", import.meta.url));
const acts = ["stop", "kill job", "kill server"] as const;
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** A server process that can be ended like a machine that loses its power. */
export class ServerProcess {
  #child: ChildProcess | undefined;
  #address = "";

  /** How often a process outlived the server that had started it. */
  orphans = 0;

  constructor(private readonly dataFolder: string) {}

  async start(): Promise<void> {
    const child = spawn(process.execPath, [main], {
      env: { ...process.env, PORT: "0", OXTRUM_DATA: this.dataFolder, OXTRUM_DEMO: undefined },
      stdio: ["ignore", "pipe", "inherit"],
    });
    this.#child = child;
    this.#address = await new Promise((done, failed) => {
      child.stdout!.on("data", (d: Buffer) => {
        const m = /at (http:\S+)/.exec(d.toString());
        if (m) done(m[1]!.replace("localhost", "127.0.0.1"));
      });
      child.on("exit", () => failed(new Error("the server did not start")));
    });
  }

  async ask<T>(method: string, url: string, body?: unknown): Promise<T> {
    const r = await fetch(`${this.#address}/api/${url}`, {
      method,
      ...(body !== undefined && { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
    });
    const text = await r.text();
    if (!r.ok) throw new Error(`${method} ${url}: ${r.status} ${text}`);
    return (text === "" ? undefined : JSON.parse(text)) as T;
  }

  /** A stream of events, until the signal. */
  async stream(url: string, signal: AbortSignal): Promise<AsyncIterable<Uint8Array>> {
    const r = await fetch(`${this.#address}/api/${url}`, { signal });
    return r.body as unknown as AsyncIterable<Uint8Array>;
  }

  /** MiB of memory that the process holds, on systems that tell. */
  get memory(): number {
    const kb = /VmRSS:\s+(\d+)/.exec(fs.readFileSync(`/proc/${this.#child!.pid}/status`, "utf8"))?.[1];
    return Math.round(Number(kb) / 1024);
  }

  /** Processor time that the process has used, s, on systems that tell. */
  get processor(): number {
    const stat = fs.readFileSync(`/proc/${this.#child!.pid}/stat`, "utf8");
    const [user, system] = stat
      .slice(stat.lastIndexOf(")") + 2)
      .split(" ")
      .slice(11, 13);
    return (Number(user) + Number(system)) / 100;
  }

  /** Kills the processes in which jobs run (one of them may be the spare one). */
  killJobs(): void {
    for (const pid of childrenOf(this.#child!.pid!)) {
      try {
        process.kill(pid, "SIGKILL");
      } catch {
        continue; // Gone meanwhile.
      }
    }
  }

  /** Whether the server's process is there. */
  get alive(): boolean {
    return this.#child?.exitCode === null && this.#child.signalCode === null;
  }

  async kill(): Promise<void> {
    const child = this.#child;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((done) => child.once("exit", done));
    const jobs = childrenOf(child.pid!);
    child.kill("SIGKILL");
    await gone;
    for (const start = Date.now(); jobs.some(runs) && Date.now() - start < ORPHANS;) await pause(50);
    if (jobs.some(runs)) this.orphans++;
  }
}

/** How long a job's process may take to see that its server is gone, in ms. */
const ORPHANS = 10_000;

const runs = (pid: number): boolean => {
  try {
    return !/\) Z/.test(fs.readFileSync(`/proc/${pid}/stat`, "utf8"));
  } catch {
    return false;
  }
};

/** The processes that a process has started, on systems that tell. */
function childrenOf(parent: number): number[] {
  if (!fs.existsSync("/proc")) return [];
  return fs
    .readdirSync("/proc")
    .filter((f) => /^\d+$/.test(f))
    .filter((pid) => {
      try {
        const stat = fs.readFileSync(`/proc/${pid}/stat`, "utf8");
        return Number(stat.slice(stat.lastIndexOf(")") + 2).split(" ")[1]) === parent;
      } catch {
        return false;
      }
    })
    .map(Number);
}

/** A small generator of numbers in [0, 1), so that a round that broke can be had again (Lehmer 1951). */
export function numbers(seed: number): () => number {
  let x = 1 + (seed % 2147483646);
  return () => (x = (x * 16807) % 2147483647) / 2147483647;
}

interface Listed {
  readonly file: string;
  readonly sha256: string;
}

/** What is wrong with a job's folder of outputs: it has to be whole or absent. */
function outputsOf(folder: string, state: string): string | undefined {
  const out = path.join(folder, "outputs");
  const there = fs.existsSync(out);
  if (state === "done" && !there) return "is done but has no outputs";
  if (state !== "done") return there ? "has outputs" : undefined;
  let manifest: { outputs: { files: Listed[] }[]; indexes: Listed[] };
  try {
    manifest = JSON.parse(fs.readFileSync(path.join(out, "manifest.json"), "utf8")) as typeof manifest;
  } catch (e) {
    return `has outputs without a whole manifest: ${(e as Error).message}`;
  }
  const promised = [...manifest.outputs.flatMap((o) => o.files), ...manifest.indexes];
  for (const f of promised) {
    const full = path.join(out, f.file);
    if (!fs.existsSync(full)) return `lacks ${f.file}`;
    if (createHash("sha256").update(fs.readFileSync(full)).digest("hex") !== f.sha256) return `has a broken ${f.file}`;
  }
  const extra = fs.readdirSync(out).filter((f) => f !== "manifest.json" && !promised.some((p) => p.file === f));
  return extra.length > 0 ? `has ${extra.join(", ")}, of which its manifest knows nothing` : undefined;
}

/**
 * Starts jobs on a study and, at random moments, stops them, kills their processes or kills the server; looks after
 * each whether states are true, outputs whole or absent, and everything that was stored still there.
 *
 * @param script text of a script that makes outputs; `@round` in it is replaced by the round's number
 */
export async function endure(o: {
  dataFolder: string;
  study: { name: string; folder: string };
  script: string;
  rounds: number;
  seed: number;
  /** The longest wait before something is done to the job, in ms. */
  longest: number;
  tell?: (round: number) => void;
}): Promise<Endured> {
  const random = numbers(o.seed);
  const server = new ServerProcess(o.dataFolder);
  const ended: Record<string, Record<string, number>> = {};
  const broken: string[] = [];
  const settled = new Map<number, string>();
  await server.start();
  await server.ask("POST", "studies", o.study);
  for (let round = 0; round < o.rounds; round++) {
    const act = acts[Math.floor(random() * acts.length)]!;
    const text = o.script.replaceAll("@round", String(round));
    const { id } = await server.ask<Job>("POST", "jobs", { script: "endure.ts", text, mode: "run" });
    await pause(random() * o.longest);
    if (act === "kill server") {
      await server.kill();
      await server.start();
    } else if (act === "stop") await server.ask("POST", `jobs/${id}/stop`);
    else server.killJobs();
    let job = await server.ask<Job>("GET", `jobs/${id}`);
    for (const start = Date.now(); job.endedAt === null; job = await server.ask<Job>("GET", `jobs/${id}`)) {
      if (Date.now() - start > 30_000) {
        broken.push(`round ${round}: job ${id} is ${job.state} and does not end`);
        break;
      }
      await pause(20);
    }
    (ended[act] ??= {})[job.state] = (ended[act]![job.state] ?? 0) + 1;
    settled.set(id, job.state);
    const wrong = outputsOf(path.join(o.dataFolder, "jobs", String(id)), job.state);
    if (wrong !== undefined) broken.push(`round ${round}, ${act}: job ${id} (${job.state}) ${wrong}`);
    if (job.state === "done" && job.exit !== 0) broken.push(`round ${round}: job ${id} is done with exit ${job.exit}`);
    const saved = await server.ask<{ revision: number; text: string }>("GET", "scripts/endure.ts");
    if (saved.revision !== round + 1 || saved.text !== text)
      broken.push(`round ${round}: the script's text is not kept`);
    o.tell?.(round);
  }
  // Nothing that was once settled has changed since.
  for (const job of await server.ask<Job[]>("GET", "jobs"))
    if (settled.has(job.id) && settled.get(job.id) !== job.state)
      broken.push(`job ${job.id} was ${settled.get(job.id)} and is ${job.state} now`);
  const { id } = await server.ask<Job>("POST", "jobs", {
    script: "endure.ts",
    text: o.script.replaceAll("@round", String(o.rounds)),
    mode: "run",
  });
  let last = await server.ask<Job>("GET", `jobs/${id}`);
  for (; last.endedAt === null; last = await server.ask<Job>("GET", `jobs/${id}`)) await pause(20);
  if (last.state !== "done" || last.exit !== 0) broken.push(`the last job, left in peace, is ${last.state}`);
  await server.kill();
  if (server.orphans > 0) broken.push(`${server.orphans} times a job's process outlived its server`);
  return { rounds: o.rounds, ended, broken };
}
