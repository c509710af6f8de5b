import { describe, expect, it } from "@jest/globals";
import { applyConversion, conversion, parseUnit, sameDimensions, type Table } from "@oxtrum/core/tables";
import { calls, verbCalls } from "../testing/operation-calls.js";
import { PlainHost } from "../testing/plain-host.js";
import { execute } from "../scheduler/evaluate.js";
import type { Outcome } from "./values.js";

/**
 * The property that holds units: what an operation gives on inputs in other units is the converted result. A result may
 * be refused instead, where a scale with its own zero has no meaning in it.
 */
const systems: readonly Readonly<Record<string, string>>[] = [
  { s: "min", W: "kW", Pa: "bar", m: "mm", mm: "m", "%": "1" },
  { s: "ms", W: "MW", Pa: "kPa", m: "km", "m/s": "km/h", "%": "1" },
  { K: "degC", degC: "K" },
  { K: "degF", degC: "degF", s: "h" },
];

const change = (v: number, from: string, to: string): number =>
  applyConversion(v, conversion(parseUnit(from), parseUnit(to)));

function converted(o: Outcome, system: Readonly<Record<string, string>>): Outcome {
  const to = (unit: string | null): string | undefined =>
    unit === null ? undefined : Object.hasOwn(system, unit) ? system[unit] : undefined;
  if (o.kind === "quantity") {
    const wanted = to(o.quantity.unit);
    if (wanted === undefined) return o;
    return {
      ...o,
      quantity: {
        ...o.quantity,
        value: change(o.quantity.value, o.quantity.unit!, wanted),
        unit: parseUnit(wanted).symbol,
      },
    };
  }
  if (o.kind !== "table") return o;
  const columns = o.table.columns.map((c) => {
    const wanted = c.kind === "number" ? to(c.unit) : undefined;
    if (c.kind !== "number" || wanted === undefined) return c;
    return { ...c, unit: parseUnit(wanted).symbol, values: c.values.map((v) => change(v, c.unit!, wanted)) };
  });
  return { ...o, table: { ...o.table, columns } };
}

/** Numbers with their units; everything else word for word. */
type Cell = { readonly v: number; readonly unit: string | null } | string;
const cells = (t: Table): Map<string, Cell[]> =>
  new Map(
    t.columns.map((c) => [
      c.name,
      c.kind === "text" ? [...c.values] : Array.from(c.values, (v) => ({ v, unit: c.unit })),
    ]),
  );

function alike(a: Cell, b: Cell, scale: number): boolean {
  if (typeof a === "string" || typeof b === "string") return a === b;
  if (Number.isNaN(a.v) || Number.isNaN(b.v)) return Number.isNaN(a.v) && Number.isNaN(b.v);
  if (a.unit === b.unit) return Math.abs(a.v - b.v) <= 1e-9 * Math.max(scale, Math.abs(a.v), 1e-30);
  if (a.unit === null || b.unit === null || !sameDimensions(parseUnit(a.unit), parseUnit(b.unit))) return false;
  return Math.abs(a.v - change(b.v, b.unit, a.unit)) <= 1e-9 * Math.max(scale, Math.abs(a.v), 1e-30);
}

/**
 * Operations that name a unit or a value in words: `to` and `unit` set one, rows of `describe`, `fit.terms` and
 * `against.summary` state their own, `pivot` names columns by values, and percent of °C are left out.
 */
const otherCalls = new Set([
  "table.to",
  "table.unit",
  "quantity.unit",
  "table.describe",
  "table.pairs",
  "fit.terms",
  "against.summary",
  "against.side",
  "table.pivot",
]);

const all = [...calls, ...verbCalls(await PlainHost.load()).map((v) => v.call)];

describe("other units give the converted result", () => {
  it.each(all.filter(([op]) => !otherCalls.has(op)).map((c, k) => [`${c[0]} (${k})`, c] as const))(
    "%s",
    (_, [op, args, ...inputs]) => {
      const plain = execute(op, args, inputs);
      for (const system of systems) {
        const other = execute(
          op,
          args,
          inputs.map((i) => converted(i, system)),
        );
        if (other.kind === "failure") {
          expect([system, other.reason]).toEqual([system, expect.stringMatching(/°C|°F|convert to K|to K first/)]);
          continue;
        }
        expect(other.kind).toBe(plain.kind);
        if (plain.kind === "quantity" && other.kind === "quantity") {
          const [p, q] = [plain.quantity, other.quantity];
          if (!alike({ v: p.value, unit: p.unit }, { v: q.value, unit: q.unit }, 1e-6))
            expect([system, q]).toEqual([system, p]);
        }
        if (plain.kind !== "table" || other.kind !== "table") continue;
        const [a, b] = [cells(plain.table), cells(other.table)];
        const names = (m: Map<string, Cell[]>): string[] => [...m.keys()].filter((n) => !n.endsWith(".percent"));
        expect(names(b)).toEqual(names(a));
        for (const [name, list] of a) {
          // Percent of a scale with its own zero are left out.
          if (!b.has(name)) continue;
          const scale = list.reduce(
            (m, c) => (typeof c === "string" || !Number.isFinite(c.v) ? m : Math.max(m, Math.abs(c.v))),
            0,
          );
          list.forEach((c, i) => {
            if (!alike(c, b.get(name)![i]!, scale))
              expect([system, name, i, b.get(name)![i]]).toEqual([system, name, i, c]);
          });
        }
      }
    },
  );
});
