import path from "node:path";
import { compactJson } from "@oxtrum/core/exports";
import { conditionText, type Condition } from "@oxtrum/core/tables";
import { notTried as notTriedReason, type Outcome, type Value } from "../verbs/values.js";
import type { Emission } from "../sandbox/protocol.js";
import { packValue } from "../store/serialize.js";
import { sha256 } from "../store/keys.js";
import { writeWhole } from "../store/write-whole.js";
import type { OutputRecord } from "../record/events.js";
import type { Manifest } from "../record/manifest.js";
import type { ReportedOutput } from "./report/report-files.js";
import { outputKindOf } from "./kinds/index.js";
import type { Asked, Content, DrawnCharts } from "./kinds/output-kind.js";
import { drawNow, type KeptDrawings } from "./kept-drawings.js";
import type { FileNames } from "./naming.js";
import { safeName } from "./safe-name.js";

export interface WrittenOutput {
  readonly record: OutputRecord;
  readonly contents: readonly Content[];
}

/** What an output is told by the job that it belongs to. */
interface OfTheJob {
  readonly drawn?: DrawnCharts;
  readonly inputs?: readonly string[];
  readonly drawings?: KeptDrawings | undefined;
  /** That a Try leaves runs out, in words. */
  readonly partly?: string | undefined;
}

/** Why a value cannot be put out as a kind that wants another one. */
function whyNot(wanted: string, value: Outcome | undefined, partly: string | undefined): string {
  if (value === undefined) return "not computed";
  if (value.kind !== "failure") return `a ${wanted} is needed, not a ${value.kind}`;
  return partly === undefined ? value.reason : `${value.reason}; ${partly}`;
}

/** Makes one output: its record and, where its files have names, their contents. Nothing is written here. */
export async function makeOutput(
  e: Emission,
  value: Outcome | undefined,
  moduleFile: string,
  names: FileNames | undefined,
  more: OfTheJob = {},
): Promise<WrittenOutput> {
  const base = {
    name: e.name,
    kind: e.kind,
    line: e.line % 1_000_000,
    file: moduleFile,
    ...(more.inputs && more.inputs.length > 0 && { inputs: more.inputs }),
  };
  const failed = (reason: string, of: Partial<OutputRecord> = {}): WrittenOutput => ({
    record: { ...base, files: [], runs: 0, left: [], ...of, notes: [], failed: reason },
    contents: [],
  });
  const kind = outputKindOf(e.kind);
  if (!kind) return failed(`there is no output of kind "${e.kind}"`);
  if (kind.of !== undefined && value?.kind !== kind.of) return failed(whyNot(kind.of, value, more.partly));
  const found = value as Value;
  const plain: Asked = { name: e.name, options: e.options, line: base.line, value: found };
  const digest = kind.digest(plain);
  const asked: Asked = { ...plain, draw: more.drawings?.drawerOf(digest) ?? drawNow };
  const { left, notTried } = leftOf(found);
  let contents: readonly Content[] = [];
  if (names) {
    try {
      contents = await kind.files(asked, names, more.drawn ?? new Map());
    } catch (error) {
      return failed((error as Error).message, { runs: found?.runs?.length ?? 0, left });
    }
  }
  const told = kind.told(asked);
  const conditions = found?.conditions ?? [];
  const runs = found?.runs ?? [];
  return {
    record: {
      ...base,
      ...told,
      ...(conditions.length > 0 && { conditions, notes: [...told.notes, ...conditionNotes(conditions)] }),
      files: listed(contents),
      runs: runs.length,
      ...(runs.length > 0 && runs.length <= MOST_TOLD && { of: runs }),
      left,
      ...(notTried > 0 && { notTried }),
      digest,
    },
    contents,
  };
}

/** The runs that an output lacks, apart from those that a Try passed over. */
function leftOf(value: Value | undefined): { left: OutputRecord["left"]; notTried: number } {
  const all = value?.left ?? [];
  const left = all.filter((l) => l.reason !== notTriedReason);
  return { left, notTried: all.length - left.length };
}

/** Runs of an output that its record names. */
const MOST_TOLD = 500;
const MOST_NOTED = 10;

/** Conditions as notes of an output: the first ones, and how many there are. All of them are in the manifest. */
function conditionNotes(conditions: readonly Condition[]): string[] {
  const shown = conditions.slice(0, MOST_NOTED).map(conditionText);
  return conditions.length > MOST_NOTED
    ? [...shown, `and ${conditions.length - MOST_NOTED} more conditions; the manifest lists them`]
    : shown;
}

/** Makes a report of the other outputs; its page is kept for the screen too. */
export async function makeReport(
  e: Emission,
  moduleFile: string,
  names: FileNames | undefined,
  outputs: readonly ReportedOutput[],
  manifest: Manifest,
  viewFolder: string | undefined,
): Promise<WrittenOutput> {
  const base = {
    name: e.name,
    kind: "report",
    line: e.line % 1_000_000,
    file: moduleFile,
    runs: 0,
    left: [],
    notes: [],
  };
  try {
    // What it takes to write one is loaded only where one is written.
    const { reportFiles } = await import("./report/report-files.js");
    const contents = await reportFiles(
      names?.path(e.name) ?? safeName(e.name),
      e.name,
      names ? e.options : { ...e.options, formats: ["html"] },
      outputs,
      manifest,
    );
    const page = contents.find((c) => c.file.endsWith(".html"));
    if (viewFolder !== undefined && page) writeWhole(path.join(viewFolder, `${safeName(e.name)}.html`), page.content);
    const summary = `${outputs.length} outputs`;
    return {
      record: {
        ...base,
        files: names ? listed(contents) : [],
        summary,
        digest: sha256(compactJson(outputs.map((o) => o.record.digest ?? o.record.failed ?? null))),
      },
      contents: names ? contents : [],
    };
  } catch (error) {
    return { record: { ...base, files: [], failed: (error as Error).message }, contents: [] };
  }
}

export const listed = (contents: WrittenOutput["contents"]): OutputRecord["files"] =>
  contents.map((c) => ({
    file: c.file,
    size: typeof c.content === "string" ? Buffer.byteLength(c.content) : c.content.length,
    sha256: sha256(c.content),
  }));

/** Keeps a value for the screen: the whole of it for paging and zooming, and what its kind shows at first. */
export async function keepView(folder: string, e: Emission, value: Value): Promise<void> {
  const base = path.join(folder, safeName(e.name));
  writeWhole(`${base}.value`, packValue(value));
  for (const [ending, content] of Object.entries((await outputKindOf(e.kind)?.view?.(value)) ?? {}))
    writeWhole(`${base}.${ending}`, content);
}
