import type { ReactElement } from "react";
import type { ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { ChartView } from "../../parts/chart/ChartView";
import { Name } from "../../parts/Name";
import { numbersOf, valueAt, type RunAnswer, type Sampled } from "./answers";
import { isLine, type SurveySite } from "./sites";
import { Working } from "../../parts/Working";

interface Props {
  site: SurveySite;
  quantity: string;
  unit: string | null;
  when: string;
  chart: ChartDescription | undefined;
  samples: readonly RunAnswer[];
  reduced: readonly RunAnswer[];
  cursor: number | undefined;
  /** The run whose picture is drawn. */
  shown: string;
  onShow: (run: string) => void;
  onRead: (x: number | undefined) => void;
}

/** Of each run: the value under the chart's cursor, the site's only value, or its least, mean and largest. */
function RunValues(props: Omit<Props, "unit" | "when" | "chart" | "onRead">): ReactElement {
  const { site, quantity, samples, reduced, cursor, shown, onShow } = props;
  const line = isLine(site);
  const one = (t: Sampled | undefined, way: string): string =>
    t ? formatNumber(numbersOf(t, `${way} ${quantity}`)[0] ?? Number.NaN, 6) : "";
  const under = (k: number): string =>
    cursor === undefined || !samples[k]?.data ? "" : formatNumber(valueAt(samples[k].data, quantity, cursor), 6);
  const ways = site.kind === "points" ? (["mean"] as const) : (["min", "mean", "max"] as const);
  return (
    <table className={`ruled close mt-3 ${line ? "small" : ""}`}>
      <thead>
        <tr>
          <th>run</th>
          {line && <th className="n">{cursor === undefined ? "" : `at ${formatNumber(cursor, 4)}`}</th>}
          {ways.map((way) => (
            <th key={way} className="n">
              {ways.length === 1 ? "value" : way}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {reduced.map((r, k) => (
          <tr key={r.run} className={r.run === shown ? "bg-oxide-wash" : ""}>
            <td className="num">
              <button
                className="text-left whitespace-nowrap"
                aria-pressed={r.run === shown}
                title="Draw this run's picture"
                onClick={() => onShow(r.run)}
              >
                <Name text={r.run} most={13} />
              </button>
            </td>
            {line && <td className="n num">{under(k)}</td>}
            {ways.map((way) => (
              <td
                key={way}
                className="n num"
                data-mean={way === "mean" && ways.length > 1 ? numbersOf(r.data, `mean ${quantity}`)[0] : undefined}
              >
                {one(r.data, way)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const MOST_PLACES = 300;

/** The values of a grid of places, each with its place. */
function Places({ of, quantity }: { of: Sampled; quantity: string }): ReactElement {
  const columns = ["x", "y", "z", quantity].map((name) => ({ name, values: numbersOf(of, name) }));
  const rows = Math.min(MOST_PLACES, columns[0]!.values.length);
  return (
    <div className="goes-on on-paper mt-3 max-h-75 overflow-auto">
      <table className="ruled close">
        <thead>
          <tr>
            {columns.map(({ name }) => (
              <th key={name} className="n">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: rows }, (_, i) => (
            <tr key={i}>
              {columns.map(({ name, values }) => (
                <td key={name} className="n num">
                  {formatNumber(values[i]!, 6)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What the chosen site gives in each run: a chart along it, its values, or its least, mean and largest. */
export function Values({ unit, when, chart, onRead, ...of }: Props): ReactElement {
  const { site, quantity, samples, reduced } = of;
  const where = isLine(site) ? "along" : site.kind === "plane" || site.kind === "patch" ? "on" : "at";
  const grid = site.kind === "grid" ? samples[0]?.data : undefined;
  const notes = [...new Set([...samples, ...reduced].flatMap((r) => r.data?.notes ?? []))].filter(
    (n) => !/^(?:time|step|iteration) /.test(n),
  );
  const busy = [...samples, ...reduced].some((r) => r.busy);
  return (
    <>
      <h2 className="pb-2 text-md font-semibold">
        <span className="num">{quantity}</span> {where} {site.name}
        <span className="dim ml-2 text-xs font-normal">
          {[displayUnit(unit), when].filter((t) => t !== "").join(", ")}
        </span>
        {busy && <Working className="ml-2 inline-block h-0.75 w-8 align-middle" what="Working" />}
      </h2>
      {isLine(site) && (
        <div className="h-75 border border-rule bg-sheet">
          {chart && <ChartView chart={chart} label={quantity} onRead={onRead} />}
        </div>
      )}
      <RunValues {...of} />
      {grid && <Places of={grid} quantity={quantity} />}
      {notes.map((n) => (
        <p key={n} className="dim pt-2 text-xs">
          {n}
        </p>
      ))}
    </>
  );
}
