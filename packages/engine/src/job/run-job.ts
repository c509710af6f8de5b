import { askedSites } from "../scheduler/asked-sites.js";
import os from "node:os";
import path from "node:path";
import type { ScriptDiagnostic } from "../check/messages.js";
import { Graph } from "../scheduler/graph.js";
import { sandboxStudy, triesAll } from "./sandbox-study.js";
import { stateReader } from "./run-states.js";
import { gridOf } from "../scheduler/grid.js";
import { SchemaInference } from "../scheduler/infer.js";
import { isRefused, mergeExcluded, reasonText, type Fault, type ExcludedRun } from "../verbs/values.js";
import type { Emission, SandboxStudy } from "../sandbox/protocol.js";
import { Sandbox } from "../sandbox/run-script.js";
import { ResultCache } from "../store/cache.js";
import { IdentityMemo } from "../store/identity.js";
import { keptPlace } from "../store/kept-places.js";
import { listNames, suggestion } from "@oxtrum/core/tables";
import { scanStudy } from "../study/catalogue.js";
import { shownField } from "../study/field-catalogue.js";
import type { Catalogue } from "../definition/catalogue-model.js";
import { studyTypes } from "../study/types.js";
import { runNames, type RunRef } from "../definition/run-ref.js";
import { selectRuns } from "../study/selector.js";
import { Budget } from "../read/budget.js";
import { Pool, prestartThread, type BatchRunner } from "../scheduler/pool.js";
import type { CellState, WorkerSetup } from "../scheduler/protocol.js";
import type { ExitCode, JobEvent, JobSummary, OutputRecord } from "../record/events.js";
import { makeManifest, type Manifest } from "../record/manifest.js";
import { neededColumns } from "../scheduler/needed-columns.js";
import type { JobRequest } from "../record/request.js";
import { Session } from "../scheduler/session.js";
import { makeOutputs } from "../outputs/make-outputs.js";
import { namingSchema, type Naming } from "../sandbox/naming-schema.js";
import { placeOutputs } from "../outputs/place-outputs.js";
import { HeldEvents } from "./held-events.js";
import { JobCheck } from "./job-check.js";
import { mistakeDiagnostics } from "./mistake-diagnostics.js";
import { columnsAnswer, readAnswer } from "./read-answer.js";
import { diskReason, isDiskError } from "../store/disk-errors.js";
import { OutputFolder } from "../outputs/output-folder.js";

export interface JobResult {
  readonly exit: ExitCode;
  readonly outputs: readonly OutputRecord[];
  readonly manifest: Manifest | undefined;
  readonly summary: JobSummary;
}

/** Threads that were started before the job was known: what takes half a second of a Try. */
export interface PrestartedThreads {
  readonly sandbox: Sandbox;
  /** Instead of threads: how tests evaluate without starting any. */
  readonly runner?: (setup: () => WorkerSetup) => BatchRunner;
  /** Whether the script is checked while it runs; see `check/ask-check.ts`. */
  readonly checksAside?: boolean;
}

/** Starts what a job will need, whatever it is. */
export function warmUp(): PrestartedThreads {
  prestartThread();
  return { sandbox: new Sandbox() };
}

/** The script cannot go on; the message has been told. */
class ScriptStopped extends Error {}

/**
 * Runs a job: scans its studies, checks the script, lets it make its graph, works the graph off and writes outputs and
 * manifest. Errors in data are told run by run; only errors in the script stop it.
 *
 * @param tell receives everything that happens, in order
 * @param warm threads made ready before
 */
export async function runJob(
  request: JobRequest,
  tell: (e: JobEvent) => void,
  signal?: AbortSignal,
  warm?: PrestartedThreads,
): Promise<JobResult> {
  const job = new Job(request, tell, signal, warm ?? { sandbox: new Sandbox() });
  return job.run();
}

class Job {
  readonly #start = performance.now();
  readonly #catalogues = new Map<string, Catalogue>();
  readonly #chosen = new Map<string, Set<string>>();
  readonly #graph = new Graph();
  readonly #emissions: Emission[] = [];
  readonly #inputs = new Map<string, unknown>();
  readonly #modules: string[] = [];
  readonly #left: ExcludedRun[] = [];
  #runName: (run: RunRef) => string = ({ id }) => id;
  /** Nodes that say which runs count. */
  readonly #judging: number[] = [];
  #naming: Naming | undefined;
  #folder: OutputFolder | undefined;
  #cells = { done: 0, cached: 0 };
  #schemas!: SchemaInference;
  #session!: Session;
  private readonly tell: (e: JobEvent) => void;
  /** Ends the work: whoever asked for it stops it, or the check found errors. */
  readonly #stop = new AbortController();
  readonly #check: JobCheck;

  constructor(
    private readonly request: JobRequest,
    tell: (e: JobEvent) => void,
    private readonly signal: AbortSignal | undefined,
    private readonly warm: PrestartedThreads,
  ) {
    const events = new HeldEvents(tell);
    this.tell = events.tell;
    this.#check = new JobCheck(events, () => this.#stop.abort());
  }

  async run(): Promise<JobResult> {
    const { request, tell } = this;
    const budget = Budget.create(request.memory);
    const stop = new SharedArrayBuffer(4);
    const memo = new IdentityMemo(request.dataFolder);
    const cache = request.cache ? new ResultCache(keptPlace(request.dataFolder, "cache")) : undefined;
    const workers = request.workers ?? Math.max(1, Math.min(os.availableParallelism(), 8));
    const setup = (): WorkerSetup => this.#workerSetup(budget, workers, stop);
    const pool = this.warm.runner?.(setup) ?? new Pool(workers, setup);
    this.#stop.signal.addEventListener("abort", () => void Atomics.store(new Int32Array(stop), 0, 1));
    const onAbort = (): void => this.#stop.abort();
    if (this.signal?.aborted) onAbort();
    this.signal?.addEventListener("abort", onAbort);
    const flusher = setInterval(() => cache?.flush(), 1000);
    try {
      if (request.mode === "run" && request.outFolder !== undefined)
        this.#folder = OutputFolder.open(request.outFolder, request.studies);
      this.#check.prepare(request, this.warm.checksAside);
      await this.#scan();
      if (request.mode !== "dry") pool.warm();
      const modules = await this.#compiled();
      this.#schemas = new SchemaInference(this.#graph, this.#catalogues, this.#runName);
      this.#session = this.#openSession(pool, cache, memo, budget);
      tell({ type: "stage", stage: "script" });
      const complete = await this.#script(modules);
      if (complete) this.#checkInputs();
      this.#review(complete);
      if (request.mode === "dry") {
        await this.#sound();
        return this.#finish([], undefined, this.#left.length > 0 ? 2 : 0, budget);
      }
      return await this.#work(budget);
    } catch (e) {
      // What the script came to counts only where it has no errors.
      const isSound = this.signal?.aborted === true || (await this.#check.isSound);
      if (!isSound || e instanceof ScriptStopped) return this.#finish([], undefined, 1, budget);
      if (this.signal?.aborted) return this.#finish([], undefined, 1, budget, true);
      const text = isDiskError(e) ? `the outputs cannot be written: ${diskReason(e)}` : (e as Error).message;
      tell({ type: "message", level: "error", text });
      return this.#finish([], undefined, 1, budget);
    } finally {
      clearInterval(flusher);
      cache?.flush();
      this.signal?.removeEventListener("abort", onAbort);
      this.#check.close();
      this.#folder?.discard();
      await this.warm.sandbox.close();
      await pool.close(!this.#stop.signal.aborted);
    }
  }

  /** What threads need to know of this job. */
  #workerSetup(budget: Budget, workers: number, stop: SharedArrayBuffer): WorkerSetup {
    const { request } = this;
    return {
      studies: [...this.#catalogues].map(([name, c]) => ({
        name,
        folder: c.folder,
        definition: c.definition,
        runs: c.runs.map((r) => ({ id: r.id, folder: r.folder })),
      })),
      cacheFolder: request.cache ? keptPlace(request.dataFolder, "cache") : undefined,
      budget: budget.shared,
      budgetLimit: budget.limit,
      cacheBytes: budget.limit / 4 / workers,
      stop,
    };
  }

  #openSession(pool: BatchRunner, cache: ResultCache | undefined, memo: IdentityMemo, budget: Budget): Session {
    const folderOf = (study: string, run: number): string => this.#folderOf(study, run);
    const nameOf = (study: string, run: number): string => this.#catalogues.get(study)!.runs[run]?.id ?? "";
    return new Session(this.#graph, pool, cache, memo, budget, folderOf, nameOf, {
      onStart: (study, run, lines) =>
        this.#cellsOf(
          study,
          run,
          lines.map((line) => ({ line, state: "running" as const })),
        ),
      onBatch: (study, run, result) => this.#cellsOf(study, run, result.cells),
    });
  }

  #folderOf(study: string, run: number): string {
    const c = this.#catalogues.get(study)!;
    return run < 0 ? c.folder : path.join(c.folder, c.runs[run]!.folder);
  }

  async #scan(): Promise<void> {
    for (const s of this.request.studies) {
      this.tell({ type: "stage", stage: "scanning", text: s.name });
      const c = await scanStudy(s.folder, {
        keepIn: keptPlace(this.request.dataFolder, "catalogues"),
        definitionFile: s.definitionFile,
        signal: this.signal,
      });
      this.#catalogues.set(s.name, c);
      this.#chosen.set(s.name, selectRuns(c, this.request.runs));
    }
    this.#runName = runNames(new Map([...this.#catalogues].map(([name, c]) => [name, c.runs.map((r) => r.id)])));
  }

  /** What to run, checked unless whoever asks for the job has done it; the check may go on while it runs. */
  async #compiled(): Promise<Readonly<Record<string, string>>> {
    if (this.request.compiled) return this.request.compiled;
    this.tell({ type: "stage", stage: "checking" });
    const types = Object.fromEntries([...this.#catalogues].map(([n, c]) => [n, studyTypes(n, c)]));
    const modules = await this.#check.modules(this.request, types, this.warm.checksAside);
    if (!modules) throw new ScriptStopped();
    return modules;
  }

  /** @throws ScriptStopped where the check found errors */
  async #sound(): Promise<void> {
    if (!(await this.#check.isSound)) throw new ScriptStopped();
  }

  #sandboxStudy(name: string, c: Catalogue): SandboxStudy {
    const only = this.request.mode === "try" ? { run: this.request.tryRuns[name] } : undefined;
    // Whoever never names it does not wait for it: it takes a look into each run.
    const asks = Object.values(this.request.files).some((t) => /\b(?:state|finished)\b/.test(t));
    const stateOf = asks ? stateReader(name, c) : () => undefined;
    return sandboxStudy(c, this.#chosen.get(name)!, (id) => this.#runName({ study: name, id }), only, stateOf);
  }

  /** Runs the script. Resolves to false when a dry run had to stop at a value that is not known yet. */
  async #script(modules: Readonly<Record<string, string>>): Promise<boolean> {
    const setup = {
      modules,
      main: this.request.main,
      studies: Object.fromEntries([...this.#catalogues].map(([n, c]) => [n, this.#sandboxStudy(n, c)])),
      inputs: this.request.inputs,
      seconds: this.request.scriptSeconds,
    };
    const end = await this.warm.sandbox.run(
      setup,
      {
        form: (op, args) => this.#graph.addForm(op, args),
        node: (form, inputs, line, run) => {
          this.#graph.add(form, inputs, line, run);
          // Judged as it comes, while the script goes on in its own thread.
          this.#schemas.of(this.#graph.nodes.length - 1);
        },
        emit: (e) => this.#emitted(e),
        input: (name, value) => void this.#inputs.set(name, value),
        module: (number, file) => void (this.#modules[number] = file),
        mapping: (study, runs) => this.#session.mapping(study, runs),
        read: (id, what) => this.#read(id, what),
        columns: (id) => this.#columns(id),
      },
      this.#stop.signal,
    );
    if (end.kind !== "error") return end.kind === "complete";
    this.#scriptError(end.message, end.file, end.line);
    throw new ScriptStopped();
  }

  /** An input that the script does not have would be set for nothing: a misspelt limit is not a limit. */
  #checkInputs(): void {
    const known = [...this.#inputs.keys()];
    for (const name of Object.keys(this.request.inputs)) {
      if (this.#inputs.has(name)) continue;
      const there = known.length === 0 ? "it has no inputs" : `it has ${listNames(known)}`;
      const text = `--set ${name}: the script has no input "${name}"; ${there}${suggestion(name, known)}`;
      this.tell({ type: "message", level: "error", text });
      throw new ScriptStopped();
    }
  }

  #scriptError(message: string, file: string, line: number): void {
    const d: ScriptDiagnostic = {
      file,
      line: Math.max(1, line),
      column: 1,
      endLine: Math.max(1, line),
      endColumn: 1,
      severity: "error",
      message,
      fixes: [],
    };
    this.tell({ type: "diagnostics", diagnostics: [d] });
  }

  async #read(id: number, what: string): Promise<string> {
    if (what === "verdicts") this.#judging.push(id);
    if (this.request.mode === "dry")
      // Before the run all runs are taken to count: what would be read of them is the question.
      return JSON.stringify(what === "verdicts" ? { value: [] } : { failed: "not known before the run" });
    const foreseen = this.#schemas.of(id);
    const o =
      foreseen?.kind === "failure" && this.#graph.nodes[id]!.run === undefined
        ? foreseen
        : await this.#session.needed(id);
    return readAnswer(o, what);
  }

  #columns(id: number): string {
    return columnsAnswer(this.#schemas.of(id));
  }

  #moduleOf(line: number): string {
    return this.#modules[Math.floor(line / 1_000_000)] ?? this.request.main;
  }

  #wanted(): number[] {
    return [...new Set([...this.#judging, ...this.#emissions.flatMap((e) => (e.node === null ? [] : [e.node]))])];
  }

  /** Preflight: names and units of all that is asked for, for every run, before a file is read. */
  #review(complete: boolean): void {
    const { mistakes, asked } = this.#schemas.review(this.#wanted());
    const diagnostics = mistakeDiagnostics(mistakes, (line) => this.#moduleOf(line));
    const sites =
      this.request.mode === "dry"
        ? {
            sites: askedSites(
              this.#graph,
              this.#wanted(),
              (line) => this.request.files[this.#moduleOf(line)]?.split("\n")[(line % 1_000_000) - 1] ?? "",
            ).map((s) => ({ ...s, file: shownField(this.#catalogues.get(s.study)!, s.file) })),
          }
        : {};
    this.tell({ type: "asked", asked, complete, ...sites });
    if (diagnostics.length > 0) this.tell({ type: "diagnostics", diagnostics });
    for (const m of mistakes) if (!m.all) for (const run of m.runs) this.#left.push({ run, reason: m.reason });
    if (diagnostics.some((d) => d.severity === "error")) throw new ScriptStopped();
  }

  #cellsOf(
    study: string,
    run: number,
    cells: readonly {
      line: number;
      state: CellState | "running";
      failure?: Fault & { reason: string; op: string };
    }[],
  ): void {
    for (const c of cells) {
      if (c.state === "cache") this.#cells.cached++;
      else if (c.state !== "running") this.#cells.done++;
    }
    if (run < 0) return;
    const { id } = this.#catalogues.get(study)!.runs[run]!;
    const name = this.#runName({ study, id });
    this.tell({ type: "cells", study, run: id, cells: cells.map((c) => ({ ...c, line: c.line % 1_000_000 })) });
    for (const c of cells)
      if (c.failure) {
        const { reason, file, line, hint } = c.failure;
        this.tell({
          type: "message",
          level: "warning",
          text:
            `${name} is excluded from what needs line ${c.line % 1_000_000}: ` +
            `${reasonText({ reason, ...(hint !== undefined && { hint }) })}`,
          ...(file !== undefined && { file }),
          ...(line !== undefined && { line }),
        });
      }
  }

  async #work(budget: Budget): Promise<JobResult> {
    const { request, tell } = this;
    const wanted = this.#wanted();
    // The workers begin while the grid is drawn up; what they tell comes after it.
    tell({ type: "stage", stage: "working" });
    this.#session.prepare(wanted, neededColumns(this.#graph, wanted));
    tell({ type: "grid", ...gridOf(this.#graph, wanted, this.#catalogues) });
    let outputs = await this.#outputs();
    await this.#sound();
    let manifest: Manifest | undefined;
    if (request.mode === "run") {
      tell({ type: "stage", stage: "writing" });
      ({ outputs, manifest } = placeOutputs(this.#folder, outputs, (o) => this.#manifest(o), tell));
    }
    const left = mergeExcluded(this.#left, ...outputs.map((o) => o.left));
    this.#left.splice(0, this.#left.length, ...left);
    const failed = outputs.some((o) => o.failed !== undefined);
    const exit: ExitCode = outputs.some((o) => o.failed?.startsWith("cannot be written"))
      ? 1
      : outputs.some((o) => o.verdict === "failed" || o.verdict === "undecided")
        ? 3
        : left.some((l) => !isRefused(l)) || failed
          ? 2
          : 0;
    return this.#finish(outputs, manifest, exit, budget);
  }

  /** That a Try leaves runs out, in words: what needs more runs is made by a whole run. */
  #partly(): string | undefined {
    if (this.request.mode !== "try") return undefined;
    const parts = [...this.#chosen].filter(([name, runs]) => runs.size > 1 && !triesAll(this.request.tryRuns[name]));
    const runs = parts.reduce((n, [, chosen]) => n + chosen.size, 0);
    return runs === 0 ? undefined : `a part of the ${runs} runs was tried`;
  }

  #outputs(): Promise<OutputRecord[]> {
    return makeOutputs({
      folder: this.#folder,
      request: this.request,
      emissions: this.#emissions,
      naming: this.#naming,
      catalogues: this.#catalogues,
      outcomeOf: (node) => this.#session.outcome(node),
      inputsOf: (node) => this.#graph.filesOf(node),
      moduleOf: (line) => this.#moduleOf(line),
      manifestOf: (outputs) => this.#manifest(outputs),
      tell: this.tell,
      aborted: () => this.#stop.signal.aborted,
      partly: this.#partly(),
      mistake: (message, file, line) => {
        this.#scriptError(message, file, line);
        throw new ScriptStopped();
      },
    });
  }

  #manifest(outputs: readonly OutputRecord[]): Manifest {
    return makeManifest({
      request: this.request,
      inputs: this.#inputs,
      catalogues: this.#chosenCatalogues(),
      files: [...this.#session.files.values()],
      outputs,
      naming: this.#naming,
    });
  }

  #emitted(e: Emission): void {
    if (e.kind === "naming") this.#naming = namingSchema.parse(e.options);
    else this.#emissions.push(e);
  }

  #chosenCatalogues(): Map<string, Catalogue> {
    return new Map(
      [...this.#catalogues].map(([n, c]) => [n, { ...c, runs: c.runs.filter((r) => this.#chosen.get(n)!.has(r.id)) }]),
    );
  }

  #finish(
    outputs: readonly OutputRecord[],
    manifest: Manifest | undefined,
    exit: ExitCode,
    budget: Budget,
    stopped = false,
  ): JobResult {
    const runs = [...this.#chosen.values()].reduce((n, s) => n + s.size, 0);
    const summary: JobSummary = {
      runs,
      left: mergeExcluded(this.#left),
      cellsDone: this.#cells.done,
      cellsCached: this.#cells.cached,
      peakBytes: budget.peak,
      seconds: (performance.now() - this.#start) / 1000,
    };
    this.tell({ type: "done", exit, ...(stopped && { stopped }), summary });
    return { exit, outputs, manifest, summary };
  }
}
