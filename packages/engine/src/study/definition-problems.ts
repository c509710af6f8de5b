import { glob, suggestion } from "@oxtrum/core/tables";
import { fieldName } from "../definition/field-name.js";
import type { Catalogue, Problem } from "../definition/catalogue-model.js";
import { definitionName, resolveFile } from "../definition/definition.js";

type Known = Pick<Catalogue, "runs" | "shapes" | "fieldShapes" | "beside" | "definition">;

/** What a study's files and fields are called, and their columns. */
function namesIn(c: Known): { files: Map<string, Set<string>>; fields: Set<string> } {
  const files = new Map<string, Set<string>>();
  const add = (file: string, columns: readonly { readonly name: string }[]): void => {
    const known = files.get(file) ?? new Set();
    files.set(file, known);
    for (const { name } of columns) known.add(name);
  };
  const fields = new Set(["x", "time"]);
  for (const { files: own } of [...c.runs, { files: c.beside }])
    for (const [file, f] of Object.entries(own)) add(file, f.shape === undefined ? [] : c.shapes[f.shape]!.columns);
  for (const s of c.fieldShapes) for (const f of s.fields) fields.add(f.name);
  for (const r of c.runs)
    for (const [name, f] of Object.entries(r.fields)) {
      const held = f.shape === undefined ? [] : c.fieldShapes[f.shape]!.fields;
      for (const file of [name, f.file ?? name]) add(file, [...held, { name: "x" }, { name: "time" }]);
    }
  return { files, fields };
}

/**
 * What a definition says of files, columns and runs that are not there: a slip of the pen in it would otherwise leave
 * units, names and rules without effect, and nobody would know.
 */
export function definitionProblems(c: Known): Problem[] {
  const { definition: d } = c;
  const out: Problem[] = [];
  const told = [d.units, d.names, d.files, d.accept, d.runUnits].some((part) => Object.keys(part).length > 0);
  if (c.runs.length === 0 || !told) return out;
  const add = (kind: Problem["kind"], text: string): void =>
    void out.push({ run: "", kind, file: definitionName, text: `${definitionName}: ${text}` });
  const { files, fields } = namesIn(c);
  const unitsOf = (place: string, pattern: string, columns: readonly string[]): void => {
    const fits = glob(pattern);
    const fitting =
      pattern === "fields" ? [fields] : [...files].filter(([f]) => f === pattern || fits(f)).map(([, s]) => s);
    if (fitting.length === 0)
      return add("unit", `${place}: no file fits "${pattern}"${suggestion(pattern, [...files.keys()])}`);
    // A column may be declared by the name that it has in its file.
    const called = fitting
      .flatMap((s) => [...s])
      .flatMap((n) => [n, ...(Object.hasOwn(d.names, n) ? d.names[n]! : [])]);
    const there = new Set(called);
    for (const column of columns) {
      const named = glob(column);
      if (there.size > 0 && ![...there].some((n) => n === column || named(n)))
        add("unit", `${place}: no column of ${pattern} fits "${column}"${suggestion(column, [...there])}`);
    }
  };
  for (const [file, units] of Object.entries(d.units)) unitsOf("units", file, Object.keys(units));
  for (const r of d.runUnits) {
    const fits = glob(r.run);
    if (!c.runs.some((run) => run.id === r.run || fits(run.id))) add("unit", `runUnits: no run fits "${r.run}"`);
    else unitsOf("runUnits", r.file, Object.keys(r.units));
  }
  const columns = new Set([...[...files.values()].flatMap((s) => [...s]), ...fields]);
  const blocks = new Set(c.fieldShapes.flatMap((s) => s.blocks.flatMap((b) => [b, ...b.split("/")])));
  for (const [name, others] of Object.entries(d.names))
    if (![name, ...others].some((n) => columns.has(n) || blocks.has(n)))
      add("missing-column", `names: nothing is called "${name}"${others.map((o) => ` or "${o}"`).join("")}`);
  const isThere = (file: string): boolean =>
    resolveFile(d, file).paths.some((p) => files.has(p) || files.has(fieldName(p)) || p.includes("*"));
  for (const name of Object.keys(d.files)) {
    const { paths, optional } = resolveFile(d, name);
    if (!optional && !isThere(name))
      add(
        "missing-file",
        `files: no run has ${paths.join(" or ")}, which "${name}" stands for${suggestion(paths[0]!, [...files.keys()])}`,
      );
  }
  for (const [name, r] of Object.entries(d.accept)) {
    const file = r.table ?? r.lines!;
    if (!Object.hasOwn(d.files, file) && !isThere(file))
      add(
        "missing-file",
        `accept: the rule "${name}" reads ${file}, which no run has${suggestion(file, [...files.keys()])}`,
      );
  }
  return out;
}
