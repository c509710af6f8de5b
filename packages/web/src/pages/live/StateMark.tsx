import type { ReactElement } from "react";
import type { RunStateName } from "@oxtrum/contract";

const shapes: Readonly<Record<RunStateName, ReactElement>> = {
  waiting: <rect x="1.5" y="1.5" width="9" height="9" fill="none" stroke="var(--faded)" strokeDasharray="1.5 2" />,
  running: (
    <>
      <circle cx="6" cy="6" r="4.6" fill="none" stroke="var(--oxide)" strokeWidth="1.2" />
      <path d="M6 6V1.4A4.6 4.6 0 0 1 10.6 6z" fill="var(--oxide)" />
    </>
  ),
  stalled: <path d="M3 1.5v9M9 1.5v9" stroke="var(--ochre)" strokeWidth="2.6" />,
  diverging: (
    <path d="M1 10.5C5 10 7.5 7 8.2 1.5M5.6 3.8l2.7-2.6 2.4 2.9" fill="none" stroke="var(--oxide)" strokeWidth="1.7" />
  ),
  finished: <circle cx="6" cy="6" r="4.8" fill="var(--patina)" stroke="var(--ink)" strokeWidth="0.8" />,
  failed: <path d="M1 1h7l3 3v7H1z" fill="var(--oxide)" />,
};

/** The state of a run: shape and colour both. */
export function StateMark({ state }: { state: RunStateName }): ReactElement {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden className="flex-none">
      {shapes[state]}
    </svg>
  );
}
