import type { ReactElement } from "react";
import type { ChartDescription } from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { ChartView } from "../../parts/chart/ChartView";
import { Name } from "../../parts/Name";
import { numbersOf, valueAt, type RunAnswer, type Sampled } from "./answers";
import { isLine, type SurveySite } from "./sites";

/** What the chosen site gives in each run: a chart along it, its values, or its least, mean and largest. */
export function Values({
  site,
  quantity,
  unit,
  when,
  chart,
  samples,
  reduced,
  cursor,
  shown,
  onShow,
  onRead,
}: {
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
}): ReactElement {
  const line = isLine(site);
  const where = line ? "along" : site.kind === "plane" || site.kind === "patch" ? "on" : "at";
  const one = (t: Sampled | undefined, way: string): string =>
    t ? formatNumber(numbersOf(t, `${way} ${quantity}`)[0] ?? Number.NaN, 6) : "";
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
        {busy && (
          <span className="sweep ml-2 inline-block h-0.75 w-8 align-middle" role="status" aria-label="Working" />
        )}
      </h2>
      {line && (
        <div className="h-75 border border-rule bg-sheet">
          {chart && <ChartView chart={chart} label={quantity} onRead={onRead} />}
        </div>
      )}
      <table className={`ruled close mt-3 ${line ? "small" : ""}`}>
        <thead>
          <tr>
            <th>run</th>
            {line && <th className="n">{cursor === undefined ? "" : `at ${formatNumber(cursor, 4)}`}</th>}
            {site.kind === "points" ? (
              <th className="n">value</th>
            ) : (
              <>
                <th className="n">min</th>
                <th className="n">mean</th>
                <th className="n">max</th>
              </>
            )}
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
              {line && (
                <td className="n num">
                  {cursor === undefined || !samples[k]?.data
                    ? ""
                    : formatNumber(valueAt(samples[k].data, quantity, cursor), 6)}
                </td>
              )}
              {site.kind === "points" ? (
                <td className="n num">{one(r.data, "mean")}</td>
              ) : (
                <>
                  <td className="n num">{one(r.data, "min")}</td>
                  <td className="n num" data-mean={numbersOf(r.data, `mean ${quantity}`)[0]}>
                    {one(r.data, "mean")}
                  </td>
                  <td className="n num">{one(r.data, "max")}</td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {grid && (
        <div className="goes-on on-paper mt-3 max-h-75 overflow-auto">
          <table className="ruled close">
            <thead>
              <tr>
                <th className="n">x</th>
                <th className="n">y</th>
                <th className="n">z</th>
                <th className="n">{quantity}</th>
              </tr>
            </thead>
            <tbody>
              {Array.from(numbersOf(grid, "x").slice(0, 300), (x, i) => (
                <tr key={i}>
                  {[x, numbersOf(grid, "y")[i]!, numbersOf(grid, "z")[i]!, numbersOf(grid, quantity)[i]!].map(
                    (v, c) => (
                      <td key={c} className="n num">
                        {formatNumber(v, 6)}
                      </td>
                    ),
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {notes.map((n) => (
        <p key={n} className="dim pt-2 text-xs">
          {n}
        </p>
      ))}
    </>
  );
}
