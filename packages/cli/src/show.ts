import { FormatError } from "@oxtrum/core/formats";
import { displayUnit, formatNumber } from "@oxtrum/core/tables";
import { isMesh, showFile, showMesh, type ShownFile } from "@oxtrum/engine";
import { meshLines } from "./show-mesh.js";
import { columnsOf, counted } from "./text-table.js";

/** `show FILE`: what is in one file. Returns the exit code. */
export function show(
  file: string,
  options: { json?: boolean; rows?: string; deep?: boolean },
  print: (s: string) => void,
  complain: (s: string) => void,
): number {
  let shown: ShownFile;
  try {
    if (isMesh(file)) {
      const mesh = showMesh(file, options.deep === true);
      if (options.json) print(JSON.stringify(mesh, jsonNumber));
      else for (const line of meshLines(file, mesh)) print(line);
      return 0;
    }
    shown = showFile(file);
  } catch (e) {
    const { place, message, hint } = troubleOf(e);
    if (options.json) print(JSON.stringify({ error: { file, ...place, message, hint } }));
    else complain(`${file}${place.line !== undefined ? `:${place.line}` : ""}: ${message}`);
    if (!options.json && hint !== null) complain(`  ${hint}`);
    return 1;
  }
  const range = options.rows === undefined ? undefined : parseRange(options.rows, shown.rows);
  if (options.json) {
    const { table: _, axis: __, ...facts } = shown;
    print(JSON.stringify(range ? { ...facts, values: valuesOf(shown, range) } : facts, jsonNumber));
    return 0;
  }
  print(`${file}: table, ${counted(shown.rows, "row")}, ${counted(shown.columns.length, "column")}`);
  const rows = shown.columns.map((c) => [
    c.name,
    displayUnit(c.unit) || (c.type === "text" ? "words" : c.unit === "1" ? "1" : "?"),
    c.min === null ? "–" : formatNumber(c.min),
    c.max === null ? "–" : formatNumber(c.max),
    c.missing ? `${c.missing} missing` : "",
  ]);
  for (const line of columnsOf(["column", "unit", "min", "max", ""], rows, [false, false, true, true, false]))
    print("  " + line);
  if (range) {
    const values = valuesOf(shown, range);
    const cells = Array.from({ length: range[1] - range[0] }, (_, i) => [
      String(range[0] + i),
      ...shown.columns.map((c) => {
        const v = values[c.name]![i];
        return typeof v === "number" ? formatNumber(v) : (v ?? "–");
      }),
    ]);
    for (const line of columnsOf(["row", ...shown.columns.map((c) => c.name)], cells, [
      true,
      ...shown.columns.map((c) => c.type === "number"),
    ]))
      print("  " + line);
  }
  for (const n of shown.notes) print(`  note: ${n}`);
  for (const s of shown.skipped.slice(0, 30)) print(`  skipped line ${s.line}: ${s.reason}`);
  if (shown.skipped.length > 30) print(`  and ${shown.skipped.length - 30} more; --json lists them`);
  return 0;
}

/** Why a file cannot be shown, where in it, and what helps. */
function troubleOf(e: unknown): { place: FormatError["place"]; message: string; hint: string | null } {
  if (e instanceof FormatError) return { place: e.place, message: e.message, hint: e.hint ?? null };
  if ((e as NodeJS.ErrnoException).code === "ENOENT")
    return { place: {}, message: "there is no such file", hint: "Check the path." };
  return { place: {}, message: (e as Error).message, hint: null };
}

function parseRange(text: string, rows: number): [number, number] {
  const m = /^(\d*):(\d*)$/.exec(text);
  if (!m) throw new Error(`--rows ${text}: write A:B, from 0, B excluded`);
  const a = Math.min(rows, m[1] === "" ? 0 : Number(m[1]));
  return [a, Math.max(a, Math.min(rows, m[2] === "" ? rows : Number(m[2])))];
}

function valuesOf(shown: ShownFile, [a, b]: [number, number]): Record<string, (number | string | null)[]> {
  return Object.fromEntries(
    shown.table.columns.map((c) => [
      c.name,
      c.kind === "number" ? Array.from(c.values.subarray(a, b), (x) => (x === x ? x : null)) : c.values.slice(a, b),
    ]),
  );
}

/** JSON has no infinities: they are written as the texts "Inf" and "-Inf". */
const jsonNumber = (_: string, v: unknown): unknown => (v === Infinity ? "Inf" : v === -Infinity ? "-Inf" : v);
