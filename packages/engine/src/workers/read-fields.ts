import fs from "node:fs";
import path from "node:path";
import { FormatError, openMesh, type MeshFile } from "@oxtrum/core/formats";
import { Block, namedFields, type DerivedField, type FieldAtTime } from "@oxtrum/core/sampling";
import { glob, type Condition, type UnitSymbol } from "@oxtrum/core/tables";
import type { FieldSource } from "../operations/field-verbs.js";
import type { ReadNotes } from "../store/partial-identity.js";
import { Opened } from "./opened-files.js";
import { blockName } from "../study/block-name.js";
import { declaredUnit } from "../study/catalogue.js";

/** A file of a field: where it is in the run's folder, and the block that it is when several files make up one step. */
interface Part {
  readonly file: string;
  readonly block: string | undefined;
}

/** Which files make up a field, step by step. */
export interface FieldLayout {
  readonly axis: string;
  readonly steps: readonly { readonly at: number | undefined; readonly parts: readonly Part[] }[];
  /** Files that say so, and are therefore read themselves. */
  readonly heads: readonly string[];
}

const endings = [
  ".pvd",
  ".vtm",
  ".vtu",
  ".vtp",
  ".vti",
  ".vtr",
  ".vts",
  ".pvtu",
  ".pvtp",
  ".vtk",
  ".stl",
  ".ply",
  ".obj",
];

/**
 * Finds the files of a field by the name a script uses: a file, with or without its ending; a time collection; a pattern
 * whose stars are numbers (one file a step) or names (one file a block).
 *
 * @param locate gives the full path of a file in the run's folder, refusing what leads out of it
 * @throws FormatError when there is no such file
 */
export function fieldLayout(name: string, locate: (relative: string) => string): FieldLayout {
  if (name.includes("*")) return patternLayout(name, locate);
  const found = ["", ...endings]
    .map((e) => name + e)
    .find((f) => fs.existsSync(locate(f)) && fs.statSync(locate(f)).isFile());
  if (found === undefined) throw new FormatError(name, `there is no ${name} in this run`);
  const opened = new Opened(locate);
  try {
    const file = openMesh(opened.source(found), opened.siblings(found));
    if (file.format !== "collection")
      return { axis: "time", steps: [{ at: undefined, parts: [{ file: found, block: undefined }] }], heads: [] };
    const byTime = new Map<number, Part[]>();
    for (const s of (file as import("@oxtrum/core/formats").TimeCollection).steps) {
      const part = { file: path.posix.join(path.posix.dirname(found), s.file), block: undefined };
      byTime.set(s.time, [...(byTime.get(s.time) ?? []), part]);
    }
    const steps = [...byTime].sort(([a], [b]) => a - b).map(([at, parts]) => ({ at, parts }));
    return { axis: "time", steps, heads: [found] };
  } finally {
    opened.close();
  }
}

function patternLayout(pattern: string, locate: (relative: string) => string): FieldLayout {
  const folder = path.posix.dirname(pattern.slice(0, pattern.indexOf("*") + 1));
  const fits = glob(pattern);
  const there = fs.existsSync(locate(folder)) ? fs.readdirSync(locate(folder)) : [];
  const files = there
    .map((f) => path.posix.join(folder, f))
    .filter((f) => fits(f))
    .sort();
  if (files.length === 0) throw new FormatError(pattern, `no file of this run fits ${pattern}`);
  const [before, after] = [pattern.slice(0, pattern.indexOf("*")), pattern.slice(pattern.lastIndexOf("*") + 1)];
  const middle = files.map((f) => f.slice(before.length, f.length - after.length));
  if (middle.every((m) => /^\d+$/.test(m))) {
    const steps = files
      .map((file, k) => ({ at: Number(middle[k]), parts: [{ file, block: undefined }] }))
      .sort((a, b) => a.at - b.at);
    return { axis: "step", steps, heads: [] };
  }
  return {
    axis: "time",
    steps: [{ at: undefined, parts: files.map((file, k) => ({ file, block: middle[k]! })) }],
    heads: [],
  };
}

/** The blocks of one step, opened; `names` are the files that they were read from. */
function openBlocks(
  parts: readonly Part[],
  locate: (relative: string) => string,
  aliases: Readonly<Record<string, readonly string[]>>,
  notes?: ReadNotes,
): { blocks: Block[]; names: ReadonlySet<string>; close: () => void } {
  const opened = new Opened(locate, notes);
  try {
    const blocks = parts.flatMap(({ file, block }) => {
      const mesh = openMesh(opened.source(file), opened.siblings(file));
      if (mesh.format === "collection") throw new FormatError(file, "this is a collection of times, not a grid");
      return (mesh as MeshFile).grids.map(
        (g) => new Block(g, file, blockName([block ?? "", g.block].filter((t) => t !== "").join("/"), aliases), notes),
      );
    });
    return { blocks, names: opened.names, close: () => opened.close() };
  } catch (e) {
    opened.close();
    throw e;
  }
}

/** The blocks of one step; files stay open until `use` is done. */
function withBlocks<T>(
  parts: readonly Part[],
  locate: (relative: string) => string,
  aliases: Readonly<Record<string, readonly string[]>>,
  use: (blocks: Block[], names: ReadonlySet<string>) => T,
): T {
  const { blocks, names, close } = openBlocks(parts, locate, aliases);
  try {
    return use(blocks, names);
  } finally {
    close();
  }
}

/** All files that a step is read from: its own and those that they name. */
export function filesOfStep(parts: readonly Part[], locate: (relative: string) => string): string[] {
  return withBlocks(parts, locate, {}, (_, names) => [...names].sort());
}

/** One step of a field, open until it is closed. */
export interface OpenStep {
  readonly field: FieldAtTime;
  readonly names: ReadonlySet<string>;
  close(): void;
}

/** A field whose files have been found, ready to be worked with; `open` leaves its files open, `notes` takes down what is read. */
export function fieldSource(
  layout: FieldLayout,
  locate: (relative: string) => string,
  units: Readonly<Record<string, string>>,
  aliases: Readonly<Record<string, readonly string[]>>,
  notes?: ReadNotes,
): FieldSource & { open(step: number): OpenStep; conditions(): Condition[] } {
  const unitOf = (name: string, own: UnitSymbol): UnitSymbol => declaredUnit(name, own, units);
  const lengthUnit = unitOf("x", null);
  const seen = new Map<string, Condition>();
  const open = (step: number): OpenStep => {
    const { parts } = layout.steps[step]!;
    const { blocks, names, close } = openBlocks(parts, locate, aliases, notes);
    const grids = blocks.map((b) => b.grid);
    for (const g of grids)
      for (const text of g.notes ?? []) seen.set(text, { kind: "unfinished line", file: parts[0]!.file, text });
    const fields = namedFields(grids, aliases, unitOf);
    return { field: { file: parts[0]!.file, blocks, fields, lengthUnit, derived: [] }, names, close };
  };
  return {
    axis: layout.axis,
    lengthUnit,
    unit: layout.axis === "step" ? "1" : unitOf("time", null),
    steps: layout.steps.map((s) => s.at),
    conditions: () => [...seen.values()],
    open,
    withStep: <T>(step: number, derived: readonly DerivedField[], use: (f: FieldAtTime) => T): T => {
      const opened = open(step);
      try {
        return use({ ...opened.field, derived });
      } finally {
        opened.close();
      }
    },
  };
}

/** What a field's head says, for the catalogue: fields, blocks and times; no values are read. */
export function describeField(
  name: string,
  locate: (relative: string) => string,
): {
  layout: FieldLayout;
  fields: ReturnType<typeof namedFields>;
  blocks: string[];
  dimension: number;
  files: string[];
} {
  const layout = fieldLayout(name, locate);
  return withBlocks(layout.steps[0]!.parts, locate, {}, (blocks) => ({
    layout,
    fields: namedFields(
      blocks.map((b) => b.grid),
      {},
      (_, own) => own,
    ),
    dimension: Math.max(0, ...blocks.map((b) => b.grid.dimension())),
    blocks: [...new Set(blocks.map((b) => b.name).filter((n) => n !== ""))],
    files: [...layout.heads, ...layout.steps.flatMap((s) => s.parts.map((p) => p.file))],
  }));
}
