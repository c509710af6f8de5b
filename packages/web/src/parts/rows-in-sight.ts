import { useVirtualizer } from "@tanstack/react-virtual";
import type { RefObject } from "react";

/** Tables of fewer rows are drawn whole. */
const MANY = 200;

/** Which rows of a table are drawn, and how high what is left away above and below them stands. */
export interface RowsInSight {
  readonly from: number;
  readonly to: number;
  readonly above: number;
  readonly below: number;
}

/**
 * The rows of a long table that are in sight; all of them where they are few.
 *
 * @param height of a row, px
 */
export function useRowsInSight(count: number, scroller: RefObject<HTMLElement | null>, height: number): RowsInSight {
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 20,
    enabled: count > MANY,
  });
  if (count <= MANY) return { from: 0, to: count, above: 0, below: 0 };
  const items = rows.getVirtualItems();
  const first = items[0];
  const last = items[items.length - 1];
  if (!first || !last) return { from: 0, to: Math.min(count, 40), above: 0, below: height * (count - 40) };
  return { from: first.index, to: last.index + 1, above: first.start, below: rows.getTotalSize() - last.end };
}
