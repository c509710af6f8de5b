import { shortNames } from "../definition/short-names.js";
import type { Catalogue, ColumnHead } from "../definition/catalogue-model.js";
import { fieldName, isMeshName } from "../definition/field-name.js";
import { resolveFile } from "../definition/definition.js";

const q = (s: string): string => JSON.stringify(s);

/** Columns of all shapes a file has in a study, as one type: a name that any run has is known. */
export function mergedColumns(c: Catalogue, file: string): ColumnHead[] {
  const shapes = new Set<number>();
  for (const r of c.runs)
    if (Object.hasOwn(r.files, file) && r.files[file]!.shape !== undefined) shapes.add(r.files[file]!.shape!);
  const out: ColumnHead[] = [];
  for (const s of shapes) for (const h of c.shapes[s]!.columns) if (!out.some((o) => o.name === h.name)) out.push(h);
  return out;
}

/** The runs that lack something most have, as a doc tag: the checker warns of it where the name is written. */
function lackedBy(runs: readonly string[], of: number): string {
  if (runs.length === 0) return "";
  const shown = runs.slice(0, 3).join(", ") + (runs.length > 3 ? ` and ${runs.length - 3} more` : "");
  // On a line of its own: behind something on the same line it would belong to that.
  return `\n/** @lackedBy ${runs.length} of ${of} runs (${shown.replace(/[*@\n]/g, "_")}) */ `;
}

const columnType = (h: ColumnHead): string =>
  h.kind === "text" ? "Text" : `Numbers<${h.unit === null ? "null" : q(h.unit)}>`;

const columnsType = (heads: readonly ColumnHead[], lacking: (name: string) => string = () => ""): string =>
  `{ ${[...heads.map((h) => `${lacking(h.name)}${q(h.name)}: ${columnType(h)}`), 'pass: Numbers<"1">'].join("; ")} }`;

/** For a file as scripts name it: which runs lack it, and which runs that have it lack a column. */
function gapsOf(c: Catalogue, file: string): { file: string; column: (name: string) => string } {
  const { paths, optional } = resolveFile(c.definition, file);
  const without: string[] = [];
  const shapes = new Map<number, string[]>();
  for (const r of c.runs) {
    const there = paths.filter((p) => Object.hasOwn(r.files, p));
    if (there.length === 0) without.push(r.id);
    const shape = there.map((p) => r.files[p]!.shape).find((s) => s !== undefined);
    if (shape !== undefined) shapes.set(shape, [...(shapes.get(shape) ?? []), r.id]);
  }
  return {
    file: optional ? "" : lackedBy(without, c.runs.length),
    column: (name) =>
      shapes.size < 2
        ? ""
        : lackedBy(
            [...shapes].flatMap(([s, runs]) => (c.shapes[s]!.columns.some((h) => h.name === name) ? [] : runs)),
            c.runs.length,
          ),
  };
}

/** File names as scripts write them: logical names, and every path that some run has. */
export function scriptFiles(c: Catalogue): Map<string, ColumnHead[] | undefined> {
  const out = new Map<string, ColumnHead[] | undefined>();
  const paths = new Set(c.runs.flatMap((r) => Object.keys(r.files)));
  const isTable = (p: string): boolean =>
    c.runs.some((r) => Object.hasOwn(r.files, p) && r.files[p]!.shape !== undefined);
  for (const [name, f] of Object.entries(c.definition.files)) {
    const list = typeof f === "string" ? [f] : Array.isArray(f.path) ? f.path : [f.path];
    // Numbered mesh files under one name are a field.
    if (list.every((p) => p.includes("*") || isMeshName(p))) continue;
    out.set(
      name,
      list.flatMap((p) => mergedColumns(c, p)).filter((h, i, all) => all.findIndex((o) => o.name === h.name) === i),
    );
  }
  for (const p of [...paths].sort()) if (!out.has(p)) out.set(p, isTable(p) ? mergedColumns(c, p) : undefined);
  return out;
}

/** Fields by the names scripts use: what any run has of them, and which runs lack them. */
interface FieldNames {
  readonly fields: readonly string[];
  readonly blocks: readonly string[];
  readonly times: readonly number[];
  readonly gap: string;
}

function fieldNamesOf(c: Catalogue): Map<string, FieldNames> {
  const out = new Map<string, FieldNames>();
  const names = [...new Set(c.runs.flatMap((r) => Object.keys(r.fields)))].sort();
  const alias = new Map(
    Object.keys(c.definition.files).flatMap((name) => {
      const file = resolveFile(c.definition, name).paths[0]!;
      return [[file, name] as const, [fieldName(file), name] as const];
    }),
  );
  for (const name of names) {
    const shapes = new Set(c.runs.flatMap((r) => (r.fields[name]?.shape === undefined ? [] : [r.fields[name].shape])));
    const all = [...shapes].map((s) => c.fieldShapes[s]!);
    const kinds = new Map<string, string>();
    for (const f of all.flatMap((s) => s.fields)) {
      const unit = f.unit === null ? "null" : q(f.unit);
      kinds.set(f.name, `${q(f.name)}: ${f.components === 3 ? "Vector" : "Scalar"}<${unit}>`);
    }
    const times = [
      ...new Set(c.runs.flatMap((r) => ((r.fields[name]?.steps ?? 1) > 1 ? (r.fields[name]?.times ?? []) : []))),
    ];
    const without = c.runs.filter((r) => !Object.hasOwn(r.fields, name)).map((r) => r.id);
    const described: FieldNames = {
      fields: [...kinds.values()],
      blocks: [...new Set(all.flatMap((s) => s.blocks))],
      times: times.length <= MOST_TIMES ? times.sort((a, b) => a - b) : [],
      gap: lackedBy(without, c.runs.length),
    };
    out.set(alias.get(name) ?? name, described);
    // The whole name of the file is accepted as well.
    const file = c.runs.map((r) => r.fields[name]?.file).find((f) => f !== undefined);
    if (file !== undefined && !out.has(file)) out.set(file, described);
  }
  return out;
}

const MOST_TIMES = 200;

/**
 * The types that a study adds to the library: run parameters, file names, column names and units. One shape for each
 * file pattern, never one for each run.
 */
export function studyTypes(name: string, c: Catalogue): string {
  const params = c.parameters.map((p) => {
    const values = [...new Set(c.runs.flatMap((r) => (Object.hasOwn(r.params, p.name) ? [r.params[p.name]!] : [])))];
    const words = values.length > 0 && values.length <= 40 ? values.map((v) => q(String(v))).join(" | ") : "string";
    return `${q(p.name)}: ${p.type === "text" ? words : "Quantity"}`;
  });
  const choices = c.parameters.map((p) => {
    const values = [...new Set(c.runs.flatMap((r) => (Object.hasOwn(r.params, p.name) ? [r.params[p.name]!] : [])))];
    const type =
      p.type === "number"
        ? "number"
        : values.length > 0 && values.length <= 40
          ? values.map((v) => q(String(v))).join(" | ")
          : "string";
    return `${q(p.name)}: ${type}`;
  });
  const files = [...scriptFiles(c)];
  // Endings may be left out where only one file is meant.
  const only = (names: readonly string[]): ((file: string) => string[]) => {
    const short = [...shortNames(names)].filter(([, meant]) => meant.length === 1);
    const by = new Map(short.map(([name, [file]]) => [file!, name]));
    return (file) => (by.has(file) ? [by.get(file)!] : []);
  };
  const shortOf = only(files.map(([f]) => f));
  const shortBeside = only([...Object.keys(c.beside), ...Object.keys(c.definition.files)]);
  const gaps = new Map(files.map(([f]) => [f, gapsOf(c, f)]));
  const tables = files
    .filter(([, h]) => h !== undefined)
    .flatMap(([f, h]) =>
      [f, ...shortOf(f)].map((n) => `${gaps.get(f)!.file}${q(n)}: ${columnsType(h!, gaps.get(f)!.column)}`),
    );
  const others = files
    .filter(([, h]) => h === undefined)
    .flatMap(([f]) => [f, ...shortOf(f)].map((n) => `${gaps.get(f)!.file}${q(n)}: Text`));
  const beside = Object.entries(c.beside)
    .filter(([, f]) => f.shape !== undefined)
    .flatMap(([p, f]) => [p, ...shortBeside(p)].map((n) => `${q(n)}: ${columnsType(c.shapes[f.shape!]!.columns)}`));
  const fields = [...fieldNamesOf(c)].map(
    ([f, k]) =>
      `${k.gap}${q(f)}: { fields: { ${k.fields.join("; ")} }; blocks: ` +
      `${k.blocks.map(q).join(" | ") || "string"}; times: ${k.times.join(" | ") || "number"} }`,
  );
  return `import type { Numbers, Text, Quantity, Scalar, Vector } from "oxtrum";
declare module "oxtrum" {
  interface Studies {
    ${q(name)}: {
      params: { ${params.join("; ")} };
      choices: { ${choices.join("; ")} };
      tables: { ${tables.join("; ")} };
      lines: { ${others.join("; ")} };
      fields: { ${fields.join("; ")} };
      beside: { ${beside.join("; ")} };
    };
  }
}
`;
}
