import { formatNumber } from "@oxtrum/core/tables/number-format";
import { convert, displayUnit, parseUnit, sameDimensions } from "@oxtrum/core/tables/units";

/** Numbers of one run, as a question about a field is answered. */
export interface Reduced {
  readonly columns: readonly {
    readonly name: string;
    readonly unit: string | null;
    readonly values: readonly (number | string | null)[];
  }[];
}

/**
 * The least and the largest value of a quantity, in the unit that stands above them; where a run has them in one that
 * cannot be converted to it, in its own, which is said.
 */
export function rangeText(data: Reduced | undefined, quantity: string, unit: string | null): string {
  const at = (way: string): { value: number; unit: string | null } | undefined => {
    const c = data?.columns.find((x) => x.name === `${way} ${quantity}`);
    const v = c?.values[0];
    return c && typeof v === "number" ? { value: v, unit: c.unit } : undefined;
  };
  const [low, high] = [at("min"), at("max")];
  const own = low?.unit ?? high?.unit ?? null;
  const fits = own === unit || (own !== null && unit !== null && sameDimensions(parseUnit(own), parseUnit(unit)));
  const text = (q: typeof low): string => {
    if (!q) return "–";
    // What is left of a zero after rounding is one.
    const value = Math.abs(q.value) < 1e-12 * Math.abs(high?.value ?? 0) ? 0 : q.value;
    return formatNumber(fits && own !== unit ? convert(value, own!, unit!) : value, 5);
  };
  const range = `${text(low)} … ${text(high)}`;
  return fits || (!low && !high) ? range : `${range} ${own === null ? "without a unit" : displayUnit(own)}`.trimEnd();
}
