import { useMemo, useState, type ReactElement } from "react";
import { useValueQuery } from "../../api";
import type { Output } from "@oxtrum/contract";
import { ChartView } from "../../parts/chart/ChartView";
import { chartFromWire } from "../../parts/chart/chart-from-wire";
import type { XRange } from "../../parts/chart/chart-props";
import { DataTable } from "../../parts/DataTable";
import { PictureView } from "../../parts/PictureView";

/** Kinds of outputs that fill a place of their own. */
export const isBig = (o: Output): boolean =>
  o.failed === undefined && (o.kind === "chart" || o.kind === "table" || o.kind === "picture" || o.kind === "report");

/** What an output shows, filling its place. */
export function Shown({ job, output }: { job: number; output: Output }): ReactElement {
  const [range, setRange] = useState<XRange | undefined>();
  const wanted = output.kind === "table" ? { to: 100 } : range ? { from: range[0], to: range[1] } : {};
  const { data } = useValueQuery({ job, name: output.name, ...wanted }, { skip: output.kind === "report" });
  const chart = useMemo(() => (data?.kind === "chart" ? chartFromWire(data.chart) : undefined), [data]);
  if (output.kind === "report")
    return (
      <iframe
        className="h-full w-full border-0 bg-white"
        sandbox=""
        title={output.name}
        src={`/api/jobs/${job}/reports/${encodeURIComponent(output.name)}`}
      />
    );
  if (chart) return <ChartView chart={chart} label={output.name} range={range} onRange={setRange} />;
  if (data?.kind === "table") return <DataTable job={job} name={output.name} first={data} />;
  if (data?.kind === "picture")
    return <PictureView job={job} name={output.name} panels={data.panels} frames={data.frames} />;
  return <div className="dim p-3">{data ? "" : "Reading"}</div>;
}
