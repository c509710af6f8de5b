import type { ChartDescription, Series } from "@oxtrum/core/charts";
import { numbers, type Condition } from "@oxtrum/core/tables";
import type { Member } from "./members.js";

/** How many places of a series have a value of which something is so. */
function count(s: Series, lists: readonly (ArrayLike<number> | undefined)[], is: (v: number) => boolean): number {
  let n = 0;
  for (let i = 0; i < s.x.length; i++) if (lists.some((list) => list !== undefined && is(list[i]!))) n++;
  return n;
}

const isInfinite = (v: number): boolean => v === Infinity || v === -Infinity;
const isNotPositive = (v: number): boolean => v <= 0 && v !== -Infinity;

/** Values of columns that are missing or infinite, where a chart shows what the others are like, and not these. */
export const notCounted = (members: readonly Member[], names: readonly string[]): Condition[] =>
  members.flatMap((m) =>
    names.flatMap((name): Condition[] => {
      const { values } = numbers(m.table, name);
      const n = values.reduce((sum, v) => sum + (Number.isFinite(v) ? 0 : 1), 0);
      if (n === 0) return [];
      const text = `${n} of ${values.length} values of "${name}" ${n === 1 ? "is" : "are"} missing or infinite and not counted`;
      return [{ kind: "not drawn", file: "", text, ...(m.run !== undefined && { run: m.run }) }];
    }),
  );

/**
 * Values of a chart that have no place in its drawing: infinite ones, and on axes in decades those of 0 or less. They
 * are left out there, and told; missing values are gaps, which are seen.
 */
export function notDrawn(chart: ChartDescription): Condition[] {
  if (chart.panels) return chart.panels.flatMap(notDrawn);
  const cells = chart.heat ? Array.from(chart.heat.values).filter(isInfinite).length : 0;
  const ofMap: Condition[] =
    cells === 0
      ? []
      : [
          {
            kind: "not drawn",
            file: "",
            text: `${cells} cell${cells === 1 ? "" : "s"} of "${chart.heat!.title}" ${cells === 1 ? "is" : "are"} not drawn: infinite`,
          },
        ];
  const ofSeries = chart.series.flatMap((s): Condition[] => {
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
  return [...ofMap, ...ofSeries];
}
