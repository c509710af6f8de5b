import { useLayoutEffect, useMemo, useRef, useState, type ReactElement } from "react";
import type { Diagnostic, Output } from "@oxtrum/contract";
import { DiagnosticCard, OutputCard } from "./cards";

export interface MarginItem {
  readonly key: string;
  readonly line: number;
  readonly output?: Output;
  readonly diagnostic?: Diagnostic;
}

const FOLDED = 29;
const GAP = 7;
/** Heights of open cards, until they have been measured. */
const guess = (i: MarginItem): number =>
  i.diagnostic
    ? 62
    : i.output!.failed !== undefined
      ? 60
      : i.output!.kind === "chart"
        ? 212
        : i.output!.kind === "table"
          ? 150
          : 56;

/** Which cards are open: all when there is room, else those nearest the cursor. */
function openCards(
  items: readonly MarginItem[],
  cursor: number,
  room: number,
  heights: Readonly<Record<string, number>>,
): Set<string> {
  const open = new Set<string>();
  let used = items.length * (FOLDED + GAP);
  const nearest = [...items].sort((a, b) => Math.abs(a.line - cursor) - Math.abs(b.line - cursor) || a.line - b.line);
  for (const i of nearest) {
    const more = (heights[i.key] ?? guess(i)) - FOLDED;
    if (used + more > room && open.size > 0) continue;
    used += more;
    open.add(i.key);
  }
  return open;
}

interface Placed {
  readonly item: MarginItem;
  readonly top: number;
  readonly height: number;
}

/** Cards beside their lines, none over another; where the last would hang over, those before it move up. */
function placedCards(
  items: readonly MarginItem[],
  open: ReadonlySet<string>,
  heights: Readonly<Record<string, number>>,
  lineTop: (line: number) => number,
  { room, scroll }: { room: number; scroll: number },
): Placed[] {
  const sorted = [...items].sort((a, b) => a.line - b.line || (a.key < b.key ? -1 : 1));
  const height = (i: MarginItem): number => (open.has(i.key) ? (heights[i.key] ?? guess(i)) : FOLDED);
  const tops = sorted.map((i) => Math.max(8, lineTop(i.line) - 8));
  const down = (): void => {
    for (let k = 1; k < sorted.length; k++) tops[k] = Math.max(tops[k]!, tops[k - 1]! + height(sorted[k - 1]!) + GAP);
  };
  down();
  const end = Math.max(room + scroll - 8, ...sorted.map((i) => lineTop(i.line) + 30));
  for (let k = sorted.length - 1; k >= 0; k--) {
    const limit = k === sorted.length - 1 ? end : tops[k + 1]! - GAP;
    tops[k] = Math.max(8, Math.min(tops[k]!, limit - height(sorted[k]!)));
  }
  down();
  return sorted.map((item, k) => ({ item, top: tops[k]!, height: height(item) }));
}

/** Lines from the script's lines to their cards; the one at the cursor is the strongest. */
function Leaders({
  placed,
  cursor,
  room,
  fromY,
  toY,
}: {
  placed: readonly Placed[];
  cursor: number;
  room: number;
  fromY: (line: number) => number;
  toY: (top: number) => number;
}): ReactElement {
  const nearest = placed.reduce<Placed | undefined>(
    (best, p) => (best === undefined || Math.abs(p.item.line - cursor) < Math.abs(best.item.line - cursor) ? p : best),
    undefined,
  );
  return (
    <svg
      className="pointer-events-none sticky top-0 left-0 z-10 block"
      width="26"
      height={room}
      style={{ marginBottom: -room }}
      aria-hidden
    >
      {placed.map(({ item, top }) => {
        const from = fromY(item.line) + 10;
        const to = toY(top) + 15;
        const strong = nearest?.item.key === item.key;
        return (
          <path
            key={item.key}
            d={`M0 ${from}C14 ${from} 10 ${to} 26 ${to}`}
            fill="none"
            stroke="var(--oxide)"
            strokeOpacity={strong ? 0.95 : 0.3}
            strokeWidth={strong ? 1.4 : 1}
          />
        );
      })}
    </svg>
  );
}

interface MarginProps {
  readonly items: readonly MarginItem[];
  readonly job: number | undefined;
  readonly cursor: number;
  readonly lineTop: (line: number) => number;
  readonly scroll: number;
  readonly stale: boolean;
  readonly onLine: (line: number) => void;
  readonly onFix: (d: Diagnostic, fix: string) => void;
}

/**
 * The margin: what each line made stands beside it, tied to it by a leader line. Cards away from the cursor fold to one
 * line when there is no room for all.
 */
export function Margin({ items, job, cursor, lineTop, scroll, stale, onLine, onFix }: MarginProps): ReactElement {
  const host = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(700);
  const [own, setOwn] = useState(0);
  const [heights, setHeights] = useState<Record<string, number>>({});
  useLayoutEffect(() => {
    const watch = new ResizeObserver(() => setRoom(host.current?.clientHeight ?? 700));
    watch.observe(host.current!);
    return () => watch.disconnect();
  }, []);
  const open = useMemo(() => openCards(items, cursor, room - 24, heights), [items, cursor, room, heights]);
  const placed = useMemo(
    () => placedCards(items, open, heights, lineTop, { room, scroll }),
    [items, open, heights, lineTop, room, scroll],
  );
  const bottom = placed.reduce((m, p) => Math.max(m, p.top + p.height), 0) + 12;
  const measured = (key: string, h: number): void =>
    setHeights((old) => (Math.abs((old[key] ?? 0) - h) < 1 ? old : { ...old, [key]: h }));
  return (
    <div
      ref={host}
      className="relative h-full overflow-x-hidden overflow-y-auto border-l-[1.5px] border-oxide/60 bg-paper"
      onScroll={(e) => setOwn(e.currentTarget.scrollTop)}
      aria-label="Results"
      role="region"
    >
      <Leaders
        placed={placed}
        cursor={cursor}
        room={room}
        fromY={(line) => lineTop(line) - scroll}
        toY={(top) => top - scroll - own}
      />
      <div className="relative" style={{ height: Math.max(0, bottom - scroll) }}>
        {placed.map(({ item, top }) => (
          <div
            key={item.key}
            className={
              "absolute right-2.5 left-6.5 transition-[top,opacity] duration-150 " +
              `${stale && item.output ? "opacity-45 grayscale-[60%]" : ""}`
            }
            style={{ top: top - scroll }}
          >
            <ItemCard
              item={item}
              job={job}
              open={open.has(item.key)}
              onHeight={(h) => measured(item.key, h)}
              onLine={onLine}
              onFix={onFix}
            />
          </div>
        ))}
      </div>
    </div>
  );
}

interface ItemCardProps {
  readonly item: MarginItem;
  readonly job: number | undefined;
  readonly open: boolean;
  readonly onHeight: (h: number) => void;
  readonly onLine: (line: number) => void;
  readonly onFix: (d: Diagnostic, fix: string) => void;
}

/** What a line gave, or what is wrong with it. */
function ItemCard({ item, job, open, onHeight, onLine, onFix }: ItemCardProps): ReactElement {
  const common = { open, onHeight, onLine };
  if (item.output) return <OutputCard output={item.output} job={job!} {...common} />;
  return <DiagnosticCard diagnostic={item.diagnostic!} onFix={onFix} {...common} />;
}
