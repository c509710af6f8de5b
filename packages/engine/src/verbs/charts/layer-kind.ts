import type { z } from "zod";
import type { HeatCells, Series } from "@oxtrum/core/charts";
import type { Condition } from "@oxtrum/core/tables";
import type { Documented } from "../parameters/declaration.js";
import type { AxesFrame } from "./axes-frame.js";
import { many, type LayerOptions } from "./layer-options.js";
import type { Member } from "./members.js";

/** What a layer adds to a chart. */
export interface Layer {
  readonly series?: Series[];
  readonly heat?: HeatCells;
  /** From where to where both axes go at least. */
  readonly range?: readonly [number, number] | undefined;
}

type OwnOptions<S extends z.ZodRawShape> = { readonly [K in keyof S]: z.infer<S[K]> };

interface Definition<S extends z.ZodRawShape> extends Documented {
  readonly takes: "runs and tables" | "tables";
  /** The type of its options in the declarations; `{by}` stands for the names that tell members apart. */
  readonly options: string;
  readonly needsOptions?: true;
  /** Options that other kinds do not have. */
  readonly own?: S;
  /** Those of its own that are amounts, and those that name columns. */
  readonly amounts?: readonly (keyof S & string)[];
  readonly columns?: readonly (keyof S & string)[];
  /**
   * Options that have to be given for the columns that it reads to be known: x and y when not said, undefined for
   * never.
   */
  readonly named?: readonly ("x" | "y")[] | undefined;
  /** How the axis at the left is where a script does not say it. */
  readonly yAxis?: { readonly title?: string; readonly scale?: "linear" | "log" };
  layer(members: readonly Member[], o: LayerOptions & OwnOptions<S>, frame: AxesFrame, offset: number): Layer;
  /** What of its tables is not in its series, where that cannot be seen in the drawing. */
  leftOut?(members: readonly Member[], o: LayerOptions & OwnOptions<S>): Condition[];
}

/** A kind of chart: its options, its declaration, and the series that it makes of tables. */
export type LayerKind = Definition<z.ZodRawShape>;

/** Declares a kind of chart. */
export function layerKind<S extends z.ZodRawShape = Record<never, never>>(d: Definition<S>): LayerKind {
  return { named: ["x", "y"], ...d } as unknown as LayerKind;
}

/** The columns that a layer reads, where its options name them all. */
export function namedColumns(kind: LayerKind, options: LayerOptions): string[] | undefined {
  const given = options as Readonly<Record<string, string | readonly string[] | undefined>>;
  if (!kind.named?.every((n) => given[n] !== undefined)) return undefined;
  return ["x", "y", "right", ...(kind.columns ?? [])].flatMap((o) => many(given[o]));
}

/** A kind as it is declared: once for tables, and once for runs where it takes them. */
export function layerSignatures(kind: LayerKind): string[] {
  const options = (by: string): string =>
    `options${kind.needsOptions ? "" : "?"}: ${kind.options.replaceAll("{by}", by)}`;
  const runs = `${kind.name}<C, S extends StudyShape>(data: RunMap<Table<C>, S>, ${options('Name<S["choices"]>')}): Chart`;
  const table = `${kind.name}<C>(data: Table<C>, ${options("Name<C>")}): Chart`;
  return kind.takes === "tables" ? [table] : [runs, table];
}
