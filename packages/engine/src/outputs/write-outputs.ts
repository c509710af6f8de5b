import path from "node:path";
import { decimate, type ChartDescription } from "@oxtrum/core/charts";
import { compactJson, pictureToPng, stableJson } from "@oxtrum/core/exports";
import {
  conditionText,
  displayUnit,
  formatNumber,
  plainUnit,
  type Condition,
  type Quantity,
  type Table,
} from "@oxtrum/core/tables";
import { notTried as notTriedReason, type Outcome } from "../verbs/values.js";
import type { Emission } from "../sandbox/protocol.js";
import { packValue } from "../store/serialize.js";
import { sha256 } from "../store/keys.js";
import { writeWhole } from "../store/write-whole.js";
import type { OutputRecord } from "../record/events.js";
import type { Manifest } from "../record/manifest.js";
import type { ReportedOutput } from "./report-files.js";
import { chartFiles } from "./chart-files.js";
import { pictureFiles } from "./picture-files.js";
import type { FileNames } from "./naming.js";
import { safeName } from "./safe-name.js";
import { tableFiles, type DrawnCharts } from "./table-files.js";

const say = (q: Quantity): string =>
  q.reason !== undefined
    ? `– (${q.reason})`
    : `${formatNumber(q.value)}${displayUnit(q.unit) ? " " + displayUnit(q.unit) : ""}`;

interface Content {
  readonly file: string;
  readonly content: Uint8Array | string;
}

/** The files of one output: names and contents. @throws Error for a format that is not there */
async function filesOf(e: Emission, value: Outcome, names: FileNames, drawn: DrawnCharts): Promise<Content[]> {
  const base = names.path(e.name);
  if (e.kind === "text") return [{ file: `${base}.txt`, content: `${String(e.options["text"])}\n` }];
  if (value.kind === "table") return tableFiles(e, value.table, value, names, drawn);
  if (value.kind === "chart") return chartFiles(base, value.chart, e.options);
  if (value.kind === "picture") return pictureFiles(e.name, value.picture, e.options, names);
  if (value.kind === "quantity") return [{ file: `${base}.json`, content: stableJson(value.quantity) }];
  if (value.kind === "check")
    return [{ file: `${base}.json`, content: stableJson({ ...value.check, leftOut: value.left ?? [] }) }];
  return [];
}

/** What a value holds, as a digest: for comparing where pictures may differ. */
function digestOf(value: Outcome): string {
  if (value.kind === "table") return sha256(packValue({ ...value.table, notes: [] }));
  if (value.kind === "chart") return sha256(packValue(value.chart));
  if (value.kind === "picture") return sha256(packValue(value.picture));
  return sha256(compactJson(value));
}

export interface WrittenOutput {
  readonly record: OutputRecord;
  readonly contents: readonly { readonly file: string; readonly content: Uint8Array | string }[];
}

/** Makes one output: its record and, where its files have names, their contents. Nothing is written here. */
export async function makeOutput(
  e: Emission,
  value: Outcome | undefined,
  moduleFile: string,
  names: FileNames | undefined,
  more: { readonly drawn?: DrawnCharts; readonly inputs?: readonly string[] } = {},
): Promise<WrittenOutput> {
  const base = {
    name: e.name,
    kind: e.kind as OutputRecord["kind"],
    line: e.line % 1_000_000,
    file: moduleFile,
    ...(more.inputs && more.inputs.length > 0 && { inputs: more.inputs }),
  };
  if (e.kind === "text") {
    const contents = names ? await filesOf(e, { kind: "failure", reason: "" }, names, new Map()) : [];
    const text = String(e.options["text"]);
    return {
      record: {
        ...base,
        files: listed(contents),
        runs: 0,
        left: [],
        notes: [],
        summary: text.slice(0, 500),
        digest: sha256(text),
      },
      contents,
    };
  }
  if (!value || value.kind === "failure")
    return {
      record: { ...base, files: [], runs: 0, left: [], notes: [], failed: value?.reason ?? "not worked out" },
      contents: [],
    };
  const left = (value.left ?? []).filter((l) => l.reason !== notTriedReason);
  const notTried = (value.left?.length ?? 0) - left.length;
  let contents: WrittenOutput["contents"] = [];
  if (names) {
    try {
      contents = await filesOf(e, value, names, more.drawn ?? new Map());
    } catch (error) {
      return {
        record: {
          ...base,
          files: [],
          runs: value.runs?.length ?? 0,
          left,
          notes: [],
          failed: (error as Error).message,
        },
        contents: [],
      };
    }
  }
  const conditions = value.conditions ?? [];
  const extra =
    value.kind === "table"
      ? { rows: value.table.rows, notes: value.table.notes }
      : value.kind === "check"
        ? {
            verdict: value.check.verdict,
            summary: `${value.check.verdict}: ${say(value.check.value)}, to be ${value.check.limit}${value.check.reason === undefined ? "" : ` (${value.check.reason})`}`,
            notes: value.check.value.method === undefined ? [] : [value.check.value.method],
          }
        : value.kind === "quantity"
          ? { summary: say(value.quantity), notes: value.quantity.method === undefined ? [] : [value.quantity.method] }
          : { notes: fewNotes(value.notes ?? []) };
  return {
    record: {
      ...base,
      ...extra,
      ...(conditions.length > 0 && { conditions, notes: [...extra.notes, ...conditionNotes(conditions)] }),
      files: listed(contents),
      runs: value.runs?.length ?? 0,
      ...(value.runs && value.runs.length > 0 && value.runs.length <= MOST_TOLD && { of: value.runs }),
      left,
      ...(notTried > 0 && { notTried }),
      digest: digestOf(value),
    },
    contents,
  };
}

const MOST_NOTED = 10;

/** Notes of an output: of many runs the first ones, and how many there are. */
const fewNotes = (notes: readonly string[]): readonly string[] =>
  notes.length <= 2 * MOST_NOTED
    ? notes
    : [...notes.slice(0, 2 * MOST_NOTED), `and ${notes.length - 2 * MOST_NOTED} more notes of the tables in it`];

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
    kind: "report" as const,
    line: e.line % 1_000_000,
    file: moduleFile,
    runs: 0,
    left: [],
    notes: [],
  };
  try {
    // What it takes to write one is loaded only where one is written.
    const { reportFiles } = await import("./report-files.js");
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

const MOST_POINTS = 2000;
/** Runs of an output that its record names. */
const MOST_TOLD = 500;

/** Keeps a value for the screen: the whole of it for paging and zooming, and charts thinned for a first look. */
export function keepView(folder: string, name: string, value: Outcome): void {
  const base = path.join(folder, safeName(name));
  writeWhole(`${base}.value`, packValue(value));
  if (value.kind === "picture") writeWhole(`${base}.png`, pictureToPng(value.picture));
  if (value.kind === "chart")
    writeWhole(
      `${base}.json`,
      compactJson({ kind: "chart", chart: thinned(value.chart), left: value.left, runs: value.runs }),
    );
}

/** A chart with no more points than a screen shows, within a range of x if one is given. */
export function thinned(chart: ChartDescription, from?: number, to?: number, most = MOST_POINTS): ChartDescription {
  return {
    ...chart,
    ...(chart.panels && {
      panels: chart.panels.map((p) => thinned(p, from, to, Math.ceil(most / chart.panels!.length))),
    }),
    series: chart.series.map((s) => {
      if (s.kind === "bars" || s.kind === "box" || s.kind === "errors" || s.kind === "steps") return s;
      const low = decimate(s.x, s.y, most, from, to);
      const high = s.high === undefined ? undefined : decimate(s.x, s.high, most, from, to);
      if (high && high.x.length !== low.x.length) return s;
      return { ...s, x: low.x, y: low.y, ...(high && { high: high.y }) };
    }),
  };
}

/** A table's rows for the screen. */
export function tableSlice(
  table: Table,
  from: number,
  to: number,
): {
  rows: number;
  columns: { name: string; label?: string; unit: string | null; kind: string; values: (number | string | null)[] }[];
  notes: readonly string[];
} {
  const a = Math.max(0, Math.min(from, table.rows));
  const b = Math.max(a, Math.min(to, table.rows));
  return {
    rows: table.rows,
    notes: table.notes,
    columns: table.columns.map((c) => ({
      name: c.name,
      ...(c.label !== undefined && { label: c.label }),
      unit: c.kind === "number" ? plainUnit(c.unit) : null,
      kind: c.kind,
      values:
        c.kind === "number"
          ? Array.from(c.values.subarray(a, b), (x) => (Number.isFinite(x) ? x : null))
          : c.values.slice(a, b),
    })),
  };
}
