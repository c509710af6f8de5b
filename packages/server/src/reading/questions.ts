import type { Catalogue, StudyDefinition } from "@oxtrum/engine";

/** A table of a run, or one beside the runs (`run` undefined). */
export interface TablePlace {
  readonly study: string;
  readonly folder: string;
  readonly definition: StudyDefinition;
  readonly run: { readonly id: string; readonly folder: string } | undefined;
  readonly file: string;
}

/** What the reading thread is asked. */
export type ReadingQuestion =
  | { readonly kind: "scan"; readonly name: string; readonly folder: string; readonly keepIn: string }
  | { readonly kind: "rows"; readonly place: TablePlace; readonly from: number; readonly to: number }
  | {
      readonly kind: "series";
      readonly place: TablePlace;
      readonly column: string;
      readonly points: number;
      readonly as: SeriesAxes | undefined;
    }
  | { readonly kind: "curves"; readonly place: TablePlace }
  | {
      readonly kind: "value";
      readonly file: string;
      readonly from: number | undefined;
      readonly to: number | undefined;
      readonly rows: number;
    }
  | { readonly kind: "archive"; readonly outputs: string; readonly into: string }
  | { readonly kind: "verify"; readonly manifest: string; readonly folders: Readonly<Record<string, string>> };

export interface ScanAnswer {
  readonly catalogue: Catalogue;
  readonly types: string;
  /** What it took, without what it waited for its turn, ms. */
  readonly took: number;
}

/** The axes that curves of several runs share: those of the first. */
export type SeriesAxes = Pick<SeriesAnswer, "xName" | "xUnit" | "unit">;

/** A column over its table's axis, thinned for a small picture. */
export interface Curve extends Pick<SeriesAnswer, "x" | "y"> {
  readonly column: string;
}

/** A curve of one run, thinned. */
export interface SeriesAnswer {
  readonly x: readonly (number | null)[];
  readonly y: readonly (number | null)[];
  readonly xName: string;
  readonly xUnit: string | null;
  readonly unit: string | null;
  readonly min: number | null;
  readonly max: number | null;
}
