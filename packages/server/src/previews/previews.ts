import fs from "node:fs";
import path from "node:path";
import os from "node:os";
import { applyEvent, emptyLive, type Live, type Output } from "@oxtrum/contract";
import { jobRequestSchema, safeName } from "@oxtrum/engine";
import { report } from "../background.js";
import type { Checked, Checker } from "../checks/checker.js";
import type { JobProcesses, RunningProcess } from "../jobs/process.js";
import type { Reading } from "../reading/reading.js";
import { WorkQueue } from "../threads/work-queue.js";
import type { Scripts } from "../scripts.js";
import type { Settings } from "../settings.js";
import type { Studies } from "../studies.js";

/** What a page wants to see: lines of a script, run on all runs and kept nowhere. */
export interface PreviewRequest {
  readonly text: string;
  /** A script beside whose modules the lines stand; they take its place. */
  readonly script?: string | undefined;
  /** Only one preview of a lane is under way: a newer one ends it. */
  readonly lane: string;
}

export interface PreviewAnswer {
  readonly diagnostics: Live["diagnostics"];
  readonly outputs: readonly (Output & { readonly value?: unknown })[];
  readonly messages: Live["messages"];
  /** A newer preview of the same lane came in between. */
  readonly overtaken: boolean;
}

/** Rows of a table that a preview hands over: what pages draw of it themselves. */
const MOST_ROWS = 5000;

/**
 * Previews: scripts that pages make of what was clicked together. They go the way of every script – checked, sandboxed,
 * processed with the same cache – so what a page shows is what the script gives when it is kept; but they are not jobs,
 * and nothing of them is stored.
 */
export class Previews {
  readonly #lanes = new Map<string, RunningProcess>();
  /** The newest preview of each lane; older ones that still wait are not begun. */
  readonly #newest = new Map<string, number>();
  readonly #queue = new WorkQueue(2, 30);
  #count = 0;

  constructor(
    private readonly dataFolder: string,
    private readonly studies: Studies,
    private readonly scripts: Scripts,
    private readonly settings: Settings,
    private readonly processes: JobProcesses,
    private readonly checker: Checker,
    private readonly reading: Reading,
  ) {}

  async preview(o: PreviewRequest): Promise<PreviewAnswer> {
    const mine = ++this.#count;
    this.#newest.set(o.lane, mine);
    this.#lanes.get(o.lane)?.kill();
    return this.#queue.run(() => this.#preview(o, mine));
  }

  async #preview(o: PreviewRequest, mine: number): Promise<PreviewAnswer> {
    const overtaken = { diagnostics: [], outputs: [], messages: [], overtaken: true };
    if (this.#newest.get(o.lane) !== mine) return overtaken;
    const main = o.script ?? "preview.ts";
    const all = await this.studies.all();
    const files = await this.scripts.withSiblings(main, o.text);
    // The page has made these lines of what the study holds: names are checked when the graph is made, types need not
    // be.
    const { compiled, diagnostics } = (await this.checker.ask({ kind: "compile", files, types: {} })) as Checked;
    if (!compiled) return { ...overtaken, diagnostics: [...diagnostics], overtaken: false };
    const used = all.filter((s) => o.text.includes(JSON.stringify(s.name)));
    const { workers, memory, scriptSeconds } = await this.settings.get();
    const viewFolder = fs.mkdtempSync(path.join(os.tmpdir(), "oxtrum-preview-"));
    const live = emptyLive();
    try {
      const request = jobRequestSchema.parse({
        files,
        main,
        compiled,
        memory: memory * 1e6,
        scriptSeconds,
        ...(workers !== null && { workers }),
        mode: "run",
        dataFolder: this.dataFolder,
        viewFolder,
        studies: (used.length > 0 ? used : all).map(({ name, folder }) => ({ name, folder })),
      });
      if (this.#newest.get(o.lane) !== mine) return overtaken;
      const process = this.processes.start(request, (e) => applyEvent(live, e));
      this.#lanes.set(o.lane, process);
      const { exit } = await process.ended;
      if (this.#lanes.get(o.lane) === process) this.#lanes.delete(o.lane);
      // A newer preview ends this one before it has a process of its own.
      const newest = this.#newest.get(o.lane) === mine;
      if (newest) this.#newest.delete(o.lane);
      const outputs: (Output & { value?: unknown })[] = [];
      for (const r of live.outputs) outputs.push({ ...r, ...(await this.#value(viewFolder, r)) });
      return { diagnostics: live.diagnostics, outputs, messages: live.messages, overtaken: !newest && exit !== 0 };
    } finally {
      try {
        fs.rmSync(viewFolder, { recursive: true, force: true });
      } catch (e) {
        report("clearing away a preview", e);
      }
    }
  }

  async #value(folder: string, r: Output): Promise<{ value?: unknown }> {
    const file = path.join(folder, `${safeName(r.name)}.value`);
    if (r.failed !== undefined || !fs.existsSync(file)) return {};
    return { value: JSON.parse(await this.reading.value(file, 0, MOST_ROWS, MOST_ROWS)) as unknown };
  }

  /** The verdicts of a study's rules on its runs; undefined when it has none. */
  async verdicts(study: string): Promise<PreviewAnswer | undefined> {
    const { catalogue } = await this.studies.get(study);
    if (Object.keys(catalogue.definition.accept).length === 0) return undefined;
    const text = `import { study, emit } from "oxtrum";\nemit.table("verdicts", study(${JSON.stringify(study)}).runs.verdicts());\n`;
    return this.preview({ text, lane: `verdicts of ${study}` });
  }
}
