import { Chart, type Plugin } from "chart.js";
import zoom from "chartjs-plugin-zoom";
import { useEffect, useMemo, useRef, useState, type RefObject } from "react";
import {
  chartConfig,
  chartParts,
  darkTheme,
  legendAt,
  lightTheme,
  seriesColor,
  type ChartLook,
} from "@oxtrum/core/charts";
import { useDark } from "../theme";
import { fontsReady } from "./fonts-ready";
import type { ChartViewProps } from "./chart-props";
import { valuesAt, type Reading } from "./reading";

Chart.register(...chartParts, zoom);

/** How far from a point the pointer may be to read it off, px. */
const REACH = 8;

const isInside = (c: Chart, x: number): boolean =>
  c.chartArea !== undefined && x >= c.chartArea.left && x <= c.chartArea.right;

/** What a chart is drawn with, besides its description. */
interface Drawn extends ChartViewProps {
  readonly size: { readonly width: number; readonly height: number } | undefined;
  readonly hidden: ReadonlySet<string>;
  readonly onToggle: (key: string) => void;
  readonly onReading: (r: Reading | undefined) => void;
  readonly panel?: ChartLook["panel"] | undefined;
}

type Events = ("mousemove" | "mouseout" | "click")[];
const EVENTS: Events = ["mousemove", "mouseout", "click"];

/** Along x with the wheel, and by drawing a box unless that marks runs; moved along with Shift. */
const zooming = (drag: boolean, told: (given: { chart: Chart }) => void) => ({
  zoom: {
    wheel: { enabled: true },
    drag: { enabled: drag, backgroundColor: "#AC442722" },
    mode: "x" as const,
    onZoomComplete: told,
  },
  pan: { enabled: true, mode: "x" as const, modifierKey: "shift" as const, onPanComplete: told },
});

type Crosshair = Pick<Drawn, "chart" | "hidden" | "onToggle" | "onRead" | "onReading"> & {
  readonly colors: readonly string[];
};

/** Reads curves where the pointer is, and takes clicks on the legend. */
function crosshair({ chart, colors, hidden, onToggle, onRead, onReading }: Crosshair): Plugin {
  return {
    id: "crosshair",
    afterEvent(c, { event }) {
      const { x, y } = event;
      if (event.type === "click" && x !== null && y !== null) {
        const key = legendAt(c, x, y);
        if (key !== undefined) onToggle(key);
      }
      if (event.type === "mouseout" || x === null || !isInside(c, x)) {
        onRead?.(undefined);
        return onReading(undefined);
      }
      if (event.type !== "mousemove" || chart.x.categories) return;
      const at = c.scales["x"]!.getValueForPixel(x) ?? 0;
      const reach = Math.abs((c.scales["x"]!.getValueForPixel(x + REACH) ?? at) - at);
      onRead?.(at);
      onReading({ left: x, x: at, rows: valuesAt(chart, colors, hidden, at, reach) });
    },
  };
}

/** Keeps a chart drawn on a canvas, in its size and theme, and tells what the pointer reads off. */
export function useDrawnChart({
  size,
  chart,
  small = false,
  range,
  onRange,
  onRead,
  onBrush,
  hidden,
  onToggle,
  onReading,
  panel,
}: Drawn): { canvas: RefObject<HTMLCanvasElement | null>; drawn: RefObject<Chart | null> } {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<Chart | null>(null);
  const [fonts, setFonts] = useState(false);
  useEffect(() => void fontsReady.finally(() => setFonts(true)), []);
  const brushes = onBrush !== undefined;
  const theme = useDark() ? darkTheme : lightTheme;
  const colors = useMemo(() => chart.series.map((s) => seriesColor(theme, s)), [chart, theme]);
  useEffect(() => {
    if (!fonts || !size || size.width < 20 || size.height < 20) return;
    const config = chartConfig(chart, {
      theme,
      width: size.width,
      height: size.height,
      small,
      hidden,
      ...(panel && { panel }),
    });
    if (range) Object.assign(config.options!.scales!["x"]!, { min: range[0], max: range[1] });
    const told = ({ chart: c }: { chart: Chart }): void => onRange?.([c.scales["x"]!.min, c.scales["x"]!.max]);
    const element = canvas.current!;
    element.width = size.width;
    element.height = size.height;
    // The chart before gave the canvas back as it had found it: in the size of that time.
    element.style.width = `${size.width}px`;
    element.style.height = `${size.height}px`;
    const c = new Chart(element, {
      ...config,
      options: {
        ...config.options,
        devicePixelRatio: window.devicePixelRatio,
        events: small ? [] : EVENTS,
        plugins: { ...config.options!.plugins, ...(!small && { zoom: zooming(!brushes, told) }) },
      },
      plugins: [
        ...(config.plugins ?? []),
        ...(small ? [] : [crosshair({ chart, colors, hidden, onToggle, onRead, onReading })]),
      ],
    } as never);
    drawn.current = c;
    return () => c.destroy();
  }, [chart, size, theme, small, colors, fonts, range, onRange, onRead, brushes, hidden, onToggle, panel, onReading]);
  return { canvas, drawn };
}
