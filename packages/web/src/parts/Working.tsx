import { useRef, type ReactElement } from "react";
import { useSteps } from "./use-steps";

/** Pixels of a step, and steps over the width of a stripe with its gap. */
const STEP = 3;
const STEPS = 6;

const moveStripes = (stripes: HTMLElement, step: number): void => {
  stripes.style.backgroundPosition = `${step * STEP}px 0`;
};

/**
 * Stripes that move while something is worked on that does not say how much is left.
 *
 * @example <Working className="h-1 w-16" what="Reading the log" />
 */
export function Working({ className, what }: { className: string; what?: string }): ReactElement {
  const stripesRef = useRef<HTMLSpanElement>(null);
  useSteps(stripesRef, STEPS, moveStripes);
  const told = what === undefined ? {} : { role: "progressbar", "aria-label": what };
  return <span ref={stripesRef} className={`stripes ${className}`} {...told} />;
}
