import type { Outcome } from "../verbs/values.js";

/** What a blocking read of a script is answered, as JSON: the value asked for, or why there is none. */
export function readAnswer(o: Outcome, what: string): string {
  if (o.kind === "failure") return JSON.stringify({ failed: o.reason });
  const encoded = (v: unknown): string =>
    JSON.stringify({ value: v }, (_, x: unknown) =>
      typeof x === "number" && (!Number.isFinite(x) || Object.is(x, -0))
        ? { $n: Object.is(x, -0) ? "-0" : String(x) }
        : x,
    );
  if (o.kind === "quantity") return encoded(o.quantity);
  if (o.kind !== "table") return JSON.stringify({ failed: `a ${o.kind} has no number` });
  if (what === "verdicts") return encoded(o.table.columns.find((c) => c.name === "because")!.values);
  if (what === "rows") return encoded({ rows: o.table.rows });
  const name = what.slice("values:".length);
  const c = o.table.columns.find((x) => x.name === name);
  if (!c) return JSON.stringify({ failed: `no column "${name}"` });
  if (c.values.length > 2_000_000)
    return JSON.stringify({
      failed: `"${name}" has ${c.values.length} values, too many for a script's own arrays; use the table's verbs`,
    });
  return encoded(Array.from(c.values as ArrayLike<number | string>));
}
