import { liveQuantitySchema, type LiveQuantity, type StudySummary } from "@oxtrum/contract";
import { richest } from "../study/richest";

/** A quantity as it is shown: along what, on which scale, which part, with a level drawn. */
export interface ShownQuantity {
  readonly quantity: LiveQuantity;
  readonly along: "axis" | "row";
  readonly log: boolean;
  /** A level that is drawn, such as that at which a solver stops. */
  readonly level?: number | undefined;
  /** The part that one has zoomed to; without, the chart follows. */
  readonly range?: readonly [number, number] | undefined;
}

export interface LiveState {
  /** Chosen runs; undefined: those that are being computed. */
  readonly runs: readonly string[] | undefined;
  readonly quantities: readonly ShownQuantity[];
  /** All runs in one chart, or a chart per run. */
  readonly view: "together" | "each";
}

const numberOf = (text: string | null): number | undefined => {
  const n = text === null || text === "" ? Number.NaN : Number(text);
  return Number.isFinite(n) ? n : undefined;
};

/** A quantity from its part of the address; undefined where that is none. */
function quantityFrom(text: string): ShownQuantity | undefined {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const { along, log, level, range, ...rest } = (json ?? {}) as Record<string, unknown>;
  const read = liveQuantitySchema.safeParse(rest);
  if (!read.success) return undefined;
  const [from, to] = Array.isArray(range) ? range.map((v) => numberOf(String(v))) : [];
  return {
    quantity: read.data,
    along: along === "row" ? "row" : "axis",
    log: log === true,
    level: typeof level === "number" && Number.isFinite(level) ? level : undefined,
    range: from !== undefined && to !== undefined && from < to ? [from, to] : undefined,
  };
}

export function fromAddress(a: URLSearchParams): LiveState {
  return {
    runs: a.has("runs")
      ? a
          .get("runs")!
          .split(",")
          .filter((r) => r !== "")
      : undefined,
    quantities: a
      .getAll("q")
      .flatMap((t) => quantityFrom(t) ?? [])
      .slice(0, 12),
    view: a.get("view") === "each" ? "each" : "together",
  };
}

export function toAddress(s: LiveState): URLSearchParams {
  const a = new URLSearchParams();
  if (s.runs !== undefined) a.set("runs", s.runs.join(","));
  if (s.view === "each") a.set("view", "each");
  for (const { quantity, along, log, level, range } of s.quantities)
    a.append(
      "q",
      JSON.stringify({
        ...quantity,
        ...(along === "row" && { along }),
        ...(log && { log }),
        ...(level !== undefined && { level }),
        ...(range && { range }),
      }),
    );
  return a;
}

/** What is shown before anything was chosen: the first quantity of the study's richest table. */
export function firstQuantities(study: StudySummary): ShownQuantity[] {
  const tables = study.files.filter((f) => f.columns?.some((c) => c.kind === "number" && c.name !== f.axis));
  const file = richest(tables);
  const column = file?.columns?.find((c) => c.kind === "number" && c.name !== file.axis);
  if (!file || !column) return [];
  return [{ quantity: { kind: "table", file: file.file, column: column.name }, along: "axis", log: false }];
}

/** A quantity in words. */
export function quantityName(q: LiveQuantity): string {
  return q.kind === "field" ? `${q.statistic} of ${q.field}` : q.column;
}
