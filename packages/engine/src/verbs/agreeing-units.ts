import { displayUnit, parseUnit, type Column, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import type { ExcludedRun } from "./values.js";

/** What of a column has to agree between runs: text, an unknown unit, or a unit's dimensions. */
const kindOf = (c: Pick<Column, "kind"> & { unit?: UnitSymbol }): string =>
  c.kind === "text" ? "text" : c.unit === null || c.unit === undefined ? "no unit" : parseUnit(c.unit).dims.join();

const shown = (c: { kind: string; unit?: UnitSymbol }): string =>
  c.kind === "text"
    ? "text"
    : c.unit === null || c.unit === undefined
      ? "without a unit"
      : `in ${displayUnit(c.unit) || "plain numbers"}`;

/** One run's column, or the unit of its number. */
interface Owned {
  readonly run: string;
  readonly kind: "number" | "text";
  readonly unit?: UnitSymbol;
}

/**
 * The runs whose column cannot be brought to the unit that most runs have it in, with what it is there, what it is in
 * the others, and how to mend it. They are excluded; the other runs go on.
 */
export function disagreeing(name: string, all: readonly Owned[]): ExcludedRun[] {
  const groups = new Map<string, Owned[]>();
  for (const o of all) groups.set(kindOf(o), [...(groups.get(kindOf(o)) ?? []), o]);
  if (groups.size < 2) return [];
  const most = [...groups.values()].reduce((a, b) => (b.length > a.length ? b : a));
  const usual = most[0]!;
  return all
    .filter((o) => !most.includes(o))
    .map((o) => {
      const cure =
        o.kind === "number" && (o.unit ?? null) === null && usual.unit
          ? `say it with .unit("${name}", "${usual.unit}") or in the study's definition`
          : "correct its unit with .unit() or in the study's definition, or choose another column";
      return {
        run: o.run,
        reason:
          `column "${name}" is ${shown(o)} in this run and ${shown(usual)} in ` +
          `${most.length === 1 ? "another" : `${most.length} others`}, which cannot be converted to each ` +
          `other; ${cure}`,
      };
    });
}

/**
 * Tables of runs, of which those are excluded whose columns do not agree with most others'.
 * @param names only these columns
 */
export function agreeing<
  P extends {
    readonly tables: readonly Table[];
    readonly runs: readonly string[];
    readonly params: readonly unknown[];
    readonly left: readonly ExcludedRun[];
  },
>(p: P, names?: readonly string[]): P {
  if (p.tables.length < 2) return p;
  const wanted = new Set(names ?? p.tables.flatMap((table) => table.columns.map((c) => c.name)));
  const odd = new Map<string, ExcludedRun>();
  for (const name of wanted) {
    const owned = p.tables.flatMap((table, k): Owned[] => {
      const c = table.columns.find((x) => x.name === name);
      return c ? [{ run: p.runs[k]!, kind: c.kind, ...(c.kind === "number" && { unit: c.unit }) }] : [];
    });
    for (const l of disagreeing(name, owned)) if (!odd.has(l.run)) odd.set(l.run, l);
  }
  if (odd.size === 0) return p;
  const keep = <T>(list: readonly T[]): T[] => list.filter((_, k) => !odd.has(p.runs[k]!));
  return {
    ...p,
    tables: keep(p.tables),
    runs: keep(p.runs),
    params: keep(p.params),
    left: [...p.left, ...odd.values()],
  };
}
