import type { ChartDescription } from "@oxtrum/core/charts";
import type { Outcome, Value } from "../verbs/values.js";
import type { Emission } from "../sandbox/protocol.js";
import type { Catalogue } from "../definition/catalogue-model.js";
import { diskReason, isDiskError } from "../store/disk-errors.js";
import type { OutputFolder } from "./output-folder.js";
import { inStyle } from "../record/chart-style.js";
import type { JobEvent, OutputRecord } from "../record/events.js";
import type { Manifest } from "../record/manifest.js";
import { KeptDrawings } from "./kept-drawings.js";
import { outputKindOf } from "./kinds/index.js";
import { FileNames } from "./naming.js";
import { namingSchema, type Naming } from "../sandbox/naming-schema.js";
import type { ReportedOutput } from "./report/report-files.js";
import type { JobRequest } from "../record/request.js";
import { safeName } from "./safe-name.js";
import { keepView, makeOutput, makeReport, type WrittenOutput } from "./write-outputs.js";

/** What the outputs of a job are made from. */
export interface OutputsAsked {
  readonly request: JobRequest;
  readonly emissions: readonly Emission[];
  readonly naming: Naming | undefined;
  readonly catalogues: ReadonlyMap<string, Catalogue>;
  outcomeOf(node: number): Promise<Outcome>;
  /** The files of results that a node needs, by the names that the script gives them. */
  inputsOf(node: number): string[];
  moduleOf(line: number): string;
  manifestOf(outputs: readonly OutputRecord[]): Manifest;
  tell(e: JobEvent): void;
  aborted(): boolean;
  /** That a Try leaves runs out, in words. */
  readonly partly: string | undefined;
  /** Where the files go; undefined where only values are kept. */
  readonly folder: OutputFolder | undefined;
  /** Ends the job: the script asks for what cannot be. */
  mistake(message: string, file: string, line: number): never;
}

function fileNames({ request, naming, catalogues }: OutputsAsked): FileNames | undefined {
  if (request.mode !== "run" || request.outFolder === undefined) return undefined;
  const params = new Map([...catalogues.values()].flatMap((c) => c.runs.map((r) => [r.id, r.params] as const)));
  return new FileNames(naming ?? namingSchema.parse({}), [...catalogues.keys()].sort(), (run) => params.get(run));
}

/** What the screen shows of an output is kept as far as there is room; the output itself does not depend on it. */
async function keepViewIfRoom(folder: string, e: Emission, outcome: Value, tell: (e: JobEvent) => void): Promise<void> {
  try {
    await keepView(folder, e, outcome);
  } catch (error) {
    if (!isDiskError(error)) throw error;
    const text = `"${e.name}" is not kept for the screen: ${diskReason(error)}`;
    tell({ type: "message", level: "warning", text });
  }
}

/**
 * Writes an output's files to the temporary folder at once. One that cannot be written says why, and takes no other
 * along.
 */
function writeFiles({ folder, tell }: OutputsAsked, { record, contents }: WrittenOutput): OutputRecord {
  if (!folder || contents.length === 0) return record;
  try {
    folder.write(contents);
    return record;
  } catch (e) {
    if (!isDiskError(e)) throw e;
    const failed = `cannot be written: ${diskReason(e)}`;
    tell({ type: "message", level: "error", text: `output "${record.name}" ${failed}` });
    const { verdict: _, ...rest } = record;
    return { ...rest, files: [], failed };
  }
}

/** Whether an output needs charts of the job, which are drawn before it. */
const isLater = (e: Emission): boolean => outputKindOf(e.kind)?.needsCharts?.(e.options) === true;

/** Two outputs that cannot lie side by side. */
function clash(o: OutputsAsked, e: Emission, other: Emission, file: string): never {
  return o.mistake(
    `the outputs "${other.name}" and "${e.name}" would have the same file name ${file}; give one another name`,
    o.moduleOf(e.line),
    e.line % 1_000_000,
  );
}

/** Makes all outputs, each told as soon as it is there; reports, which hold the others, last. In the script's order. */
export async function makeOutputs(o: OutputsAsked): Promise<OutputRecord[]> {
  const { request, emissions } = o;
  const names = fileNames(o);
  const drawings = names && KeptDrawings.of(request);
  const made = new Map<Emission, OutputRecord>();
  const reported: ReportedOutput[] = [];
  const outcomes = new Map<Emission, Outcome | undefined>();
  const views = new Map<string, Emission>();
  const files = new Map<string, Emission>();
  const keep = (e: Emission, output: WrittenOutput): void => {
    for (const c of output.contents) {
      const other = files.get(c.file.toLowerCase());
      if (other) clash(o, e, other, c.file);
      files.set(c.file.toLowerCase(), e);
    }
    const written = writeFiles(o, output);
    made.set(e, written);
    o.tell({ type: "output", output: written });
  };
  const drawn = new Map<string, { chart: ChartDescription; options: Readonly<Record<string, unknown>> }>();
  const make = async (e: Emission): Promise<void> => {
    let outcome: Outcome | undefined = e.node === null ? undefined : await o.outcomeOf(e.node);
    if (o.aborted()) throw new Error("stopped");
    if (outcome?.kind === "chart") {
      outcome = { ...outcome, chart: inStyle(outcome.chart, request.style) };
      drawn.set(e.name, { chart: outcome.chart, options: e.options });
    }
    const inputs = e.node === null ? [] : o.inputsOf(e.node);
    const output = await makeOutput(e, outcome, o.moduleOf(e.line), names, {
      drawn,
      inputs,
      drawings,
      partly: o.partly,
    });
    if (request.viewFolder !== undefined && outcome && outcome.kind !== "failure")
      await keepViewIfRoom(request.viewFolder, e, outcome, o.tell);
    keep(e, output);
    outcomes.set(e, outcome);
  };
  for (const e of emissions) {
    const other = views.get(safeName(e.name).toLowerCase());
    if (other) clash(o, e, other, safeName(e.name));
    views.set(safeName(e.name).toLowerCase(), e);
    if (e.kind === "report") continue;
    if (!isLater(e)) await make(e);
  }
  // Workbooks that show charts need these first.
  for (const e of emissions) if (isLater(e)) await make(e);
  for (const e of emissions)
    if (made.has(e)) reported.push({ record: made.get(e)!, outcome: outcomes.get(e), options: e.options });
  for (const e of emissions)
    if (e.kind === "report") {
      if (o.aborted()) throw new Error("stopped");
      const manifest = o.manifestOf(reported.map((r) => r.record));
      keep(e, await makeReport(e, o.moduleOf(e.line), names, reported, manifest, request.viewFolder));
    }
  drawings?.forget();
  return emissions.map((e) => made.get(e)!);
}
