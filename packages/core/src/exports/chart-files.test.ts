import { describe, expect, it } from "@jest/globals";
import { XMLParser, XMLValidator } from "fast-xml-parser";
import type { ChartDescription, Series } from "../charts/index.js";
import { drawPdf, drawPng, drawSvg } from "./index.js";
import { readPdf } from "./testing/read-pdf.js";

const x = Float64Array.from({ length: 300 }, (_, i) => i);
const axis = (title: string, unit: string | null, more: object = {}): ChartDescription["x"] => ({
  title,
  unit,
  scale: "linear",
  ...more,
});
const series = (name: string, k: number, more: Partial<Series> = {}): Series => ({
  kind: "lines",
  name,
  x,
  y: x.map((v) => k + Math.sin(v / 40)),
  color: { palette: k },
  dash: k,
  ...more,
});
const chart = (more: Partial<ChartDescription> = {}): ChartDescription => ({
  title: "Hall air T_{mean} & Δp",
  subtitle: "fan < 75 %",
  x: axis("Time", "s"),
  y: axis("Air", "degC"),
  series: [series("door 40 s", 0), series("door 80 s", 1)],
  ...more,
});
const few = Float64Array.of(10, 60, 110);
const boxes = [{ low: 1, q1: 2, median: 3, q3: 4, high: 5, beyond: [9] }];

const kinds: Record<string, ChartDescription> = {
  lines: chart(),
  points: chart({ series: [series("a", 0, { kind: "points", x: few, y: few })] }),
  linePoints: chart({ series: [series("a", 0, { kind: "linePoints", x: few, y: few })] }),
  steps: chart({ series: [series("a", 0, { kind: "steps", x: few, y: few })] }),
  bars: chart({
    x: axis("run", null, { categories: ["a", "b", "c"] }),
    series: [0, 1].map((k) => series(`s${k}`, k, { kind: "bars", x: Float64Array.of(0, 1, 2), y: few })),
  }),
  stacked: chart({
    x: axis("run", null, { categories: ["a", "b", "c"] }),
    series: [0, 1].map((k) => series(`s${k}`, k, { kind: "bars", stack: "s", x: Float64Array.of(0, 1, 2), y: few })),
  }),
  band: chart({ series: [series("band", 0, { kind: "band", high: x.map((v) => 2 + Math.sin(v / 40)) })] }),
  errors: chart({
    series: [
      series("e", 0, { kind: "errorBars", x: few, y: few, low: few.map((v) => v - 5), high: few.map((v) => v + 5) }),
    ],
  }),
  box: chart({
    x: axis("fan", null, { categories: ["50"] }),
    series: [series("b", 0, { kind: "box", x: Float64Array.of(0), y: Float64Array.of(3), boxes })],
  }),
  heat: chart({
    series: [],
    heat: {
      x: few,
      y: few,
      values: Float64Array.of(1, 2, 3, 4, 5, 6, 7, Number.NaN, 9),
      title: "Peak",
      unit: "K",
      min: 1,
      max: 9,
    },
  }),
  "two axes": chart({ right: axis("Duty", "kW"), series: [series("T", 0), series("Q", 1, { axis: "right" })] }),
  logarithmic: chart({
    y: axis("Residual", "1", { scale: "log" }),
    series: [series("r", 0, { y: x.map((v) => 10 ** (-v / 50)) })],
  }),
  reversed: chart({ x: axis("Depth", "m", { reversed: true }) }),
  panels: chart({ series: [], columns: 2, panels: [0, 1, 2].map((k) => chart({ title: `fan ${k}` })) }),
  print: chart({ theme: "print", legend: "ends" }),
  inside: chart({ legend: "inside" }),
  right: chart({ legend: "right" }),
  marked: chart({
    marks: [
      { y: 1, text: "limit" },
      { x: [50, 90], text: "open" },
    ],
    notes: [{ series: 0, x: 62, y: 1, text: "1 °C at 62 s" }],
  }),
  empty: chart({ series: [] }),
  "all missing": chart({ series: [series("n", 0, { y: x.map(() => Number.NaN) })] }),
  "one point": chart({ series: [series("n", 0, { x: Float64Array.of(3), y: Float64Array.of(4) })] }),
  tiny: chart({ series: [series("n", 0, { y: x.map((v) => v * 1e-303) })] }),
};

describe.each(Object.keys(kinds))("a chart of %s", (name) => {
  const c = kinds[name]!;
  const size = { width: 480, height: 300, scale: 1 };
  it("is an SVG that another program reads, with its words as words", () => {
    const svg = drawSvg(c, size).toString();
    expect(XMLValidator.validate(svg)).toBe(true);
    const root = (new XMLParser({ ignoreAttributes: false }).parse(svg) as { svg: Record<string, string> }).svg;
    expect([root["@_width"], root["@_height"], root["@_viewBox"]]).toEqual(["480", "300", "0 0 480 300"]);
    expect(svg).toContain(">Hall air T</text>");
    expect(svg).toContain("data:font/woff2;base64,");
    expect(svg).not.toMatch(/<(?:script|image|foreignObject)|https?:\/\/(?!www\.w3\.org)/);
  });
  it("is a PDF with its words in embedded fonts", async () => {
    const { pages, title, info } = await readPdf(drawPdf(c, size));
    expect(pages).toHaveLength(1);
    expect([pages[0]!.width, pages[0]!.height]).toEqual([360, 225]);
    expect(pages[0]!.text.replace(/\s+/g, " ")).toContain("Hall air T");
    expect(pages[0]!.fonts.length).toBeGreaterThan(1);
    expect(pages[0]!.fonts.filter((f) => !f.embedded || !/Oxtrum(?:Sans|Mono)|DejaVu/.test(f.name))).toEqual([]);
    expect(title).toBe(c.title);
    expect(info["CreationDate"]).toBeUndefined();
  });
  it("is a PNG of the size asked for", async () => {
    const png = await drawPng(c, { ...size, scale: 1.25 });
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([600, 375]);
  });
  it("has the same bytes each time", async () => {
    for (const draw of [drawSvg, drawPdf]) expect(draw(c, size).equals(draw(c, size))).toBe(true);
    const [one, other] = await Promise.all([drawPng(c, size), drawPng(c, size)]);
    expect(one.equals(other)).toBe(true);
  });
});

describe("what stands in a file of a chart", () => {
  const text = (c: ChartDescription): string[] =>
    [
      ...drawSvg(c, { width: 480, height: 300 })
        .toString()
        .matchAll(/>([^<]*)<\/text>/g),
    ].map((m) => m[1]!);
  it("is escaped, raised and lowered", () => {
    expect(text(chart())).toEqual(
      expect.arrayContaining(["mean", " &amp; Δp", "fan &lt; 75 %", "Time (s)", "Air (°C)", "door 40 s"]),
    );
  });
  it("says that there is nothing where there is nothing", () => {
    for (const k of ["empty", "all missing"]) expect(text(kinds[k]!)).toContain("No values");
    expect(text(kinds["one point"]!)).not.toContain("No values");
  });
  it("keeps very long words within the picture, and writes from right to left", async () => {
    const long = chart({
      title: "a-very-long-title-without-any-blank-".repeat(12),
      y: axis("y".repeat(300), "Pa"),
      series: ["x".repeat(200), "שלום"].map((n, k) => series(n, k)),
    });
    const drawn = text(long);
    expect(Math.max(...drawn.map((t) => t.length))).toBeLessThan(90);
    expect(drawn.filter((t) => t.includes("…")).length).toBeGreaterThanOrEqual(3);
    expect((await drawPng(long, { width: 480, height: 300, scale: 1 })).length).toBeGreaterThan(1000);
  });
  it("names all series beside the lines' ends without touching", () => {
    const ends = chart({
      legend: "ends",
      series: Array.from({ length: 8 }, (_, k) => series(`run ${k}`, k, { y: x.map(() => 1 + k * 1e-3) })),
    });
    const svg = drawSvg(ends, { width: 480, height: 300 }).toString();
    const ys = [...svg.matchAll(/y="([\d.]+)"[^>]*>run \d<\/text>/g)].map((m) => Number(m[1])).sort((a, b) => a - b);
    expect(ys).toHaveLength(8);
    for (let k = 1; k < 8; k++) expect(ys[k]! - ys[k - 1]!).toBeGreaterThan(14);
    expect(ys[7]).toBeLessThan(300);
  });
  it("lists a ramp in its order", () => {
    const runs = chart({ series: [0.6, 1, 0, 0.3].map((ramp) => series(`open ${ramp}`, 0, { color: { ramp } })) });
    expect(text(runs).filter((t) => t.startsWith("open"))).toEqual(["open 0", "open 0.3", "open 0.6", "open 1"]);
  });
  it("is a tenth of the points where a curve is smooth", () => {
    const many = Float64Array.from({ length: 100_000 }, (_, i) => i / 100);
    const smooth = chart({ series: [{ ...series("s", 0), x: many, y: many.map((v) => Math.sin(v / 300)) }] });
    expect(drawSvg(smooth, { width: 480, height: 300 }, { fonts: false }).length).toBeLessThan(20_000);
  });
});
