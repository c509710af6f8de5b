import type { ChartDescription, Series } from "@oxtrum/core/charts";
import type { Condition } from "@oxtrum/core/tables";

/** How many places of a series have a value of which something is so. */
function count(s: Series, lists: readonly (ArrayLike<number> | undefined)[], is: (v: number) => boolean): number {
  let n = 0;
  for (let i = 0; i < s.x.length; i++) if (lists.some((list) => list !== undefined && is(list[i]!))) n++;
  return n;
}

const isInfinite = (v: number): boolean => v === Infinity || v === -Infinity;
const isNotPositive = (v: number): boolean => v <= 0 && v !== -Infinity;

/**
 * Values of a chart that have no place in its drawing: infinite ones, and on axes in decades those of 0 or less. They
 * are left out there, and told; missing values are gaps, which are seen.
 */
export function notDrawn(chart: ChartDescription): Condition[] {
  if (chart.panels) return chart.panels.flatMap(notDrawn);
  return chart.series.flatMap((s): Condition[] => {
    const axis = s.axis === "right" && chart.right ? chart.right : chart.y;
    const values = [s.y, s.high, s.low];
    const infinite = count(s, [s.x, ...values], isInfinite);
    const low =
      (chart.x.scale === "log" ? count(s, [s.x], isNotPositive) : 0) +
      (axis.scale === "log" ? count(s, values, isNotPositive) : 0);
    const what = s.quantity ?? s.name;
    const told = (n: number, why: string): Condition[] =>
      n === 0
        ? []
        : [
            {
              kind: "not drawn",
              file: "",
              text: `${n} of ${s.x.length} points of "${what}" ${n === 1 ? "is" : "are"} not drawn: ${why}`,
              ...(s.run !== undefined && { run: s.run }),
            },
          ];
    return [...told(infinite, "infinite"), ...told(low, "0 or less on a logarithmic axis")];
  });
}
