import fs from "node:fs";
import path from "node:path";
import { stripTypes } from "@oxtrum/engine/check";
import { jobRequestSchema, safeName, unpackValue, type OutputRecord, type Value } from "@oxtrum/engine";
import type { JobProcesses, RunningProcess } from "../jobs/process.js";
import { wireOf } from "../jobs/wire.js";
import { emptyLive, applyEvent, type LiveJob } from "../jobs/live.js";
import type { Scripts } from "../scripts.js";
import type { Settings } from "../settings.js";
import type { Studies } from "../studies.js";

/** What a page wants to see: lines of a script, run on all runs and kept nowhere. */
export interface LookRequest {
  readonly text: string;
  /** A script beside whose modules the lines stand; they take its place. */
  readonly script?: string | undefined;
  /** Only one look of a lane is under way: a newer one ends it. */
  readonly lane: string;
}

export interface LookAnswer {
  readonly diagnostics: LiveJob["diagnostics"];
  readonly outputs: readonly (OutputRecord & { readonly value?: unknown })[];
  readonly messages: LiveJob["messages"];
  /** A newer look of the same lane came in between. */
  readonly overtaken: boolean;
}

/** Rows of a table that a look hands over: what pages draw of it themselves. */
const MOST_ROWS = 5000;

/**
 * Looks: scripts that pages make of what was clicked together. They go the way of every script – checked, sandboxed, worked off with
 * the same cache – so what a page shows is what the script gives when it is kept; but they are no jobs, and nothing of them is stored.
 */
export class Looks {
  readonly #lanes = new Map<string, RunningProcess>();
  #count = 0;

  constructor(
    private readonly dataFolder: string,
    private readonly studies: Studies,
    private readonly scripts: Scripts,
    private readonly settings: Settings,
    private readonly processes: JobProcesses,
  ) {
    fs.rmSync(path.join(dataFolder, "looks"), { recursive: true, force: true });
  }

  async look(o: LookRequest): Promise<LookAnswer> {
    const mine = ++this.#count;
    this.#lanes.get(o.lane)?.kill();
    const main = o.script ?? "look.ts";
    const all = await this.studies.all();
    const files = await this.scripts.withSiblings(main, o.text);
    // The page has made these lines of what the study holds: names are checked when the graph is made, types need not be.
    const compiled = stripTypes(files);
    const used = all.filter((s) => o.text.includes(JSON.stringify(s.name)));
    const { workers, memory, scriptSeconds } = await this.settings.get();
    const viewFolder = path.join(this.dataFolder, "looks", String(mine));
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
      const process = this.processes.start(request, (e) => applyEvent(live, e));
      this.#lanes.set(o.lane, process);
      const { exit } = await process.ended;
      const overtaken = this.#lanes.get(o.lane) !== process;
      if (!overtaken) this.#lanes.delete(o.lane);
      const outputs = live.outputs.map((r) => ({ ...r, ...this.#value(viewFolder, r) }));
      return { diagnostics: live.diagnostics, outputs, messages: live.messages, overtaken: overtaken && exit !== 0 };
    } finally {
      fs.rmSync(viewFolder, { recursive: true, force: true });
    }
  }

  #value(folder: string, r: OutputRecord): { value?: unknown } {
    const file = path.join(folder, `${safeName(r.name)}.value`);
    if (r.failed !== undefined || !fs.existsSync(file)) return {};
    return { value: wireOf(unpackValue(fs.readFileSync(file)) as Value, 0, MOST_ROWS) };
  }

  /** The verdicts of a study's rules on its runs; undefined when it has none. */
  async verdicts(study: string): Promise<LookAnswer | undefined> {
    const { catalogue } = await this.studies.get(study);
    if (Object.keys(catalogue.definition.accept).length === 0) return undefined;
    const text = `import { study, emit } from "oxtrum";\nemit.table("verdicts", study(${JSON.stringify(study)}).runs.verdicts());\n`;
    return this.look({ text, lane: `verdicts of ${study}` });
  }
}
