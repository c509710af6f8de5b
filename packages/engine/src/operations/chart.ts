import { z } from "zod";
import type { ChartAxis, ChartDescription, Series } from "@oxtrum/core/charts";
import { displayUnit, formatNumber, type Column, type Table, type UnitSymbol } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { tableOf } from "./arguments.js";
import { operation, type Operation } from "./operation.js";
import { present } from "./run-verbs.js";
import { joinLeft, Mistake, type LeftOut } from "./values.js";

const scalar = z.union([z.number(), z.string(), z.null()]);
const oneOrMore = z.union([z.string(), z.array(z.string())]);
const layerOptions = z.object({
  x: z.string().optional(),
  y: oneOrMore.optional(),
  along: z.string().optional(),
  right: oneOrMore.optional(),
  color: z.string().optional(),
  dash: z.string().optional(),
  name: z.string().optional(),
  show: z.array(z.string()).optional(),
  upright: z.boolean().optional(),
  faint: z.boolean().optional(),
});
const source = z.union([
  z.object({
    from: z.literal("runs"),
    runs: z.array(z.string()),
    missing: z.array(z.object({ run: z.string(), reason: z.string() })),
    params: z.array(z.record(z.string(), scalar)),
  }),
  z.object({ from: z.literal("table") }),
]);
const range = z.tuple([z.number(), z.number()]).optional();
const scale = z.enum(["linear", "log"]).optional();
const chartOptions = z.object({
  title: z.string().optional(), subtitle: z.string().optional(),
  xTitle: z.string().optional(), yTitle: z.string().optional(), rightTitle: z.string().optional(),
  xScale: scale, yScale: scale, xRange: range, yRange: range, xReversed: z.boolean().optional(), yReversed: z.boolean().optional(),
  legend: z.enum(["top", "none"]).optional(), size: z.unknown().optional(),
}); // prettier-ignore
const chartArgs = z.object({
  layers: z.array(
    z.object({ kind: z.enum(["lines", "points", "bars", "band"]), count: z.number(), source, options: layerOptions }),
  ),
  options: chartOptions,
});

type LayerOptions = z.infer<typeof layerOptions>;
type Params = Record<string, z.infer<typeof scalar>>;

interface Member {
  readonly run: string | undefined;
  readonly table: Table;
  readonly params: Params;
}

/** Titles and units of the axes as the first series sets them; later ones are converted to them. */
class Frame {
  x: { title: string; unit: UnitSymbol } | undefined;
  left: { title: string; unit: UnitSymbol } | undefined;
  right: { title: string; unit: UnitSymbol } | undefined;
  categories: string[] | undefined;

  values(side: "x" | "left" | "right", c: Column): Float64Array {
    if (c.kind === "text") {
      if (side !== "x") throw new Mistake(`chart: "${c.name}" holds words; only the x axis of bars takes them`);
      const list = (this.categories ??= []);
      this.x ??= { title: c.label ?? c.name, unit: null };
      return Float64Array.from(c.values, (w) => {
        if (!list.includes(w)) list.push(w);
        return list.indexOf(w);
      });
    }
    const have = (this[side] ??= { title: c.label ?? c.name, unit: c.unit });
    if (have.unit === c.unit) return c.values;
    if (have.unit === null || c.unit === null)
      throw new Mistake(
        `chart: "${c.name}" is in ${displayUnit(c.unit) || "no known unit"}, the axis in ${displayUnit(have.unit) || "no known unit"}; say it with .unit(), or put it on the right axis`,
      );
    const change = t.conversion(t.parseUnit(c.unit), t.parseUnit(have.unit));
    return c.values.map((v) => t.applyConversion(v, change));
  }
}

const many = (x: string | string[] | undefined): string[] => (x === undefined ? [] : Array.isArray(x) ? x : [x]);

/** Colours by the distinct values of a parameter: a ramp for numbers, the palette for words. */
function colorsBy(
  members: readonly Member[],
  parameter: string | undefined,
  offset: number,
): (m: Member, k: number) => Series["color"] {
  if (parameter === undefined)
    return members.length > 8 ? (_, k) => ({ ramp: k / (members.length - 1) }) : (_, k) => ({ palette: offset + k });
  if (members.length > 0 && !members.some((m) => Object.hasOwn(m.params, parameter)))
    throw new Mistake(
      `chart: color: the runs have no parameter "${parameter}"; there are ${Object.keys(members[0]!.params)
        .map((p) => `"${p}"`)
        .join(", ")}`,
    );
  const distinct = [...new Set(members.map((m) => m.params[parameter] ?? null))];
  if (distinct.every((v) => typeof v === "number")) {
    const sorted = (distinct as number[]).sort((a, b) => a - b);
    return (m) => ({
      ramp: sorted.length < 2 ? 0.5 : sorted.indexOf(m.params[parameter] as number) / (sorted.length - 1),
    });
  }
  const words = distinct.map(String).sort();
  return (m) => ({ palette: offset + words.indexOf(String(m.params[parameter] ?? null)) });
}

const said = (v: Params[string]): string => (typeof v === "number" ? formatNumber(v) : (v ?? "–"));

function lineSeries(
  kind: "lines" | "points" | "bars",
  members: readonly Member[],
  o: LayerOptions,
  frame: Frame,
  offset: number,
): Series[] {
  const first = members[0]?.table;
  if (!first) return [];
  const xName = o.x ?? first.axis ?? first.columns[0]?.name ?? "";
  const left = many(o.y);
  const right = many(o.right);
  const names =
    left.length + right.length > 0
      ? [...left, ...right]
      : first.columns
          .filter((c) => c.kind === "number" && c.name !== xName)
          .slice(0, 1)
          .map((c) => c.name);
  const perRun = members.length > 1 || members[0]!.run !== undefined;
  const colorOf = colorsBy(members, perRun ? o.color : undefined, offset);
  const dashValues = o.dash === undefined ? [] : [...new Set(members.map((m) => m.params[o.dash!] ?? null))].sort();
  const out: Series[] = [];
  members.forEach((m, k) => {
    names.forEach((name, j) => {
      const side = right.includes(name) ? "right" : "left";
      const x = frame.values("x", t.column(m.table, xName));
      const y = frame.values(side, t.numbers(m.table, name));
      const label = (c: Column): string => c.label ?? c.name;
      const what = o.name ?? label(t.column(m.table, name));
      const groups = [
        o.color === undefined ? undefined : `${o.color} ${said(m.params[o.color] ?? null)}`,
        o.dash === undefined ? undefined : `${o.dash} ${said(m.params[o.dash] ?? null)}`,
      ].filter((g) => g !== undefined);
      const who = groups.length > 0 ? groups.join(", ") : (m.run ?? what);
      out.push({
        kind, x, y, axis: side, name: perRun ? (names.length > 1 ? `${m.run} ${what}` : m.run!) : what,
        legend: perRun ? (names.length > 1 ? `${who} · ${what}` : who) : what,
        ...(m.run !== undefined && { run: m.run }),
        color: perRun && (members.length > 1 || names.length === 1) ? colorOf(m, k) : { palette: offset + j },
        dash: o.dash !== undefined ? dashValues.indexOf(m.params[o.dash] ?? null) : perRun && (o.color !== undefined || members.length > 8) ? j : perRun ? k + j : offset + j,
        ...(o.faint === true && { faint: true }),
      }); // prettier-ignore
    });
  });
  return out;
}

/** A band: edges, the middle line and others of a table of statistics across runs. */
function bandSeries(table: Table, o: LayerOptions, frame: Frame, offset: number): Series[] {
  const along = o.x ?? o.along ?? t.axisOf(table).name;
  const names =
    many(o.y).length > 0
      ? many(o.y)
      : [
          ...new Set(table.columns.filter((c) => c.name.endsWith(".mean")).map((c) => c.name.replace(/\.mean$/, ""))),
        ].slice(0, 1);
  return names.flatMap((name, j) => {
    const show = o.show ?? ["mean", "min", "max"];
    const get = (suffix: string): Column => t.column(table, `${name}.${suffix}`);
    const x = frame.values("x", t.column(table, along));
    const edges = show.filter((s) => s !== "mean" && s !== "p50" && s !== "std");
    const color = { palette: offset + j };
    const out: Series[] = [];
    const model = get(show[0] ?? "mean");
    frame.left ??= {
      title: (model.label ?? name).replace(/, \w+$/, ""),
      unit: model.kind === "number" ? model.unit : null,
    };
    if (show.includes("std")) {
      const m = frame.values("left", get("mean"));
      const sd = t.numbers(table, `${name}.std`).values;
      out.push({
        kind: "band",
        name: `${name} ± std`,
        legend: "mean ± std",
        x,
        y: m.map((v, i) => v - sd[i]!),
        high: m.map((v, i) => v + sd[i]!),
        color,
      });
    }
    for (let k = 0; k + 1 < edges.length; k += 2)
      out.push({
        kind: "band",
        name: `${name} ${edges[k]} to ${edges[k + 1]}`,
        legend: `${edges[k]} to ${edges[k + 1]}`,
        x,
        y: frame.values("left", get(edges[k]!)),
        high: frame.values("left", get(edges[k + 1]!)),
        color,
      });
    for (const s of show.filter((v) => v === "mean" || v === "p50"))
      out.push({
        kind: "lines",
        name: `${name} ${s}`,
        legend: o.name ?? s,
        x,
        y: frame.values("left", get(s)),
        color,
        dash: 0,
      });
    return out;
  });
}

/** Draws the layers of a chart on common axes; what comes out is plain data. */
export const chartOperation: Operation = operation({
  name: "chart", version: 1, args: chartArgs, takesFailures: true,
  run: (a, inputs) => {
    const frame = new Frame();
    const series: Series[] = [];
    const left: LeftOut[] = [];
    const runs = new Set<string>();
    let at = 0;
    for (const layer of a.layers) {
      const own = inputs.slice(at, (at += layer.count));
      let members: Member[];
      if (layer.source.from === "runs") {
        const p = present(layer.source, own);
        left.push(...p.left);
        p.runs.forEach((r) => runs.add(r));
        members = p.tables.map((table, k) => ({ run: p.runs[k]!, table, params: p.params[k]! }));
      } else {
        const only = own[0]!;
        if (only.kind === "failure") throw new Mistake(only.reason);
        left.push(...(only.left ?? []));
        only.runs?.forEach((r) => runs.add(r));
        members = [{ run: undefined, table: tableOf(only), params: {} }];
      }
      const offset = series.length === 0 ? 0 : new Set(series.map((s) => s.legend)).size;
      if (layer.kind === "band") members.forEach((m) => series.push(...bandSeries(m.table, layer.options, frame, offset)));
      else series.push(...lineSeries(layer.kind, members, layer.options, frame, offset));
    }
    const chart = assemble(a.options, frame, series, a.layers.some((l) => l.options.upright === true));
    return { kind: "chart", chart, left: joinLeft(left), runs: [...runs] };
  },
}); // prettier-ignore

function assemble(o: z.infer<typeof chartOptions>, frame: Frame, series: Series[], upright: boolean): ChartDescription {
  const axis = (
    have: { title: string; unit: UnitSymbol } | undefined,
    title: string | undefined,
    kind: "linear" | "log" | undefined,
    limits: [number, number] | undefined,
    reversed?: boolean,
  ): ChartAxis => ({
    title: title ?? have?.title ?? "",
    unit: have?.unit ?? null,
    scale: kind ?? "linear",
    ...(limits && { min: limits[0], max: limits[1] }),
    ...(reversed === true && { reversed: true }),
  });
  let x = axis(frame.x, o.xTitle, o.xScale, o.xRange, o.xReversed);
  let y = axis(frame.left ?? frame.right, o.yTitle, o.yScale, o.yRange, o.yReversed);
  if (frame.categories) x = { ...x, categories: frame.categories };
  if (upright) {
    [x, y] = [y, x];
    series = series.map((s) => {
      if (s.kind === "lines" || s.kind === "points") return { ...s, x: s.y, y: s.x };
      if (s.kind !== "band" || !s.high) return s;
      // Up along one edge and down along the other: a closed shape.
      const { high, ...rest } = s;
      const turned = (a: ArrayLike<number>, b: ArrayLike<number>): Float64Array => Float64Array.from([...Array.from(a), ...Array.from(b).reverse()]); // prettier-ignore
      return { ...rest, x: turned(s.y, high), y: turned(s.x, s.x), closed: true };
    });
  }
  return {
    ...(o.title !== undefined && { title: o.title }),
    ...(o.subtitle !== undefined && { subtitle: o.subtitle }),
    x, y, series,
    ...(frame.right && { right: axis(frame.right, o.rightTitle, undefined, undefined) }),
    ...(o.legend && { legend: o.legend }),
  }; // prettier-ignore
}
