import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import { jobsApi } from "../api";
import type { TableValue } from "@oxtrum/contract";
import { useAppDispatch } from "../store";
import { Name } from "./Name";

const PAGE = 500;
const ROW = 26;

/** How high a table of so many rows stands, with its head and a bar to scroll it sideways. */
export const tableHeight = (rows: number): number => ROW * (rows + 1) + 18;

/** The text of a cell. */
export const cellText = (v: number | string | null): string =>
  v === null || v === "" ? "–" : typeof v === "number" ? formatNumber(v, 6) : v;

/** A job's table, however long: only the rows in sight are asked for and drawn. */
export function DataTable({ job, name, first }: { job: number; name: string; first: TableValue }): ReactElement {
  const dispatch = useAppDispatch();
  const scroller = useRef<HTMLDivElement>(null);
  const [pages, setPages] = useState<Record<number, TableValue>>({});
  const rows = useVirtualizer({
    count: first.rows,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = rows.getVirtualItems();
  const from = Math.floor((items[0]?.index ?? 0) / PAGE);
  const to = Math.floor((items[items.length - 1]?.index ?? 0) / PAGE);
  useEffect(() => {
    for (let p = from; p <= to; p++) {
      if (pages[p]) continue;
      void dispatch(jobsApi.endpoints.value.initiate({ job, name, from: p * PAGE, to: (p + 1) * PAGE })).then((r) => {
        if (r.data?.kind === "table") setPages((old) => ({ ...old, [p]: r.data as TableValue }));
      });
    }
  }, [dispatch, from, job, name, pages, to]);
  const template = first.columns
    .map((c) => (c.kind === "number" ? "minmax(92px, 1fr)" : "minmax(130px, 1.4fr)"))
    .join(" ");
  return (
    <div ref={scroller} className="goes-on h-full overflow-auto" tabIndex={0} role="table" aria-rowcount={first.rows}>
      {/* Head and rows share one width, so that their columns stand under each other. */}
      <div className="w-max min-w-full">
        <HeadRow columns={first.columns} template={template} />
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {items.map((item) => (
            <div
              key={item.key}
              role="row"
              className="absolute right-0 left-0 grid border-b border-soft hover:bg-paper"
              style={{ height: item.size, transform: `translateY(${item.start}px)`, gridTemplateColumns: template }}
            >
              <Cells columns={first.columns} page={pages[Math.floor(item.index / PAGE)]} row={item.index % PAGE} />
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}

type Columns = TableValue["columns"];

function HeadRow({ columns, template }: { columns: Columns; template: string }): ReactElement {
  return (
    <div
      className="sticky top-0 z-10 grid border-b border-ink bg-sheet"
      style={{ gridTemplateColumns: template }}
      role="row"
    >
      {columns.map((c) => (
        <div
          key={c.name}
          role="columnheader"
          className={`px-2.5 py-1 text-xs font-medium text-pencil ${c.kind === "number" ? "text-right" : ""}`}
        >
          <Name text={c.label ?? c.name} most={22} /> {displayUnit(c.unit)}
        </div>
      ))}
    </div>
  );
}

/** The cells of a row; empty until its page is there. */
function Cells({ columns, page, row }: { columns: Columns; page: TableValue | undefined; row: number }): ReactElement {
  return (
    <>
      {columns.map((c, k) => (
        <div
          key={c.name}
          role="cell"
          className={`truncate px-2.5 py-0.5 ${c.kind === "number" ? "num text-right" : ""}`}
        >
          {page ? cellText(page.columns[k]?.values[row] ?? null) : ""}
        </div>
      ))}
    </>
  );
}
