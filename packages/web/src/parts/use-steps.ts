import { useEffect, type RefObject } from "react";

/** Milliseconds from one step to the next. */
const EVERY = 150;

/**
 * Moves an element in steps that come round, for as long as it is there; not for whoever wants no movement. An
 * animation of the style sheet, or of a drawing, would have the page drawn sixty times a second, on the processor that
 * works.
 *
 * @example useSteps(stripesRef, 6, moveStripes)
 */
export function useSteps<E extends Element>(
  elementRef: RefObject<E | null>,
  steps: number,
  move: (element: E, step: number) => void,
): void {
  useEffect(() => {
    if (window.matchMedia("(prefers-reduced-motion: reduce)").matches) return undefined;
    let step = 0;
    const timer = setInterval(() => {
      step = (step + 1) % steps;
      if (elementRef.current) move(elementRef.current, step);
    }, EVERY);
    return () => clearInterval(timer);
  }, [elementRef, steps, move]);
}
