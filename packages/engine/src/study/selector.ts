import { glob, own, suggestion } from "@oxtrum/core/tables";
import type { Catalogue, CatalogueRun } from "./catalogue.js";

/**
 * Which runs a selector means: run ids or patterns, or `parameter=value`, separated by commas. Ids add up,
 * parameters narrow down.
 *
 * @throws Error when it fits no run
 * @example selectRuns(catalogue, "fan=50,curtain=none")
 */
export function selectRuns(c: Pick<Catalogue, "runs" | "parameters">, selector: string | undefined): Set<string> {
  if (selector === undefined || selector.trim() === "") return new Set(c.runs.map((r) => r.id));
  const parts = selector
    .split(",")
    .map((p) => p.trim())
    .filter((p) => p !== "");
  const conditions = parts
    .filter((p) => p.includes("="))
    .map((p) => {
      const at = p.indexOf("=");
      const name = p.slice(0, at).trim();
      if (!c.parameters.some((q) => q.name === name))
        throw new Error(
          `--runs: there is no parameter "${name}"${suggestion(
            name,
            c.parameters.map((q) => q.name),
          )}`,
        );
      const value = p.slice(at + 1).trim();
      return (r: CatalogueRun): boolean =>
        String(own(r.params, name) ?? "") === value ||
        (typeof own(r.params, name) === "number" && Number(value) === own(r.params, name));
    });
  const globs = parts.filter((p) => !p.includes("=")).map((p) => glob(p));
  const chosen = c.runs.filter(
    (r) => (globs.length === 0 || globs.some((g) => g(r.id))) && conditions.every((f) => f(r)),
  );
  if (chosen.length === 0) throw new Error(`--runs: no run fits "${selector}"`);
  return new Set(chosen.map((r) => r.id));
}
