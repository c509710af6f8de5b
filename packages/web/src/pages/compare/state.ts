import type { SurveySite } from "../survey/sites";
import { fromWire, wireSite } from "../survey/sites";

/** The views of a comparison, in the order in which they are offered. */
export const views = ["overlay", "multiples", "band", "difference", "parameter", "correlation", "ranking"] as const;
export type ViewName = (typeof views)[number];
export const viewWords: Readonly<Record<ViewName, string>> = {
  overlay: "Overlay",
  multiples: "Side by side",
  band: "Band",
  difference: "Difference",
  parameter: "By parameter",
  correlation: "Correlation",
  ranking: "Ranking",
};

/** One number of each run's curve. */
export const numbersOfCurve = [
  "max",
  "min",
  "mean",
  "first",
  "last",
  "std",
  "integral",
  "position of max",
  "position of min",
] as const;
export type CurveNumber = (typeof numbersOfCurve)[number];

export const laws = ["none", "linear", "polynomial", "power", "exponential"] as const;
export type LawName = (typeof laws)[number];

/** What is compared: a column of a table, what a site gives of a field, or a column of a job's output. */
export type Source =
  | { readonly kind: "column"; readonly file: string; readonly column: string }
  | {
      readonly kind: "site";
      readonly file: string;
      readonly site: SurveySite;
      readonly quantity: string;
      readonly time: string;
    }
  | { readonly kind: "output"; readonly output: string; readonly column: string };

/** Where on the axis the runs are aligned. */
export interface Alignment {
  /** An event of the run's own, or where it agrees best with the baseline. */
  readonly at: "max" | "min" | "rising" | "falling" | "baseline";
  /** Of a crossing. */
  readonly level: string;
}

export interface Comparison {
  readonly source: Source | undefined;
  readonly view: ViewName;
  readonly where: Readonly<Record<string, readonly string[]>>;
  readonly accepted: boolean;
  readonly unit: string;
  readonly color: string;
  readonly align: Alignment | undefined;
  /** The run that the others are compared with. */
  readonly base: string;
  readonly percent: boolean;
  readonly number: CurveNumber;
  readonly parameter: string;
  readonly law: LawName;
  readonly reference: { readonly file: string; readonly column: string; readonly shift: string } | undefined;
}

/** The values of a parameter that were chosen; none stands for all. */
export const chosenOf = (c: Comparison, parameter: string): readonly string[] =>
  Object.hasOwn(c.where, parameter) ? c.where[parameter]! : [];

const oneOf = <T extends string>(list: readonly T[], v: string | null, usual: T): T =>
  list.includes(v as T) ? (v as T) : usual;

function sourceOf(a: URLSearchParams): Source | undefined {
  const [file, column, output, site] = [a.get("file"), a.get("column"), a.get("output"), a.get("site")];
  if (output !== null && column !== null) return { kind: "output", output, column };
  if (file !== null && site !== null) {
    try {
      const parsed = fromWire(a.get("siteName") ?? "site", JSON.parse(site) as { kind: string });
      if (parsed) return { kind: "site", file, site: parsed, quantity: column ?? "", time: a.get("time") ?? "" };
    } catch {
      return undefined;
    }
  }
  return file !== null && column !== null ? { kind: "column", file, column } : undefined;
}

const times = /^\.at\((?:"(?:first|last)"|\{ [a-z]+: -?[\d.e+-]+ \})\)$/i;

/** A comparison from its address. What is not understood is passed over. */
export function fromAddress(a: URLSearchParams): Comparison {
  const where: Record<string, string[]> = {};
  for (const part of a.getAll("where")) {
    const at = part.indexOf(":");
    if (at <= 0) continue;
    const name = part.slice(0, at);
    // A parameter may be called as something that every object has.
    if (Object.hasOwn(where, name)) where[name]!.push(part.slice(at + 1));
    else where[name] = [part.slice(at + 1)];
  }
  const align = a.get("align");
  const ref = a.get("ref");
  const source = sourceOf(a);
  return {
    source:
      source?.kind === "site" && source.time !== "" && !times.test(source.time) ? { ...source, time: "" } : source,
    view: oneOf(views, a.get("view"), "overlay"),
    where,
    accepted: a.get("accepted") === "yes",
    unit: a.get("unit") ?? "",
    color: a.get("color") ?? "",
    align:
      align === null
        ? undefined
        : { at: oneOf(["max", "min", "rising", "falling", "baseline"], align, "max"), level: a.get("level") ?? "" },
    base: a.get("base") ?? "",
    percent: a.get("percent") === "yes",
    number: oneOf(numbersOfCurve, a.get("number"), "max"),
    parameter: a.get("parameter") ?? "",
    law: oneOf(laws, a.get("law"), "none"),
    reference:
      ref === null ? undefined : { file: ref, column: a.get("refColumn") ?? "", shift: a.get("refShift") ?? "" },
  };
}

/** The address of a comparison: what it needs to be seen again, and no more. */
export function toAddress(c: Comparison): URLSearchParams {
  const a = new URLSearchParams();
  const set = (k: string, v: string, usual = ""): void => void (v !== usual && a.set(k, v));
  const s = c.source;
  if (s) {
    if (s.kind === "output") a.set("output", s.output);
    else a.set("file", s.file);
    a.set("column", s.kind === "site" ? s.quantity : s.column);
    if (s.kind === "site") {
      a.set("site", JSON.stringify(wireSite(s.site)));
      a.set("siteName", s.site.name);
      set("time", s.time);
    }
  }
  set("view", c.view, "overlay");
  for (const [p, list] of Object.entries(c.where)) for (const v of list) a.append("where", `${p}:${v}`);
  if (c.accepted) a.set("accepted", "yes");
  set("unit", c.unit);
  set("color", c.color);
  if (c.align) {
    a.set("align", c.align.at);
    set("level", c.align.level);
  }
  set("base", c.base);
  if (c.percent) a.set("percent", "yes");
  set("number", c.number, "max");
  set("parameter", c.parameter);
  set("law", c.law, "none");
  if (c.reference) {
    a.set("ref", c.reference.file);
    a.set("refColumn", c.reference.column);
    set("refShift", c.reference.shift);
  }
  return a;
}
