import type { ChartAxis, ChartDescription, HeatCells, Mark, PointNote, Series } from "@oxtrum/core/charts";
import { withCommonAxes } from "@oxtrum/core/charts";
import type { Condition, Table, UnitSymbol } from "@oxtrum/core/tables";
import { boundIn, tableOf, type Bound } from "../arguments.js";
import { agreeing } from "../agreeing-units.js";
import { operation, type Operation } from "../operation.js";
import { present } from "../run-verbs.js";
import { mergeExcluded, Mistake, type ExcludedRun, type Outcome } from "../values.js";
import { AxesFrame } from "./axes-frame.js";
import { chartArgs, type ChartLayer, type ChartOptions } from "./chart-arguments.js";
import { distinct, knownParameter, sayParameter, splitTable, tellers, type Member } from "./members.js";
import { drawnColumns, xOf } from "./series.js";
import { extremeNotes, MOST_NOTES, notWritten } from "./extreme-notes.js";
import { notDrawn } from "./not-drawn.js";
import { overdrawn } from "./overdrawn.js";
import { layerKindOf } from "./kinds/index.js";
import { namedColumns } from "./layer-kind.js";
import type { LayerOptions } from "./layer-options.js";

interface FilledLayer {
  readonly kind: ChartLayer["kind"];
  readonly options: LayerOptions;
  readonly members: readonly Member[];
}

/** Draws the layers of a chart on common axes; what comes out is plain data. */
export const chartOperation: Operation = operation({
  name: "chart",
  version: 10,
  args: chartArgs,
  takesFailures: true,
  needsOfRuns: ({ layers, options }) => {
    const names = layers.flatMap((l) => {
      const own = options.panels === undefined ? namedColumns(layerKindOf(l.kind), l.options) : undefined;
      // Of runs, what tells them apart are parameters; of rows of a table, its columns.
      const all = own && l.source.from === "table" ? [...own, ...tellers(l.options, undefined)] : own;
      return Array<readonly string[] | undefined>(l.count).fill(all);
    });
    return (input) => names[input];
  },
  run: (a, inputs) => {
    const left: ExcludedRun[] = [];
    const runs = new Set<string>();
    let at = 0;
    const layers = a.layers.map((layer): FilledLayer => {
      const own = inputs.slice(at, (at += layer.count));
      return { kind: layer.kind, options: layer.options, members: membersOf(layer, own, a.options.panels, left, runs) };
    });
    const panels = a.options.panels;
    const told: Condition[] = [];
    const chart = panels === undefined ? assemble(a.options, layers, told) : inPanels(a.options, layers, panels, told);
    const leftOut = layers.flatMap((l) => layerKindOf(l.kind).leftOut?.(l.members, l.options as never) ?? []);
    const conditions = [...leftOut, ...notDrawn(chart), ...overdrawn(chart), ...told];
    const value = { kind: "chart", chart, left: mergeExcluded(left), runs: [...runs] } as const;
    return conditions.length > 0 ? { ...value, conditions } : value;
  },
});

/** All columns that a layer draws of a run's table. */
function drawnNames(table: Table | undefined, kind: string, o: LayerOptions): string[] {
  if (!table) return [];
  const named = [
    xOf(table, o),
    ...drawnColumns(table, o, xOf(table, o)).map((c) => c.name),
    ...(layerKindOf(kind).columns ?? []).map((name) => (o as Record<string, unknown>)[name]),
  ];
  return named.filter((n): n is string => typeof n === "string" && table.columns.some((c) => c.name === n));
}

function membersOf(
  layer: ChartLayer,
  own: readonly Outcome[],
  panels: string | undefined,
  left: ExcludedRun[],
  runs: Set<string>,
): Member[] {
  if (layer.source.from === "runs") {
    const given = present(layer.source, own);
    const p = agreeing(given, drawnNames(given.tables[0], layer.kind, layer.options));
    left.push(...p.left);
    p.runs.forEach((r) => runs.add(r));
    return p.tables.map((table, k) => ({ run: p.runs[k]!, table, params: p.params[k]!, units: p.units }));
  }
  const only = own[0]!;
  if (only.kind === "failure") throw new Mistake(only.reason);
  left.push(...(only.left ?? []));
  only.runs?.forEach((r) => runs.add(r));
  const table = tableOf(only);
  const names = tellers(layer.options, panels);
  // A layer that all panels share has no column of that name.
  return splitTable(
    table,
    names.filter((n) => n !== panels || table.columns.some((c) => c.name === n)),
  );
}

/** One panel for each value of a parameter, or for each quantity. */
function inPanels(o: ChartOptions, layers: readonly FilledLayer[], by: string, told: Condition[]): ChartDescription {
  const { title, subtitle, legend, theme, columns, ...own } = o;
  let charts: ChartDescription[];
  if (by === "quantities") {
    const names = [
      ...new Set(
        layers.flatMap((l) =>
          l.members
            .slice(0, 1)
            .flatMap((m) => drawnColumns(m.table, l.options, xOf(m.table, l.options)).map((c) => c.name)),
        ),
      ),
    ];
    charts = names.map((name) =>
      assemble(
        { ...own, title: labelIn(layers, name) },
        layers.map((l) => ({ ...l, options: { ...l.options, y: name, right: undefined } })),
        told,
      ),
    );
  } else {
    const having = layers.flatMap((l) => l.members).filter((m) => Object.hasOwn(m.params, by));
    if (having.length === 0)
      knownParameter(
        layers.flatMap((l) => l.members),
        by,
        "panels",
      );
    const values = distinct(having, by);
    if (values.length > 60)
      throw new Mistake(`chart: panels: "${by}" has ${values.length} values; 60 panels are the most`);
    const swapAxes = layers.some((l) => l.options.swapAxes === true);
    charts = [];
    for (const v of values) {
      const one = having.find((m) => (m.params[by] ?? null) === v)!;
      const shown = layers.map((l) => ({
        ...l,
        members: l.members.filter((m) => !Object.hasOwn(m.params, by) || (m.params[by] ?? null) === v),
      }));
      // All panels are in the units of the first.
      charts.push(assemble({ ...own, title: sayParameter(one, by) }, shown, told, swapAxes ? undefined : charts[0]));
    }
    charts = withCommonAxes(charts);
  }
  if (charts.length === 0) return assemble(o, layers, told);
  return {
    ...(title !== undefined && { title }),
    ...(subtitle !== undefined && { subtitle }),
    x: charts[0]!.x,
    y: charts[0]!.y,
    series: [],
    panels: charts,
    ...(columns !== undefined && { columns }),
    ...(legend && { legend }),
    ...(theme && { theme }),
  };
}

function labelIn(layers: readonly FilledLayer[], name: string): string {
  for (const l of layers)
    for (const m of l.members) {
      const c = m.table.columns.find((o) => o.name === name);
      if (c) return c.label ?? c.name;
    }
  return name;
}

/** What all layers of one chart bring, and which of their series are to have their extremes marked. */
interface Layered {
  readonly series: readonly Series[];
  readonly wants: ReadonlyMap<Series, "min" | "max" | "both">;
  readonly heat: HeatCells | undefined;
  /** A range that both axes share. */
  readonly square: readonly [number, number] | undefined;
}

function layered(layers: readonly FilledLayer[], frame: AxesFrame): Layered {
  const series: Series[] = [];
  let heat: HeatCells | undefined;
  let square: readonly [number, number] | undefined;
  const wants = new Map<Series, "min" | "max" | "both">();
  for (const l of layers) {
    const offset = series.length === 0 ? 0 : new Set(series.map((s) => s.legend)).size;
    const layer = layerKindOf(l.kind).layer(l.members, l.options as never, frame, offset);
    heat = layer.heat ?? heat;
    square = layer.range ?? square;
    const made = apartFrom(series, layer.series ?? []);
    if (l.options.extremes !== undefined) for (const s of made) wants.set(s, l.options.extremes);
    series.push(...made);
  }
  return { series, wants, heat, square };
}

/** The axes as the layers need them and the chart's options say. */
function axesOf(
  o: ChartOptions,
  layers: readonly FilledLayer[],
  frame: AxesFrame,
  square: Layered["square"],
): { x: ChartAxis; y: ChartAxis; right: ChartAxis | undefined } {
  const own = layers.map((l) => layerKindOf(l.kind).yAxis).find((a) => a !== undefined);
  let x = axisOf(frame.x, {
    title: o.xTitle,
    scale: o.xScale,
    range: o.xRange,
    reversed: o.xReversed,
    digits: o.xDigits,
  });
  let y = axisOf(frame.left ?? frame.right, {
    title: o.yTitle ?? own?.title,
    shared: frame.sharedTitle(frame.left ? "left" : "right"),
    scale: o.yScale ?? own?.scale,
    range: o.yRange,
    reversed: o.yReversed,
    digits: o.yDigits,
  });
  const right =
    frame.right &&
    axisOf(frame.right, {
      title: o.rightTitle,
      shared: frame.sharedTitle("right"),
      scale: o.rightScale,
      range: o.rightRange,
      reversed: undefined,
      digits: o.rightDigits,
    });
  if (frame.categories) x = { ...x, categories: frame.categories };
  if (frame.yCategories) y = { ...y, categories: frame.yCategories };
  if (square)
    [x, y] = [
      { ...x, min: x.min ?? square[0], max: x.max ?? square[1] },
      { ...y, min: y.min ?? square[0], max: y.max ?? square[1] },
    ];
  return { x, y, right };
}

/** @param told gets what is to be said of the chart beside it */
function assemble(
  o: ChartOptions,
  layers: readonly FilledLayer[],
  told: Condition[],
  like?: ChartDescription,
): ChartDescription {
  const frame = new AxesFrame(like);
  const { wants, heat, square, ...made } = layered(layers, frame);
  let { series } = made;
  const { right, ...axes } = axesOf(o, layers, frame, square);
  let { x, y } = axes;
  const wanted = extremeNotes(
    series,
    wants,
    { x: x.unit, left: y.unit, right: right?.unit ?? null },
    frame.categories !== undefined,
  );
  const notes = wanted.length > MOST_NOTES ? [] : wanted;
  if (notes.length < wanted.length) told.push(notWritten(wanted.length, o.title));
  let marks = marksOf(o, x, y, right);
  if (layers.some((l) => l.options.swapAxes === true)) {
    [x, y] = [y, x];
    const before = series;
    series = series.map(swapAxes);
    marks = marks.map(({ x: mx, y: my, ...m }) => ({
      ...m,
      ...(my !== undefined && { x: my }),
      ...(mx !== undefined && { y: mx }),
    }));
    notes.forEach((n, k) => (notes[k] = { ...n, x: n.y, y: n.x, series: before.indexOf(before[n.series]!) }));
  }
  return {
    ...(o.title !== undefined && { title: o.title }),
    ...(o.subtitle !== undefined && { subtitle: o.subtitle }),
    x,
    y,
    series,
    ...(right && { right }),
    ...(heat && { heat }),
    ...(marks.length > 0 && { marks }),
    ...(notes.length > 0 && { notes: notes as readonly PointNote[] }),
    ...(o.legend && { legend: o.legend }),
    ...(o.theme && { theme: o.theme }),
  };
}

/** Series of a further layer: one that looks other than an earlier one does not share its entry in the legend. */
function apartFrom(earlier: readonly Series[], made: readonly Series[]): Series[] {
  const look = (s: Series): string => JSON.stringify([s.color, s.kind === "lines" ? (s.dash ?? 0) : 0]);
  const taken = new Map(earlier.map((s) => [s.legend ?? s.name, look(s)]));
  return made.map((s): Series => {
    const legend = s.legend ?? s.name;
    const other = taken.get(legend);
    if (s.faint === true || other === undefined || other === look(s)) return s;
    const named = s.quantity === undefined || legend.includes(s.quantity) ? legend : `${legend} · ${s.quantity}`;
    let text = named;
    for (let k = 2; taken.has(text) && taken.get(text) !== look(s); k++) text = `${named} (${k})`;
    return { ...s, legend: text };
  });
}

interface AxisWish {
  readonly title: string | undefined;
  /** What stands there without a title, where several quantities share the axis. */
  readonly shared?: string | undefined;
  readonly scale: "linear" | "log" | undefined;
  readonly range: readonly [Bound, Bound] | undefined;
  readonly reversed: boolean | undefined;
  readonly digits: number | undefined;
}

function axisOf(have: { title: string; unit: UnitSymbol } | undefined, wish: AxisWish): ChartAxis {
  const unit = have?.unit ?? null;
  const ends = wish.range?.map((b) => boundIn(b, unit, "range")) as [number, number] | undefined;
  if (ends && !(ends[0] < ends[1]))
    throw new Mistake(
      `chart: a range from ${ends[0]} to ${ends[1]}: the second has to be larger; use xReversed or yReversed to turn an axis`,
    );
  if (ends && wish.scale === "log" && !(ends[0] > 0))
    throw new Mistake(`chart: a logarithmic axis cannot begin at ${ends[0]}`);
  return {
    title: wish.title ?? wish.shared ?? have?.title ?? "",
    ...(wish.title === undefined && wish.shared !== undefined && have && { name: have.title }),
    unit,
    scale: wish.scale ?? "linear",
    ...(ends && { min: ends[0], max: ends[1] }),
    ...(wish.reversed === true && { reversed: true }),
    ...(wish.digits !== undefined && { digits: wish.digits }),
  };
}

/** Limits and regions in the units of the axes. */
function marksOf(o: ChartOptions, x: ChartAxis, y: ChartAxis, right: ChartAxis | undefined): Mark[] {
  return (o.marks ?? []).map((m): Mark => {
    const given = (["x", "y", "right"] as const).filter((k) => m[k] !== undefined);
    if (given.length !== 1) throw new Mistake("chart: a mark has one of x, y and right: a value, or two for a region");
    const side = given[0]!;
    const axis = side === "x" ? x : side === "y" ? y : right;
    if (!axis) throw new Mistake("chart: a mark on the right axis, but nothing is drawn there");
    const v = m[side]!;
    const at = Array.isArray(v)
      ? ([boundIn(v[0], axis.unit, "marks"), boundIn(v[1], axis.unit, "marks")] as const)
      : boundIn(v as Bound, axis.unit, "marks");
    return {
      ...(side === "x" ? { x: at } : { y: at }),
      ...(side === "right" && { axis: "right" as const }),
      ...(m.text !== undefined && { text: m.text }),
    };
  });
}

/** A series with its axis upwards. */
function swapAxes(s: Series): Series {
  if (s.kind === "bars" || s.kind === "box" || s.kind === "errorBars" || s.kind === "steps")
    throw new Mistake(`chart: ${s.kind} cannot be drawn with swapped axes; lines, points and bands can`);
  if (s.kind !== "band" || !s.high) return { ...s, x: s.y, y: s.x };
  // Up along one edge and down along the other: a closed shape.
  const { high, ...rest } = s;
  const turned = (a: ArrayLike<number>, b: ArrayLike<number>): Float64Array =>
    Float64Array.from([...Array.from(a), ...Array.from(b).reverse()]);
  return { ...rest, x: turned(s.y, high), y: turned(s.x, s.x), closed: true };
}
