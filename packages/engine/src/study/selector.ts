import { convert, glob, listNames, nearly, own, parseQuantity, suggestion } from "@oxtrum/core/tables";
import type { Catalogue, CatalogueRun } from "../definition/catalogue-model.js";

/** The values that runs have of a parameter, each once, in order. */
export function parameterValues(runs: readonly CatalogueRun[], name: string): (number | string)[] {
  const all = new Set<number | string>();
  for (const r of runs) {
    const v = own(r.params, name);
    if (v !== null && v !== undefined) all.add(v);
  }
  return [...all].sort((a, b) =>
    typeof a === "number" && typeof b === "number" ? a - b : String(a) < String(b) ? -1 : 1,
  );
}

const MOST_SAID = 12;
/** Values in a line, the first few when there are many. */
const listed = (values: readonly (number | string)[]): string =>
  `${values.slice(0, MOST_SAID).join(", ")}${values.length > MOST_SAID ? `, … (${values.length})` : ""}`;

/** A number in a parameter's unit: given plainly, or with a unit of its own. */
function amountIn(text: string, unit: string | null): number | undefined {
  if (text !== "" && Number.isFinite(Number(text))) return Number(text);
  try {
    const q = parseQuantity(text);
    return unit === null || q.unit === null ? undefined : convert(q.value, q.unit, unit);
  } catch {
    return undefined;
  }
}

/**
 * Which runs a selector means: run ids or patterns, or `parameter=value`, separated by commas. Ids add up,
 * parameters narrow down. A part with "=" that is a run's id, or a pattern of ids, means these runs.
 *
 * @throws Error when it fits no run
 * @example selectRuns(catalogue, "fan=50,curtain=none")
 */
export function selectRuns(c: Pick<Catalogue, "runs" | "parameters">, selector: string | undefined): Set<string> {
  if (selector === undefined || selector.trim() === "") return new Set(c.runs.map((r) => r.id));
  const isCondition = (p: string): boolean => {
    if (!p.includes("=")) return false;
    const fits = glob(p);
    return !c.runs.some((r) => fits(r.id));
  };
  /** `id=…` means an id, as in a script's `where`, unless a parameter is called so. */
  const plainId = (p: string): string =>
    isCondition(p) && /^id\s*=/.test(p) && !c.parameters.some((q) => q.name === "id")
      ? p.slice(p.indexOf("=") + 1).trim()
      : p;
  const parts = selector
    .split(",")
    .map((p) => p.trim())
    .filter((p) => p !== "")
    .map((p) => plainId(p));
  const asked = new Set<string>();
  const conditions = parts.filter(isCondition).map((p) => {
    const at = p.indexOf("=");
    const name = p.slice(0, at).trim();
    const names = c.parameters.map((q) => q.name);
    if (!names.includes(name))
      throw new Error(
        `--runs: there is no parameter "${name}"; there is ${listNames(names) || "none"}, ` +
          `and ids stand by themselves${suggestion(name, names)}`,
      );
    const value = p.slice(at + 1).trim();
    asked.add(name);
    const amount = amountIn(value, c.parameters.find((q) => q.name === name)!.unit);
    return (r: CatalogueRun): boolean => {
      const has = own(r.params, name);
      return String(has ?? "") === value || (typeof has === "number" && amount !== undefined && nearly(has, amount));
    };
  });
  const globs = parts.filter((p) => !isCondition(p)).map((p) => glob(p));
  const chosen = c.runs.filter(
    (r) => (globs.length === 0 || globs.some((g) => g(r.id))) && conditions.every((f) => f(r)),
  );
  if (chosen.length === 0) {
    const there = [...asked].map((n) => `"${n}" is ${listed(parameterValues(c.runs, n))}`);
    if (globs.length > 0 || there.length === 0) there.push(`runs are ${listed(c.runs.map((r) => r.id))}`);
    throw new Error(`--runs: no run fits "${selector}"; ${there.join("; ")}`);
  }
  return new Set(chosen.map((r) => r.id));
}
