import { FormatError, openMesh, type MeshFile } from "@oxtrum/core/formats";
import {
  Block,
  unifiedFields,
  type DerivedField,
  type FieldAtTime,
  type NamedField,
  type UnifiedFields,
} from "@oxtrum/core/sampling";
import type { Condition, UnitSymbol } from "@oxtrum/core/tables";
import type { FieldSource } from "../verbs/field/index.js";
import type { ReadNotes } from "../store/partial-identity.js";
import { fieldLayout, type FieldLayout, type FieldPart as Part } from "./field-layout.js";
import type { HeldSteps } from "./held-steps.js";
import { Opened } from "./opened-files.js";
import type { SeriesTimes } from "../definition/definition.js";
import { blockName } from "../definition/block-name.js";
import { declaredUnit } from "../definition/declared-units.js";

interface OpenBlocks extends Omit<UnifiedFields, "grids"> {
  readonly blocks: readonly Block[];
  /** The files that they are read from. */
  readonly names: ReadonlySet<string>;
  close(): void;
}

type Locate = (relative: string) => string;
type Aliases = Readonly<Record<string, readonly string[]>>;
type UnitOf = (name: string, own: UnitSymbol, stored?: string) => UnitSymbol;
const ownUnit: UnitOf = (_, own) => own;

/** The blocks of one step, opened, with the fields that they hold together. */
function openBlocks(
  parts: readonly Part[],
  locate: Locate,
  aliases: Aliases,
  unitOf: UnitOf,
  watch?: ReadNotes,
): OpenBlocks {
  const opened = new Opened(locate, watch);
  try {
    const files: string[] = [];
    const grids = parts.flatMap(({ file, block }) => {
      const mesh = openMesh(opened.source(file), opened.siblings(file));
      if (mesh.format === "collection") throw new FormatError(file, "this is a collection of times, not a grid");
      return (mesh as MeshFile).grids.map((g) => {
        files.push(file);
        return { ...g, block: blockName([block ?? "", g.block].filter((t) => t !== "").join("/"), aliases) };
      });
    });
    const { grids: unified, fields, notes } = unifiedFields(grids, aliases, unitOf);
    const blocks = unified.map((g, k) => new Block(g, files[k]!, g.block, watch));
    return { blocks, fields, notes, names: opened.names, close: () => opened.close() };
  } catch (e) {
    opened.close();
    throw e;
  }
}

/** The steps that a batch holds. */
export type Held = HeldSteps<OpenBlocks>;

/** The blocks of one step; files stay open until `use` is done. */
function withBlocks<T>(parts: readonly Part[], locate: Locate, use: (open: OpenBlocks) => T): T {
  const open = openBlocks(parts, locate, {}, ownUnit);
  try {
    return use(open);
  } finally {
    open.close();
  }
}

/** One step of a field, open until it is closed. */
export interface OpenStep {
  readonly field: FieldAtTime;
  readonly names: ReadonlySet<string>;
  close(): void;
}

/** A field whose files have been found, ready to be worked with. */
export interface OpenField extends FieldSource {
  readonly notes: readonly string[];
  /** Opens a step and leaves its files open. */
  open(step: number): OpenStep;
  /** All files that a step is read from: its own and those that they name. */
  filesOf(step: number, gaps: boolean): readonly string[];
  conditions(): Condition[];
}

/**
 * A field whose files have been found.
 *
 * @param keeping takes down what is read, or holds the steps that others need too, those of one folder and definition
 */
export function fieldSource(
  layout: FieldLayout,
  locate: (relative: string) => string,
  units: Readonly<Record<string, string>>,
  aliases: Readonly<Record<string, readonly string[]>>,
  keeping: { readonly notes?: ReadNotes; readonly held?: { readonly steps: Held; readonly of: string } } = {},
): OpenField {
  const { notes, held } = keeping;
  const unitOf: UnitOf = (name, own, stored) => declaredUnit(name, own, units, stored);
  const lengthUnit = unitOf("x", null);
  const seen = new Map<string, Condition>();
  const opened = (step: number): OpenBlocks => openBlocks(layout.steps[step]!.parts, locate, aliases, unitOf, notes);
  const fieldOf = (step: number, { blocks, fields, notes: fieldNotes }: OpenBlocks): FieldAtTime => {
    const { file } = layout.steps[step]!.parts[0]!;
    for (const { grid } of blocks)
      for (const text of grid.notes ?? []) seen.set(text, { kind: "unfinished line", file, text });
    return { file, blocks, fields, fieldNotes, lengthUnit, derived: [] };
  };
  const using = <T>(step: number, use: (blocks: OpenBlocks) => T): T => {
    const open = (): OpenBlocks => opened(step);
    if (held) return held.steps.with(JSON.stringify([held.of, units, layout.steps[step]!.parts]), open, use);
    const blocks = open();
    try {
      return use(blocks);
    } finally {
      blocks.close();
    }
  };
  return {
    axis: layout.axis,
    lengthUnit,
    unit: layout.axis === "step" ? "1" : (layout.axisUnit ?? unitOf("time", null)),
    steps: layout.steps.map((s) => s.at),
    conditions: () => [...seen.values()],
    notes: layout.notes,
    open: (step) => {
      const blocks = opened(step);
      return { field: fieldOf(step, blocks), names: blocks.names, close: blocks.close };
    },
    filesOf: (step, gaps) => {
      try {
        return using(step, ({ names }) => [...names].sort());
      } catch (e) {
        // Where a time may be missing, a file that cannot be opened is known by its bytes.
        if (gaps && e instanceof FormatError) return layout.steps[step]!.parts.map((p) => p.file);
        throw e;
      }
    },
    withStep: <T>(step: number, derived: readonly DerivedField[], use: (f: FieldAtTime) => T): T =>
      using(step, (blocks) => use({ ...fieldOf(step, blocks), derived })),
  };
}

/** What a field's head says, for the catalogue: fields, blocks and times; no values are read. */
export function describeField(
  name: string,
  locate: (relative: string) => string,
  declared?: SeriesTimes,
): {
  layout: FieldLayout;
  fields: readonly NamedField[];
  blocks: string[];
  dimension: number;
  /** By block: the highest dimension among its cells. */
  dimensions: number[];
  files: string[];
} {
  const layout = fieldLayout(name, locate, declared);
  return withBlocks(layout.steps[0]!.parts, locate, ({ blocks: all, fields }) => {
    const byName = new Map<string, number>();
    for (const b of all) byName.set(b.name, Math.max(byName.get(b.name) ?? 0, b.grid.dimension()));
    byName.delete("");
    return described(layout, all, fields, byName);
  });
}

function described(
  layout: FieldLayout,
  blocks: readonly Block[],
  fields: readonly NamedField[],
  byName: ReadonlyMap<string, number>,
): ReturnType<typeof describeField> {
  return {
    layout,
    fields,
    dimension: Math.max(0, ...blocks.map((b) => b.grid.dimension())),
    blocks: [...byName.keys()],
    dimensions: [...byName.values()],
    files: [...layout.heads, ...layout.steps.flatMap((s) => s.parts.map((p) => p.file))],
  };
}
