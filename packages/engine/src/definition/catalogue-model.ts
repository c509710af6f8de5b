import type { NamedField } from "@oxtrum/core/sampling";
import type { StudyDefinition } from "./definition.js";
import type { Parameter } from "./raw-parameters.js";

export interface ColumnHead {
  readonly name: string;
  readonly unit: string | null;
  readonly kind: "number" | "text";
}

/** The layout that many runs' files share. */
export interface Shape {
  readonly columns: readonly ColumnHead[];
  readonly axis?: string;
}

/** What the catalogue knows of one file: its state when it was looked at, and what its head and end said. */
export interface CatalogueFile {
  readonly size: number;
  readonly mtime: number;
  /** Number of its shape, for tables. */
  readonly shape?: number;
  /** Axis value of the last row. */
  readonly last?: number;
  readonly cut?: true;
  readonly error?: string;
}

export interface CatalogueRun {
  readonly id: string;
  readonly folder: string;
  readonly params: Readonly<Record<string, number | string>>;
  readonly files: Readonly<Record<string, CatalogueFile>>;
  /** Fields by the names under which scripts find them. */
  readonly fields: Readonly<Record<string, CatalogueField>>;
  readonly problems: readonly Problem[];
  /** Not all of its files could be listed: one that is not in `files` may be there all the same. */
  readonly partial?: true;
}

export interface Problem {
  /** Empty for what belongs to no run. */
  readonly run: string;
  readonly kind: "parameter" | "missing-file" | "missing-column" | "unit" | "short" | "cut" | "unreadable" | "unlisted";
  readonly file?: string;
  readonly text: string;
}

/** What a study's folder holds, from the heads of its files. */
export interface Catalogue {
  readonly folder: string;
  readonly definition: StudyDefinition;
  readonly parameters: readonly Parameter[];
  readonly runs: readonly CatalogueRun[];
  readonly shapes: readonly Shape[];
  readonly fieldShapes: readonly FieldShape[];
  /** Files beside the runs, by their path in the study's folder. */
  readonly beside: Readonly<Record<string, CatalogueFile>>;
  readonly how: string;
  /** What of the study could not be listed, and belongs to no run. */
  readonly problems: readonly Problem[];
}

/** What the fields of many runs have in common. */
export interface FieldShape {
  readonly axis: string;
  /** The unit of the times, where the definition declares the times themselves. */
  readonly axisUnit?: string;
  readonly fields: readonly NamedField[];
  readonly blocks: readonly string[];
  /** Of its cells: 3 for volumes, 2 for surfaces. */
  readonly dimension: number;
  /** The same of each of `blocks`. */
  readonly dimensions: readonly number[];
}

/** A field of a run, as its head says. */
export interface CatalogueField {
  /** The file that the name stands for; undefined for patterns. */
  readonly file?: string;
  /** Size and time of the files that were looked at: unchanged ones are not opened again. */
  readonly stamp: string;
  readonly shape?: number;
  readonly steps?: number;
  readonly last?: number;
  /** The files that it is made of, where there are not too many to keep: unchanged, it is not opened to know them. */
  readonly files?: readonly string[];
  /** Its times, where there are not too many to keep. */
  readonly times?: readonly number[];
  readonly error?: string;
}
