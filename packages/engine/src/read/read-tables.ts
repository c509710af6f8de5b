import { FormatError, separatePasses, type Restart, type TextTable } from "@oxtrum/core/formats";
import { concat, declareUnit, displayUnit, rename, TableError, type Condition, type Table } from "@oxtrum/core/tables";
import { declaredUnit } from "../definition/declared-units.js";

/** A file's table, with the names and units that the study definition gives its columns. */
export interface FileTable {
  readonly file: string;
  readonly table: Table;
  /** Names of all columns of the file, also of those that were not asked for. */
  readonly available: ReadonlySet<string>;
  readonly headerBefore: readonly number[];
  /** The table as it was read: what is known of its worth. */
  readonly read: Table;
}

/**
 * Gives a file's columns the definition's names and units. What is renamed does not depend on which columns are asked
 * for.
 */
export function settledTable(
  file: string,
  read: TextTable,
  names: Readonly<Record<string, readonly string[]>>,
  units: Readonly<Record<string, string>>,
): FileTable {
  let table = read.table;
  const here = table.columns.map((c) => c.name);
  const all = [...new Set([...read.available, ...here])];
  const aliases: Record<string, string> = {};
  for (const [name, others] of Object.entries(names)) {
    const there = all.find((n) => others.includes(n));
    if (there !== undefined && !all.includes(name)) aliases[there] = name;
  }
  const renamed = Object.fromEntries(Object.entries(aliases).filter(([n]) => here.includes(n)));
  if (Object.keys(renamed).length > 0) table = rename(table, renamed);
  const replaced: string[] = [];
  for (const c of table.columns) {
    const stored = Object.keys(renamed).find((n) => renamed[n] === c.name);
    const unit = c.kind === "number" ? declaredUnit(c.name, c.unit, units, stored) : null;
    if (c.kind !== "number" || unit === null || unit === c.unit) continue;
    if (c.unit !== null) replaced.push(`"${c.name}" in ${displayUnit(unit)}, not in ${displayUnit(c.unit)}`);
    table = declareUnit(table, c.name, unit);
  }
  if (replaced.length > 0)
    table = {
      ...table,
      notes: [...table.notes, `${file}: by the study's definition ${replaced.join(", ")} as it says`],
    };
  const available = new Set(all.map((n) => (Object.hasOwn(aliases, n) ? aliases[n]! : n)));
  return { file, table, available, headerBefore: read.headerBefore, read: read.table };
}

/**
 * The tables of files that a restart has split, in the given order: columns by name in the first file's units, with the
 * rows that a later file repeats dropped. A column that a file does not have is missing in its rows, which is noted.
 *
 * @throws FormatError for a file that runs along another column, or whose units do not go with those of the first
 */
export function joinedTables(
  read: readonly FileTable[],
  restart: Restart,
): { table: Table; conditions: readonly Condition[] } {
  const [first] = read;
  const axis = first!.table.axis;
  for (const r of read) {
    if (r.table.axis === axis || r.table.rows === 0) continue;
    const runs = r.table.axis === undefined ? "has no axis" : `runs along "${r.table.axis}"`;
    const along = axis === undefined ? "has none" : `runs along "${axis}"`;
    throw new FormatError(
      r.file,
      `${r.file} ${runs}, ${first!.file} ${along}`,
      {},
      'Name the axis in the definition ("read": { "axis": … }), or give the column one name ("names").',
    );
  }
  const boundaries: number[] = [];
  const files: number[] = [];
  let row = 0;
  read.forEach((r, k) => {
    if (k > 0) files.push(row);
    for (const h of r.headerBefore) boundaries.push(row + h);
    row += r.table.rows;
  });
  const plain = together(read);
  const absent = plain.columns.flatMap((c) => {
    const without = read.filter((r) => r.table.rows > 0 && !r.available.has(c.name) && c.name !== "pass");
    return without.length === 0
      ? []
      : [`"${c.name}" is not in ${without.map((r) => r.file).join(", ")}: missing in its rows`];
  });
  const order = `joined from ${read.map((r) => r.file).join(", ")}, in this order`;
  const noted = { ...plain, notes: [...plain.notes, order, ...absent] };
  const table = noted.axis === undefined ? noted : separatePasses(noted, noted.axis, boundaries, restart, files);
  return { table, conditions: restartConditions(table, first!.file) };
}

/** Tables below each other; one whose units do not go with the others is named. */
function together(read: readonly FileTable[]): Table {
  for (let k = 1; k < read.length; k++)
    try {
      concat([read[0]!.table, read[k]!.table].map((t) => ({ ...t, columns: t.columns.map(headOf), rows: 0 })));
    } catch (e) {
      if (!(e instanceof TableError) && (e as Error).name !== "UnitError") throw e;
      throw new FormatError(
        read[k]!.file,
        `${read[k]!.file} does not go with ${read[0]!.file}: ${(e as Error).message}`,
        {},
        'Declare the unit in the definition ("units").',
      );
    }
  return concat(read.map((r) => r.table));
}

const headOf = (c: Table["columns"][number]): Table["columns"][number] =>
  c.kind === "number" ? { ...c, values: new Float64Array(0) } : { ...c, values: [] };

/** What was dropped where files overlap, as conditions of the joined table. */
const restartConditions = (table: Table, file: string): Condition[] =>
  table.notes
    .filter((n) => n.startsWith("restart: "))
    .map((n) => ({ kind: "restart", file, text: n.slice("restart: ".length) }));

/** Whether a column of a file is needed for those asked for: it is one, or is renamed to one. */
export function namesBehind(
  columns: readonly string[],
  names: Readonly<Record<string, readonly string[]>>,
): (name: string) => boolean {
  const needed = new Set(columns.flatMap((c) => [c, ...(Object.hasOwn(names, c) ? names[c]! : [])]));
  return (name) => needed.has(name);
}
