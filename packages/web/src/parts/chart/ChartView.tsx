import { useCallback, useEffect, useRef, useState, type MouseEvent, type ReactElement } from "react";
import {
  darkTheme,
  drawHeader,
  drawingOf,
  lightTheme,
  panelLayout,
  withAllSeries,
  type ChartDescription,
  type PanelLayout,
} from "@oxtrum/core/charts";
import { useSize } from "../size";
import { useDark } from "../theme";
import type { ChartViewProps } from "./chart-props";
import { fontsReady } from "./fonts-ready";
import { OneChart } from "./OneChart";

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
