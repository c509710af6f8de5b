import type { ReactElement } from "react";

/** A line of a few dozen points, without axes; each at its place along the axis, or evenly where none is given. */
export function Sparkline({
  x,
  y,
  width = 64,
  height = 16,
  strong = false,
  range,
}: {
  x?: readonly (number | null)[] | undefined;
  y: readonly (number | null)[];
  width?: number;
  height?: number;
  strong?: boolean;
  range?: readonly [number, number] | undefined;
}): ReactElement {
  const present = y.filter((v) => v !== null);
  if (present.length < 2) return <svg width={width} height={height} aria-hidden />;
  const low = range?.[0] ?? Math.min(...present);
  const high = range?.[1] ?? Math.max(...present);
  const span = high - low || 1;
  const places = x?.filter((v) => v !== null) ?? [];
  const [from, to] = [Math.min(...places), Math.max(...places)];
  const across = (i: number): number => {
    const at = x?.[i];
    return at === undefined || at === null || !(to > from)
      ? (i / (y.length - 1)) * width
      : ((at - from) / (to - from)) * width;
  };
  const path = y
    .map((v, i) =>
      v === null
        ? ""
        : `${i === 0 || y[i - 1] === null ? "M" : "L"}${across(i).toFixed(1)} ` +
          `${(height - 1.5 - ((v - low) / span) * (height - 3)).toFixed(1)}`,
    )
    .join("");
  return (
    <svg width={width} height={height} aria-hidden className="align-middle">
      <path d={path} fill="none" stroke={strong ? "var(--ink)" : "var(--pencil)"} strokeWidth={strong ? 1.4 : 1.1} />
    </svg>
  );
}
