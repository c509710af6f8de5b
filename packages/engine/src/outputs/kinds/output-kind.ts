import { displayUnit, formatNumber, type Quantity } from "@oxtrum/core/tables";
import type { ChartDescription } from "@oxtrum/core/charts";
import type { Block } from "@oxtrum/core/exports";
import type { Value } from "../../verbs/values.js";
import type { OutputRecord } from "../../record/events.js";
import type { Draw } from "../kept-drawings.js";
import type { FileNames } from "../naming.js";

export interface Content {
  readonly file: string;
  readonly content: Uint8Array | string;
}

export type Options = Readonly<Record<string, unknown>>;

/** Charts of the job that are drawn already, by the names of their outputs. */
export type DrawnCharts = ReadonlyMap<string, { readonly chart: ChartDescription; readonly options: Options }>;

/** What an output is made from. */
export interface Asked<V = Value> {
  readonly name: string;
  /** The line of the script. */
  readonly line: number;
  readonly options: Options;
  /** Undefined for what is made of its options alone. */
  readonly value: V;
  /** How it is drawn, where that may have been done before. */
  readonly draw?: Draw;
}

/** An output as a report shows it. */
export interface Shown<V = Value> extends Asked<V> {
  readonly record: OutputRecord;
  /** Where it comes from, in a line. */
  readonly caption: string;
}

/** What a record tells of an output besides its files and runs. */
export type Told = Pick<OutputRecord, "notes"> & Partial<Pick<OutputRecord, "rows" | "summary" | "verdict">>;

/** What the screen needs of an output: file endings with their contents. */
export type ViewFiles = Readonly<Record<string, Uint8Array | string>>;

/** A kind of output: its files, what is told of it, how it is shown and compared. */
export interface OutputKind<V = Value> {
  readonly kind: string;
  /** The kind of value that it is made of; none for what is made of its options alone. */
  readonly of?: Value["kind"];
  /** Needs charts that are drawn before it. */
  needsCharts?(options: Options): boolean;

  /** Names and contents of its files. @throws Error for a format that is not there */
  files(asked: Asked<V>, names: FileNames, drawn: DrawnCharts): Content[] | Promise<Content[]>;
  told(asked: Asked<V>): Told;
  /** What it holds, as a digest: for comparing where pictures may differ. */
  digest(asked: Asked<V>): string;
  /** What the screen needs besides the value itself. */
  view?(value: V): ViewFiles | Promise<ViewFiles>;

  /** Where a report shows it, and as what. */
  readonly inReport: "values" | "outputs" | "checks";
  blocks(shown: Shown<V>): Block[] | Promise<Block[]>;

  /** What of it is compared with that of another job. */
  readonly compares: "table" | "number" | "drawing" | "words";
}

/** Declares a kind of output that is made of one kind of value. */
export const outputKind = <K extends Value["kind"]>(
  of: K,
  definition: Omit<OutputKind<Extract<Value, { readonly kind: K }>>, "of">,
): OutputKind => ({ ...definition, of }) as unknown as OutputKind;

/** A number with its unit, or why there is none. */
export const say = (q: Quantity): string =>
  q.reason !== undefined
    ? `– (${q.reason})`
    : `${formatNumber(q.value)}${displayUnit(q.unit) ? " " + displayUnit(q.unit) : ""}`;

const MOST_NOTED = 20;

/** Notes of an output: of many runs the first ones, and how many there are. */
export const fewNotes = (notes: readonly string[]): readonly string[] =>
  notes.length <= MOST_NOTED
    ? notes
    : [...notes.slice(0, MOST_NOTED), `and ${notes.length - MOST_NOTED} more notes of the tables in it`];

/** A line of words with its name before it. */
export const line = ({ record }: Shown<unknown>): Block => ({
  kind: "paragraph",
  words: [{ text: `${record.name}: `, bold: true }, { text: record.summary ?? "–" }],
});
