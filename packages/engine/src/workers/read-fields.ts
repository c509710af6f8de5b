import { FormatError, openMesh, type MeshFile } from "@oxtrum/core/formats";
import { Block, namedFields, type DerivedField, type FieldAtTime } from "@oxtrum/core/sampling";
import type { Condition, UnitSymbol } from "@oxtrum/core/tables";
import type { FieldSource } from "../operations/field-verbs.js";
import type { ReadNotes } from "../store/partial-identity.js";
import { fieldLayout, type FieldLayout, type FieldPart as Part } from "./field-layout.js";
import { Opened } from "./opened-files.js";
import { blockName } from "../study/block-name.js";
import { declaredUnit } from "../study/catalogue.js";

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
): FieldSource & { readonly notes: readonly string[]; open(step: number): OpenStep; conditions(): Condition[] } {
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
    notes: layout.notes,
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
  /** By block: the highest dimension among its cells. */
  dimensions: number[];
  files: string[];
} {
  const layout = fieldLayout(name, locate);
  return withBlocks(layout.steps[0]!.parts, locate, {}, (all) => {
    const byName = new Map<string, number>();
    for (const b of all) byName.set(b.name, Math.max(byName.get(b.name) ?? 0, b.grid.dimension()));
    byName.delete("");
    return described(layout, all, byName);
  });
}

function described(
  layout: FieldLayout,
  blocks: readonly Block[],
  byName: ReadonlyMap<string, number>,
): ReturnType<typeof describeField> {
  return {
    layout,
    fields: namedFields(
      blocks.map((b) => b.grid),
      {},
      (_, own) => own,
    ),
    dimension: Math.max(0, ...blocks.map((b) => b.grid.dimension())),
    blocks: [...byName.keys()],
    dimensions: [...byName.values()],
    files: [...layout.heads, ...layout.steps.flatMap((s) => s.parts.map((p) => p.file))],
  };
}
