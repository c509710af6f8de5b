import { outputKindOf } from "../outputs/kinds/index.js";
import path from "node:path";
import { diffArrays } from "diff";
import { FormatError, openFile, readPlainFile, readTextTable } from "@oxtrum/core/formats";
import { exactNumber, plainUnit, type Table } from "@oxtrum/core/tables";
import { inside } from "../definition/folders.js";
import type { Manifest } from "../record/manifest.js";
import { inputChanges, readManifest, type InputChange } from "../job/verify.js";

/** What counts as the same number: an amount, or a relative of the larger one. */
export interface Tolerance {
  readonly absolute: number;
  readonly relative: number;
}

/** A cell of a table that moved. */
export interface CellChange {
  readonly row: number;
  /** Text of the row that tell it from others: its run, if it has one. */
  readonly where: string;
  readonly column: string;
  readonly then: number | string | null;
  readonly now: number | string | null;
  /** Of numbers: how far it moved, and that over the size of the earlier one (missing where that was 0). */
  readonly change?: number;
  readonly relative?: number;
}

export type DiffVerdict = "same bytes" | "within tolerance" | "changed" | "new" | "gone";

export interface OutputDiff {
  readonly name: string;
  readonly kind: string;
  readonly verdict: DiffVerdict;
  /** What moved, in words. */
  readonly detail?: string;
  /** Of tables and values: how many numbers moved at all, and those that moved most. */
  readonly moved?: number;
  readonly cells?: readonly CellChange[];
}

/** What differs between two jobs: script, inputs, runs, and every output. */
export interface JobDiff {
  readonly verdict: "same bytes" | "within tolerance" | "changed";
  readonly script: readonly {
    readonly file: string;
    readonly line: number;
    readonly then?: string;
    readonly now?: string;
  }[];
  readonly settings: readonly string[];
  readonly inputs: readonly InputChange[];
  readonly runs: readonly {
    readonly study: string;
    readonly run: string;
    readonly change: "gone" | "new" | "parameters";
  }[];
  readonly outputs: readonly OutputDiff[];
}

/** Cells that are told of each table, the largest change first. */
const MOST_CELLS = 50;

/**
 * Compares two folders of outputs by their manifests: which lines of the script, inputs and runs differ, and for every
 * output what moved. Tables are compared cell by cell from their CSV files, rows with the same run (or number) side by
 * side.
 *
 * @throws Error when a folder holds no manifest
 * @example diffJobs("out/monday", "out/friday", { absolute: 0, relative: 1e-9 })
 */
export function diffJobs(then: string, now: string, tolerance: Tolerance): JobDiff {
  const [a, b] = [readManifest(manifestOf(then)), readManifest(manifestOf(now))];
  const outputs = diffOutputs(a, b, path.dirname(manifestOf(then)), path.dirname(manifestOf(now)), tolerance);
  const worst = outputs.some((o) => o.verdict !== "same bytes" && o.verdict !== "within tolerance");
  return {
    verdict: worst ? "changed" : outputs.every((o) => o.verdict === "same bytes") ? "same bytes" : "within tolerance",
    script: diffScripts(a, b),
    settings: diffSettings(a, b),
    inputs: inputChanges(a, b),
    runs: diffRuns(a, b),
    outputs,
  };
}

const manifestOf = (at: string): string => (at.endsWith(".json") ? at : path.join(at, "manifest.json"));

function diffScripts(a: Manifest, b: Manifest): JobDiff["script"] {
  const files = [...new Set([...Object.keys(a.script.files), ...Object.keys(b.script.files)])].sort();
  return files.flatMap((file) => {
    const [then, now] = [a, b].map((m) => m.script.files[file]?.text.split("\n") ?? []) as [string[], string[]];
    let [i, j] = [0, 0];
    return diffArrays(then, now).flatMap((part) => {
      const lines = part.value.map((text, k) =>
        part.removed ? { file, line: i + k + 1, then: text } : { file, line: j + k + 1, now: text },
      );
      if (!part.added) i += part.value.length;
      if (!part.removed) j += part.value.length;
      return part.added || part.removed ? lines : [];
    });
  });
}

function diffSettings(a: Manifest, b: Manifest): string[] {
  const said = (v: unknown): string => (v === undefined ? "not there" : JSON.stringify(v));
  const names = [...new Set([...Object.keys(a.inputs), ...Object.keys(b.inputs)])].sort();
  const inputs = names.flatMap((n) => {
    const [x, y] = [said(a.inputs[n]?.value), said(b.inputs[n]?.value)];
    return x === y ? [] : [`input "${n}": ${x} then, ${y} now`];
  });
  const operations = Object.keys({ ...a.operations, ...b.operations })
    .sort()
    .filter(
      (o) => a.operations[o] !== b.operations[o] && a.operations[o] !== undefined && b.operations[o] !== undefined,
    );
  return [
    ...inputs,
    ...(a.engine === b.engine ? [] : [`engine ${a.engine} then, ${b.engine} now`]),
    ...operations.map((o) => `operation ${o}: version ${a.operations[o]!} then, ${b.operations[o]!} now`),
    ...(a.platform.mathematics === b.platform.mathematics ? [] : ["the machines' mathematics or drawing differ"]),
  ];
}

function diffRuns(a: Manifest, b: Manifest): JobDiff["runs"] {
  const list = (m: Manifest): Map<string, { study: string; run: string; params: string }> =>
    new Map(
      m.studies.flatMap((s) =>
        s.runs.map((r) => [
          `${s.name}\0${r.id}`,
          { study: s.name, run: r.id, params: JSON.stringify(Object.entries(r.params).sort()) },
        ]),
      ),
    );
  const [before, after] = [list(a), list(b)];
  const out: { study: string; run: string; change: "gone" | "new" | "parameters" }[] = [];
  for (const [k, r] of before) {
    const other = after.get(k);
    if (!other) out.push({ study: r.study, run: r.run, change: "gone" });
    else if (other.params !== r.params) out.push({ study: r.study, run: r.run, change: "parameters" });
  }
  for (const [k, r] of after) if (!before.has(k)) out.push({ study: r.study, run: r.run, change: "new" });
  return out;
}

type ManifestOutput = Manifest["outputs"][number];

function diffOutputs(a: Manifest, b: Manifest, then: string, now: string, t: Tolerance): OutputDiff[] {
  const out: OutputDiff[] = [];
  for (const o of a.outputs) {
    const other = b.outputs.find((x) => x.name === o.name);
    const base = { name: o.name, kind: o.kind };
    if (!other) out.push({ ...base, verdict: "gone" });
    else if (sameFiles(o, other)) out.push({ ...base, verdict: "same bytes" });
    else out.push({ ...base, ...moved(o, other, then, now, t) });
  }
  for (const o of b.outputs)
    if (!a.outputs.some((x) => x.name === o.name)) out.push({ name: o.name, kind: o.kind, verdict: "new" });
  return out;
}

const sameFiles = (a: ManifestOutput, b: ManifestOutput): boolean =>
  a.failed === b.failed &&
  a.files.length === b.files.length &&
  a.files.every((f) => b.files.some((g) => g.file === f.file && g.sha256 === f.sha256));

function moved(
  a: ManifestOutput,
  b: ManifestOutput,
  then: string,
  now: string,
  t: Tolerance,
): Omit<OutputDiff, "name" | "kind"> {
  if (a.kind !== b.kind) return { verdict: "changed", detail: `a ${a.kind} then, a ${b.kind} now` };
  if (a.failed !== b.failed)
    return {
      verdict: "changed",
      detail: a.failed === undefined ? `not made now: ${b.failed!}` : `not made then: ${a.failed}`,
    };
  const compares = outputKindOf(a.kind)?.compares;
  if (compares === "words") return { verdict: "changed", detail: `${a.summary ?? ""} then, ${b.summary ?? ""} now` };
  if (a.kind === "report")
    return a.digest === b.digest
      ? { verdict: "within tolerance", detail: "it holds the same outputs, other words" }
      : { verdict: "changed", detail: "it holds outputs that changed" };
  if (compares === "drawing")
    return a.digest === b.digest
      ? { verdict: "within tolerance", detail: "drawn from the same numbers, other files" }
      : { verdict: "changed", detail: "data differ" };
  try {
    const [x, y] = [tableOf(a, then), tableOf(b, now)];
    if (x && y) return diffTables(x, y, t);
    if (compares === "number") return diffValues(valueOf(a, then), valueOf(b, now), t, a.verdict, b.verdict);
  } catch (e) {
    return { verdict: "changed", detail: `its files cannot be compared: ${(e as Error).message}` };
  }
  return { verdict: "changed", detail: "its files differ" };
}

/** The output's table, read back from its CSV; undefined where it has none of its own. */
function tableOf(o: ManifestOutput, folder: string): Table | undefined {
  const csv = o.files.filter((f) => f.file.endsWith(".csv") && !f.file.endsWith(".semicolon.csv"));
  if (outputKindOf(o.kind)?.compares !== "table" || csv.length !== 1) return undefined;
  const source = openFile(inside(folder, csv[0]!.file), csv[0]!.file);
  try {
    return readTextTable(source, undefined, { delimiter: ",", header: 1 }).table;
  } finally {
    source.close();
  }
}

interface Value {
  readonly value: number;
  readonly unit: string | null;
}

function valueOf(o: ManifestOutput, folder: string): Value {
  const file = o.files.find((f) => f.file.endsWith(".json"));
  if (!file) throw new FormatError(o.name, "it has no JSON file");
  const json = JSON.parse(
    readPlainFile(inside(folder, file.file), { most: 1e8, name: file.file }).toString("utf8"),
  ) as { value?: unknown; unit?: string | null };
  // A check holds its value in itself.
  const inner = (json.value !== null && typeof json.value === "object" ? json.value : json) as Value;
  return { value: numberOf(inner.value), unit: inner.unit };
}

/** A number as JSON files hold it; NaN where it is missing. */
const numberOf = (v: unknown): number =>
  typeof v === "number" ? v : v === "Inf" ? Infinity : v === "-Inf" ? -Infinity : Number.NaN;

/** How two numbers differ, and whether that counts. */
function numbersDiffer(
  x: number,
  y: number,
  t: Tolerance,
): { change: number; relative: number; counts: boolean } | undefined {
  if (x === y || (x !== x && y !== y)) return undefined;
  const change = y - x;
  const ofLarger = Math.abs(change) / Math.max(Math.abs(x), Math.abs(y));
  return {
    change,
    relative: Math.abs(change / x),
    counts: !(Math.abs(change) <= t.absolute || ofLarger <= t.relative),
  };
}

/** A number as it is told: null where it is missing, an infinite one by its text. */
const plain = (x: number): number | string | null => (x !== x ? null : Number.isFinite(x) ? x : exactNumber(x));

function diffValues(
  x: Value,
  y: Value,
  t: Tolerance,
  then: string | undefined,
  now: string | undefined,
): Omit<OutputDiff, "name" | "kind"> {
  if (then !== now) return { verdict: "changed", detail: `${then ?? "?"} then, ${now ?? "?"} now` };
  if (x.unit !== y.unit)
    return { verdict: "changed", detail: `in ${x.unit ?? "no known unit"} then, in ${y.unit ?? "no known unit"} now` };
  const d = numbersDiffer(x.value, y.value, t);
  if (!d) return { verdict: "within tolerance", detail: "same value, other formatting" };
  const [earlier, later] = [plain(x.value), plain(y.value)];
  const cell = shownChange({ row: 1, where: "", column: "value", then: earlier, now: later, ...d });
  return { verdict: d.counts ? "changed" : "within tolerance", moved: 1, cells: [cell] };
}

function diffTables(x: Table, y: Table, t: Tolerance): Omit<OutputDiff, "name" | "kind"> {
  const heads = (table: Table): string[] =>
    table.columns.map((c) => `${c.name}${c.kind === "number" ? ` [${plainUnit(c.unit) ?? ""}]` : ""}`);
  const [hx, hy] = [heads(x), heads(y)];
  const details: string[] = [];
  const gone = hx.filter((h) => !hy.includes(h));
  const fresh = hy.filter((h) => !hx.includes(h));
  if (gone.length > 0) details.push(`columns gone: ${gone.join(", ")}`);
  if (fresh.length > 0) details.push(`columns new: ${fresh.join(", ")}`);
  const rows = pairedRows(x, y);
  if (rows.gone > 0) details.push(`${rows.gone} row${rows.gone === 1 ? "" : "s"} gone`);
  if (rows.fresh > 0) details.push(`${rows.fresh} row${rows.fresh === 1 ? "" : "s"} new`);
  const cells: CellChange[] = [];
  let counts = details.length > 0;
  for (const c of x.columns) {
    const other = y.columns.find((d) => d.name === c.name && d.kind === c.kind);
    if (!other || gone.some((g) => g.startsWith(`${c.name} [`) || g === c.name)) continue;
    for (const [i, j] of rows.pairs) {
      const [u, v] = [c.values[i]!, other.values[j]!];
      const base = { row: j + 1, where: rows.name(j), column: c.name };
      if (typeof u === "string" || typeof v === "string") {
        if (u === v) continue;
        counts = true;
        cells.push({ ...base, then: String(u), now: String(v) });
        continue;
      }
      const d = numbersDiffer(u, v, t);
      if (!d) continue;
      if (d.counts) counts = true;
      cells.push({ ...base, then: plain(u), now: plain(v), change: d.change, relative: d.relative });
    }
  }
  // Text and gaps first, then the largest relative.
  const size = (k: CellChange): number =>
    k.relative === undefined || k.relative !== k.relative ? Infinity : k.relative;
  cells.sort((p, q) => (size(p) === size(q) ? p.row - q.row : size(q) - size(p)));
  return {
    verdict: counts ? "changed" : "within tolerance",
    ...(details.length > 0 && { detail: details.join("; ") }),
    moved: cells.length,
    cells: cells.slice(0, MOST_CELLS).map(shownChange),
  };
}

/** A change with its size where it has one: not of a value that was 0, is missing or infinite. */
function shownChange({ row, where, column, then, now, change, relative }: CellChange): CellChange {
  const cell = { row, where, column, then, now };
  if (change === undefined || !Number.isFinite(change)) return cell;
  return { ...cell, change, ...(relative !== undefined && Number.isFinite(relative) && { relative }) };
}

/** Rows side by side: by their run where each has one of its own, else by number. */
function pairedRows(
  x: Table,
  y: Table,
): { pairs: [number, number][]; gone: number; fresh: number; name: (j: number) => string } {
  const run = (t: Table): readonly string[] | undefined => {
    const c = t.columns.find((k) => k.name === "run" && k.kind === "text");
    return c?.kind === "text" && new Set(c.values).size === c.values.length ? c.values : undefined;
  };
  const [a, b] = [run(x), run(y)];
  if (a && b) {
    const at = new Map(b.map((r, j) => [r, j]));
    const pairs = a.flatMap((r, i): [number, number][] => (at.has(r) ? [[i, at.get(r)!]] : []));
    return { pairs, gone: a.length - pairs.length, fresh: b.length - pairs.length, name: (j) => b[j]! };
  }
  const n = Math.min(x.rows, y.rows);
  return { pairs: Array.from({ length: n }, (_, i) => [i, i]), gone: x.rows - n, fresh: y.rows - n, name: () => "" };
}
