import { useRef, type ReactElement } from "react";
import { useSteps } from "./use-steps";

export type CellState = "waiting" | "running" | "done" | "cache" | "failed" | "left-out";

export const cellWords: Readonly<Record<CellState, string>> = {
  waiting: "waiting",
  running: "running",
  done: "done",
  cache: "from cache",
  failed: "failed",
  "left-out": "excluded",
};

/** Widths of what fills a square whose run is worked on, and back again. */
const WIDTHS = [9, 12, 15, 12, 9, 6, 3, 6];
const fill = (rect: Element, step: number): void => rect.setAttribute("width", String(WIDTHS[step]));

function Filling(): ReactElement {
  const rectRef = useRef<SVGRectElement>(null);
  useSteps(rectRef, WIDTHS.length, fill);
  return <rect ref={rectRef} {...FILLED} />;
}
const FILLED = { x: 1.5, y: 1.5, width: WIDTHS[0], height: 11, fill: "var(--oxide)", opacity: 0.55 };

/** The state of one square of the run grid: shape and colour both. In a legend nothing moves. */
export function CellMark({ state, still = false }: { state: CellState; still?: boolean }): ReactElement {
  const body = ((): ReactElement => {
    switch (state) {
      case "done":
        return (
          <rect x="0.75" y="0.75" width="16.5" height="12.5" fill="var(--patina)" stroke="var(--ink)" strokeWidth="1" />
        );
      case "cache":
        return (
          <>
            <rect x="0.75" y="0.75" width="16.5" height="12.5" fill="var(--patina-wash)" stroke="var(--patina)" />
            <path d="M1 10 10 1M4 13.2 16.2 1M10 13.2 17.2 6" stroke="var(--patina)" strokeWidth="1.3" />
          </>
        );
      case "running":
        return (
          <>
            <rect x="0.75" y="0.75" width="16.5" height="12.5" fill="none" stroke="var(--oxide)" />
            {still ? <rect {...FILLED} /> : <Filling />}
          </>
        );
      case "failed":
        return <path d="M1 1h11l5 5v7H1z" fill="var(--oxide)" stroke="var(--oxide)" />;
      case "left-out":
        return <path d="M3 2.5 15 11.5M15 2.5 3 11.5" stroke="var(--pencil)" strokeWidth="1.1" />;
      default:
        return (
          <rect
            x="0.75"
            y="0.75"
            width="16.5"
            height="12.5"
            fill="none"
            stroke="var(--faded)"
            strokeDasharray="1.5 2"
            opacity="0.7"
          />
        );
    }
  })();
  return (
    <svg width="18" height="14" viewBox="0 0 18 14" aria-hidden>
      {body}
    </svg>
  );
}

/** The verdict of a check: a filled dot, a notched square, a dotted ring. */
export function VerdictMark({ verdict }: { verdict: string | undefined }): ReactElement {
  if (verdict === "passed")
    return (
      <svg width="11" height="11" viewBox="0 0 11 11" aria-label="passed">
        <circle cx="5.5" cy="5.5" r="4.4" fill="var(--patina)" />
        <path d="M3.2 5.6 5 7.4 8 3.9" stroke="var(--sheet)" fill="none" strokeWidth="1.3" />
      </svg>
    );
  if (verdict === "failed")
    return (
      <svg width="11" height="11" viewBox="0 0 11 11" aria-label="failed">
        <path d="M1 1h6l3 3v6H1z" fill="var(--oxide)" />
      </svg>
    );
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" aria-label="undecided">
      <circle cx="5.5" cy="5.5" r="4" fill="none" stroke="var(--pencil)" strokeWidth="1.4" strokeDasharray="2 1.6" />
    </svg>
  );
}
