import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  type Plugin,
} from "chart.js";
import zoom from "chartjs-plugin-zoom";
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type MouseEvent,
  type PointerEvent,
  type ReactElement,
} from "react";
import {
  axisTitle,
  chartConfig,
  darkTheme,
  drawHeader,
  drawingOf,
  legendAt,
  lightTheme,
  panelLayout,
  seriesColor,
  withAllSeries,
  type ChartDescription,
  type ChartLook,
  type PanelLayout,
  type Series,
} from "@oxtrum/core/charts";
import { formatNumber } from "@oxtrum/core/tables/number-format";
import { displayUnit } from "@oxtrum/core/tables/units";
import type { OutputValue } from "@oxtrum/contract";
import { useSize } from "./size";
import { useDark } from "./theme";

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  zoom,
);

type Raw = Extract<OutputValue, { kind: "chart" }>["chart"];

/** A canvas does not wait for fonts: charts are drawn once these are there. */
const fontsReady = Promise.all(
  ['400 12px "IBM Plex Sans"', '600 15px "IBM Plex Sans"', '400 11px "IBM Plex Mono"'].map((f) =>
    document.fonts.load(f),
  ),
);

const filled = (values: readonly (number | null)[]): Float64Array => Float64Array.from(values, (v) => v ?? Number.NaN);

/** A chart as it came over the wire, with gaps as NaN again. */
export function chartFromWire(raw: Raw): ChartDescription {
  const one = (c: Omit<Raw, "panels">): object => ({
    ...c,
    series: c.series.map((s) => ({
      ...s,
      x: filled(s.x),
      y: filled(s.y),
      ...(s.high && { high: filled(s.high) }),
      ...(s.low && { low: filled(s.low) }),
    })),
    ...(c.heat && { heat: { ...c.heat, x: filled(c.heat.x), y: filled(c.heat.y), values: filled(c.heat.values) } }),
  });
  return { ...one(raw), ...(raw.panels && { panels: raw.panels.map(one) }) } as ChartDescription;
}

interface Reading {
  readonly left: number;
  readonly x: number;
  readonly rows: readonly { readonly name: string; readonly color: string; readonly value: number }[];
}

function nearest(s: Series, x: number): number {
  let best = -1;
  for (let i = 0; i < s.x.length; i++) if (best < 0 || Math.abs(s.x[i]! - x) < Math.abs(s.x[best]! - x)) best = i;
  return best;
}

const MOST_READ = 12;

/** From where to where along the bottom. */
export type XRange = readonly [number, number];

/** A part of a chart, in the axes' units. */
export interface Box {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
}

interface ChartViewProps {
  chart: ChartDescription;
  small?: boolean;
  label: string;
  /** What is shown of the axis along the bottom; all of it when not given. */
  range?: XRange | undefined;
  /** Told when one has zoomed or moved, so that more detail can be fetched. */
  onRange?: ((r: XRange | undefined) => void) | undefined;
  /** Told where along the bottom the crosshair stands. */
  onRead?: ((x: number | undefined) => void) | undefined;
  /** Dragging marks a part of the chart instead of zooming; a click marks what lies about it. */
  onBrush?: ((b: Box) => void) | undefined;
}

const NONE: ReadonlySet<string> = new Set();

/** A chart on the screen: the same drawing config as in files, its series switched on and off in the legend. */
export function ChartView(props: ChartViewProps): ReactElement {
  const [hidden, setHidden] = useState(NONE);
  const toggle = useCallback(
    (key: string) => setHidden((have) => new Set(have.has(key) ? [...have].filter((k) => k !== key) : [...have, key])),
    [],
  );
  if (!props.chart.panels) return <OneChart {...props} hidden={hidden} onToggle={toggle} />;
  return (
    <PanelsView
      chart={props.chart}
      small={props.small ?? false}
      label={props.label}
      hidden={hidden}
      onToggle={toggle}
    />
  );
}

/** Several charts side by side under one title and one legend, placed as in files. */
function PanelsView({
  chart,
  small,
  label,
  hidden,
  onToggle,
}: {
  chart: ChartDescription;
  small: boolean;
  label: string;
  hidden: ReadonlySet<string>;
  onToggle: (key: string) => void;
}): ReactElement {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSize(box);
  const [layout, setLayout] = useState<PanelLayout | undefined>();
  const dark = useDark();
  useEffect(() => {
    let there = true;
    void fontsReady.finally(() => {
      const element = canvas.current;
      if (!there || !element || !size || size.width < 40 || size.height < 40) return;
      const ratio = window.devicePixelRatio;
      element.width = size.width * ratio;
      element.height = size.height * ratio;
      const ctx = element.getContext("2d")!;
      const look = { ...size, small, hidden, theme: dark ? darkTheme : lightTheme };
      const made = panelLayout(chart, look, ctx as never);
      ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
      if (!small) drawHeader(drawingOf(withAllSeries(chart), look), ctx, made.frame);
      setLayout(made);
    });
    return () => void (there = false);
  }, [chart, size, small, dark, hidden]);
  const click = (e: MouseEvent<HTMLDivElement>): void => {
    const frame = box.current!.getBoundingClientRect();
    const [x, y] = [e.clientX - frame.left, e.clientY - frame.top];
    const item = layout?.frame.items.find((i) => x >= i.x - 3 && x <= i.x + i.width + 3 && Math.abs(y - i.y) <= 10);
    if (item) onToggle(item.key);
  };
  return (
    <div ref={box} className="relative h-full w-full overflow-hidden" onClick={click}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={label}
        className="absolute"
        style={{ width: size?.width, height: size?.height }}
      />
      {layout?.panels.map((p, k) => (
        <div key={k} className="absolute" style={{ left: p.x, top: p.y, width: p.look.width, height: p.look.height }}>
          <OneChart
            chart={p.chart}
            small={small}
            label={`${label}: ${p.chart.title ?? k + 1}`}
            hidden={hidden}
            onToggle={onToggle}
            panel={p.look.panel}
          />
        </div>
      ))}
    </div>
  );
}

/** One chart with a crosshair that reads all series, wheel and drag to zoom, double-click to fit. */
function OneChart({
  chart,
  small = false,
  label,
  range,
  onRange,
  onRead,
  onBrush,
  hidden,
  onToggle,
  panel,
}: ChartViewProps & {
  hidden: ReadonlySet<string>;
  onToggle: (key: string) => void;
  panel?: ChartLook["panel"];
}): ReactElement {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const drawn = useRef<Chart | null>(null);
  const size = useSize(box);
  const [fonts, setFonts] = useState(false);
  useEffect(() => void fontsReady.finally(() => setFonts(true)), []);
  const [reading, setReading] = useState<Reading | undefined>();
  const [drag, setDrag] = useState<{ from: readonly [number, number]; to: readonly [number, number] } | undefined>();
  const brushes = onBrush !== undefined;
  const dark = useDark();
  const theme = dark ? darkTheme : lightTheme;

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
    const crosshair: Plugin = {
      id: "crosshair",
      afterEvent(c, { event }) {
        if (event.type === "click" && event.x !== null && event.y !== null) {
          const key = legendAt(c, event.x, event.y);
          if (key !== undefined) onToggle(key);
        }
        if (
          event.type === "mouseout" ||
          event.x === null ||
          !c.chartArea ||
          event.x < c.chartArea.left ||
          event.x > c.chartArea.right
        ) {
          onRead?.(undefined);
          return setReading(undefined);
        }
        if (event.type !== "mousemove" || chart.x.categories) return;
        const x = c.scales["x"]!.getValueForPixel(event.x) ?? 0;
        const rows = chart.series.flatMap((s, i) => {
          if (s.kind === "band" || s.faint || hidden.has(s.legend ?? s.name)) return [];
          const k = nearest(s, x);
          return k < 0 || Number.isNaN(s.y[k]) ? [] : [{ name: s.name, color: colors[i]!, value: s.y[k]! }];
        });
        onRead?.(x);
        setReading({ left: event.x, x, rows });
      },
    };
    if (range) Object.assign(config.options!.scales!["x"]!, { min: range[0], max: range[1] });
    const told = ({ chart: c }: { chart: Chart }): void => onRange?.([c.scales["x"]!.min, c.scales["x"]!.max]);
    const options = {
      ...config.options,
      devicePixelRatio: window.devicePixelRatio,
      events: small ? [] : (["mousemove", "mouseout", "click"] as ("mousemove" | "mouseout" | "click")[]),
      plugins: {
        ...config.options!.plugins,
        ...(!small && {
          zoom: {
            zoom: {
              wheel: { enabled: true },
              drag: { enabled: !brushes, backgroundColor: "#AC442722" },
              mode: "x" as const,
              onZoomComplete: told,
            },
            pan: { enabled: true, mode: "x" as const, modifierKey: "shift" as const, onPanComplete: told },
          },
        }),
      },
    };
    const element = canvas.current!;
    element.width = size.width;
    element.height = size.height;
    // The chart before gave the canvas back as it had found it: in the size of that time.
    element.style.width = `${size.width}px`;
    element.style.height = `${size.height}px`;
    const c = new Chart(element, {
      ...config,
      options,
      plugins: [...(config.plugins ?? []), ...(small ? [] : [crosshair])],
    } as never);
    drawn.current = c;
    return () => c.destroy();
  }, [chart, size, theme, small, colors, fonts, range, onRange, onRead, brushes, hidden, onToggle, panel]);

  const unit = displayUnit(chart.y.unit);
  const placeOf = (e: PointerEvent<HTMLDivElement>): readonly [number, number] => {
    const frame = box.current!.getBoundingClientRect();
    return [e.clientX - frame.left, e.clientY - frame.top];
  };
  const begin = (e: PointerEvent<HTMLDivElement>): void => {
    if (!onBrush || e.button !== 0 || e.shiftKey) return;
    // In the legend a click switches series; it marks nothing.
    if (drawn.current && legendAt(drawn.current, ...placeOf(e)) !== undefined) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setDrag({ from: placeOf(e), to: placeOf(e) });
  };
  const end = (): void => {
    const [x, y] = [drawn.current?.scales["x"], drawn.current?.scales["y"]];
    if (drag && x && y) {
      // A click takes what is near it.
      const click = Math.hypot(drag.to[0] - drag.from[0], drag.to[1] - drag.from[1]) < 4;
      const reach = click ? 6 : 0;
      const span = (k: 0 | 1, scale: typeof x): readonly [number, number] => {
        const ends = [Math.min(drag.from[k], drag.to[k]) - reach, Math.max(drag.from[k], drag.to[k]) + reach]
          .map((p) => scale.getValueForPixel(p) ?? 0)
          .sort((a, b) => a - b);
        return [ends[0]!, ends[1]!];
      };
      onBrush?.({ x: span(0, x), y: span(1, y) });
    }
    setDrag(undefined);
  };
  return (
    <div
      ref={box}
      className="relative h-full w-full overflow-hidden"
      onPointerDown={begin}
      onPointerMove={(e) => drag && setDrag({ ...drag, to: placeOf(e) })}
      onPointerUp={end}
      onPointerCancel={() => setDrag(undefined)}
      onDoubleClick={() => (onRange ? onRange(undefined) : drawn.current?.resetZoom())}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${label}: ${axisTitle(chart.y)} over ${axisTitle(chart.x)}`}
        style={{ width: size?.width, height: size?.height }}
      />
      {drag && (
        <div
          className="pointer-events-none absolute border border-oxide bg-oxide/15"
          style={{
            left: Math.min(drag.from[0], drag.to[0]),
            top: Math.min(drag.from[1], drag.to[1]),
            width: Math.abs(drag.to[0] - drag.from[0]),
            height: Math.abs(drag.to[1] - drag.from[1]),
          }}
        />
      )}
      {reading && !drag && (
        <>
          <div
            className="pointer-events-none absolute top-0 bottom-0 w-px bg-oxide/70"
            style={{ left: reading.left }}
          />
          <div
            className="num pointer-events-none absolute z-10 max-w-64 border border-rule bg-sheet px-2 py-1 text-xs"
            style={{
              top: 8,
              ...(reading.left > (size?.width ?? 0) / 2
                ? { right: (size?.width ?? 0) - reading.left + 8 }
                : { left: reading.left + 8 }),
            }}
          >
            <div>
              {formatNumber(reading.x, 4)} {displayUnit(chart.x.unit)}
            </div>
            {reading.rows.slice(0, MOST_READ).map((r, i) => (
              <div key={i} className="flex gap-2 whitespace-nowrap">
                <span style={{ color: r.color }}>
                  {formatNumber(r.value, 4)} {unit}
                </span>
                <span className="dim truncate">{r.name}</span>
              </div>
            ))}
            {reading.rows.length > MOST_READ && <div className="dim">{reading.rows.length - MOST_READ} more</div>}
          </div>
        </>
      )}
    </div>
  );
}
