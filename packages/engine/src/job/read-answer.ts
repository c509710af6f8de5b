import { plainUnit } from "@oxtrum/core/tables";
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

/** What a script is answered that asks for a table's columns, as JSON: what is foreseen of them. */
export function columnsAnswer(v: Outcome | undefined): string {
  if (v === undefined) return JSON.stringify({ error: "the columns of this table are not known before it is read" });
  if (v.kind !== "table") return JSON.stringify({ error: v.kind === "failure" ? v.reason : "this is not a table" });
  const columns = v.table.columns.map((c) => ({
    name: c.name,
    kind: c.kind,
    unit: c.kind === "number" ? plainUnit(c.unit) : null,
  }));
  return JSON.stringify({ heads: { columns, axis: v.table.axis } });
}
