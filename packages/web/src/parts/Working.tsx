import { useEffect, useRef, type ReactElement } from "react";

/** Milliseconds from one step to the next, pixels of a step, and the width of a stripe with its gap. */
const EVERY = 150;
const STEP = 3;
const STRIPE = 18;

/**
 * Stripes that move while something is worked on that does not say how much is left. They move in steps, and only they:
 * an animation of the style sheet would have the page drawn sixty times a second, on the processor that works.
 *
 * @example <Working className="h-1 w-16" what="Reading the log" />
 */
export function Working({ className, what }: { className: string; what?: string }): ReactElement {
  const stripes = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (window.matchMedia("(prefers-reduced-motion: reduce)").matches) return undefined;
    let at = 0;
    const timer = setInterval(() => {
      at = (at + STEP) % STRIPE;
      if (stripes.current) stripes.current.style.backgroundPosition = `${at}px 0`;
    }, EVERY);
    return () => clearInterval(timer);
  }, []);
  const told = what === undefined ? {} : { role: "progressbar", "aria-label": what };
  return <span ref={stripes} className={`stripes ${className}`} {...told} />;
}
