import { Pause, Play } from "lucide-react";
import { useEffect, useState, type ReactElement } from "react";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";

interface TimeBarProps {
  readonly steps: readonly (number | null)[];
  readonly axis: string;
  readonly unit: string | null;
  readonly at: number;
  /** The picture of the last step is still on its way. */
  readonly busy: boolean;
  readonly onStep: (k: number) => void;
}

/** The field's times: chosen on a ruler, or played one after the other. */
export function TimeBar({ steps, axis, unit, at, busy, onStep }: TimeBarProps): ReactElement {
  const [playing, setPlaying] = useState(false);
  useEffect(() => {
    if (!playing || busy) return;
    const timer = setTimeout(() => onStep((at + 1) % steps.length), 450);
    return () => clearTimeout(timer);
  }, [playing, busy, at, steps.length, onStep]);
  const shown = axis === "time" ? displayUnit(unit) : "";
  const say = (k: number): string => [formatNumber(steps[k] ?? k), shown].filter((t) => t !== "").join(" ");
  return (
    <div className="absolute right-4.5 bottom-3 left-4.5 flex items-center gap-3 text-xs">
      <button className="btn quiet px-2" aria-label={playing ? "Pause" : "Play"} onClick={() => setPlaying(!playing)}>
        {playing ? <Pause size={13} /> : <Play size={13} />}
      </button>
      <span className="num w-18">{say(at)}</span>
      <Ruler steps={steps} at={at} label={axis} said={say(at)} onStep={onStep} />
      <span className="dim num">
        {formatNumber(steps[0] ?? 0)} … {say(steps.length - 1)}, {steps.length} {axis === "step" ? "steps" : "times"}
      </span>
    </div>
  );
}

interface RulerProps {
  readonly steps: readonly (number | null)[];
  readonly at: number;
  readonly label: string;
  readonly said: string;
  readonly onStep: (k: number) => void;
}

/** A slider with a mark for each step, where it lies. */
function Ruler({ steps, at, label, said, onStep }: RulerProps): ReactElement {
  const last = steps.length - 1;
  const from = steps[0] ?? 0;
  const span = (steps[last] ?? last) - from || 1;
  const place = (k: number): string => `${(100 * ((steps[k] ?? k) - from)) / span}%`;
  return (
    <span className="relative flex-1">
      <svg
        className="pointer-events-none absolute inset-x-2 -top-1 h-2 w-[calc(100%-16px)] overflow-visible"
        aria-hidden
      >
        {steps.map((_, k) => (
          <line
            key={k}
            x1={place(k)}
            x2={place(k)}
            y1="0"
            y2="6"
            stroke={k === at ? "var(--oxide)" : "var(--pencil)"}
            strokeWidth={k === at ? 2 : 1}
          />
        ))}
      </svg>
      <input
        type="range"
        className="w-full accent-oxide"
        min={from}
        max={from + span}
        step="any"
        value={steps[at] ?? at}
        aria-label={label}
        aria-valuetext={said}
        onChange={(e) => onStep(nearest(steps, Number(e.target.value)))}
        onKeyDown={(e) => {
          if (e.key !== "ArrowRight" && e.key !== "ArrowLeft") return;
          e.preventDefault();
          onStep(Math.min(last, Math.max(0, at + (e.key === "ArrowRight" ? 1 : -1))));
        }}
      />
    </span>
  );
}

function nearest(steps: readonly (number | null)[], v: number): number {
  let best = 0;
  steps.forEach((s, k) => {
    if (Math.abs((s ?? k) - v) < Math.abs((steps[best] ?? best) - v)) best = k;
  });
  return best;
}
