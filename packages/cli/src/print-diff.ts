import { formatNumber, textsApart } from "@oxtrum/core/tables";
import type { JobDiff, OutputDiff } from "@oxtrum/engine";

const MOST = 5;

const said = (v: number | string | null): string => (v === null ? "–" : typeof v === "number" ? formatNumber(v, 7) : v);

function outputLines(o: OutputDiff): string[] {
  const cells = (o.cells ?? []).slice(0, MOST).map((c) => {
    const where = [c.where === "" ? `row ${c.row}` : c.where, c.column].join(", ");
    const sign = (c.change ?? 0) < 0 ? "−" : "+";
    const by =
      c.change === undefined
        ? ""
        : c.relative === undefined
          ? ` (${sign}${formatNumber(Math.abs(c.change), 3)})`
          : ` (${sign}${formatNumber(100 * c.relative, 3)} %)`;
    const [then, now] =
      typeof c.then === "number" && typeof c.now === "number"
        ? textsApart(c.then, c.now, 7)
        : [said(c.then), said(c.now)];
    return `               ${where}: ${then} → ${now}${by}`;
  });
  const more =
    (o.moved ?? 0) > cells.length ? [`               and ${(o.moved ?? 0) - cells.length} more numbers`] : [];
  const detail = [o.detail, o.moved !== undefined && o.moved > 1 ? `${o.moved} moved` : undefined].filter(
    (t) => t !== undefined,
  );
  return [`${o.verdict.padEnd(16)} ${o.name}${detail.length > 0 ? `: ${detail.join("; ")}` : ""}`, ...cells, ...more];
}

/** What differs between two jobs, line by line. */
export function printDiff(d: JobDiff): string[] {
  return [
    ...d.script.map((l) => `script ${l.file}:${l.line} ${l.then === undefined ? `+ ${l.now!}` : `- ${l.then}`}`),
    ...d.settings,
    ...d.inputs.map((i) => `input ${i.change}: ${i.study}/${i.path}`),
    ...d.runs.map((r) => `run ${r.change === "parameters" ? "has other parameters" : r.change}: ${r.study}/${r.run}`),
    ...d.outputs.flatMap(outputLines),
    d.verdict === "same bytes"
      ? "All outputs are the same."
      : d.verdict === "within tolerance"
        ? "All outputs are within the tolerance."
        : `${d.outputs.filter((o) => o.verdict !== "same bytes" && o.verdict !== "within tolerance").length} ` +
          `of ${d.outputs.length} outputs changed.`,
  ];
}
