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
    runs: a.has("runs") ? a.getAll("runs").filter((r) => r !== "") : undefined,
    quantities: a
      .getAll("q")
      .flatMap((t) => quantityFrom(t) ?? [])
      .slice(0, 12),
    view: a.get("view") === "each" ? "each" : "together",
  };
}

export function toAddress(s: LiveState): URLSearchParams {
  const a = new URLSearchParams();
  for (const run of s.runs?.length === 0 ? [""] : (s.runs ?? [])) a.append("runs", run);
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

/** Columns that only say where on an axis one is. */
const counters = /^(?:time|step|iter|iteration|row|pass)$/i;

/** What is shown before anything was chosen: a quantity of the study's richest table, or of a field over time. */
export function firstQuantities(study: StudySummary): ShownQuantity[] {
  const columnsOf = (f: StudySummary["files"][number]): string[] =>
    (f.columns ?? []).filter((c) => c.kind === "number" && c.name !== f.axis).map((c) => c.name);
  const file = richest(study.files.filter((f) => columnsOf(f).length > 0));
  const columns = file ? columnsOf(file) : [];
  const column = columns.find((c) => !counters.test(c)) ?? columns[0];
  const shown = (quantity: LiveQuantity): ShownQuantity[] => [{ quantity, along: "axis", log: false }];
  if (file && column !== undefined) return shown({ kind: "table", file: file.file, column });
  for (const f of study.fields) {
    const field = f.steps > 1 ? f.fields.find((x) => x.components === 1) : undefined;
    if (field) return shown({ kind: "field", file: f.file, field: field.name, statistic: "mean" });
  }
  return [];
}

/** A quantity in words. */
export function quantityName(q: LiveQuantity): string {
  return q.kind === "field" ? `${q.statistic} of ${q.field}` : q.column;
}
