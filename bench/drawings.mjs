// Measures how fast charts, reports and pictures are drawn.
import { drawPdf, drawPng, drawSvg, markdownBlocks, pictureToPng, reportHtml, reportPdf } from "@oxtrum/core/exports";
import { seconds } from "./data.mjs";

/** Charts, reports and pictures drawn. */
export async function drawings() {
  const x = Float64Array.from({ length: 20_000 }, (_, i) => i / 10);
  const axis = { title: "Time", unit: "s", scale: "linear" };
  const chart = (n) => ({
    title: `Hall air ${n}`,
    x: axis,
    y: { ...axis, title: "T", unit: "degC" },
    series: [0, 1, 2, 3].map((k) => ({
      kind: "lines",
      name: `run ${k}`,
      x,
      y: x.map((v) => k + Math.sin(v / 200 + n) + 0.1 * Math.sin(v * 3)),
      color: { palette: k },
      dash: k,
    })),
  });
  const charts = Array.from({ length: 200 }, (_, n) => chart(n));
  const size = { width: 800, height: 450, scale: 2 };
  await drawPng(charts[0], size);
  const all = (draw) =>
    seconds(async () => {
      let bytes = 0;
      for (const c of charts) bytes += (await draw(c, size)).length;
      return bytes;
    });
  const [png, pngBytes] = await all(drawPng);
  const [svg, svgBytes] = await all(drawSvg);
  const [pdf, pdfBytes] = await all(drawPdf);
  const [both] = await seconds(async () => {
    for (const c of charts) {
      const aside = drawPng(c, size);
      drawSvg(c, size);
      await aside;
    }
  });
  const body = charts.slice(0, 60).flatMap((c, k) => [
    { kind: "heading", level: 3, text: `output ${k}` },
    { kind: "chart", chart: c, width: 800, height: 450, caption: "four runs" },
    {
      kind: "table",
      head: ["run", "peak"],
      numeric: [false, true],
      rows: Array.from({ length: 40 }, (_, i) => [`run_${i}`, String(i / 7)]),
    },
  ]);
  const report = {
    title: "Sixty outputs",
    cover: markdownBlocks("# Sixty outputs"),
    body: [{ kind: "heading", level: 2, text: "Outputs" }, ...body],
  };
  const [html, page] = seconds(() => reportHtml(report));
  const [book, pages] = await seconds(() => reportPdf(report));
  const n = 300;
  const triangles = new Float64Array(18 * n * n);
  const values = new Float64Array(6 * n * n);
  let t = 0;
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      for (const [a, b] of [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 0],
        [1, 1],
        [0, 1],
      ]) {
        const [u, v] = [(i + a) / n, (j + b) / n];
        triangles.set([u, 0, v], 3 * t);
        values[t++] = Math.sin(9 * u) * Math.cos(7 * v);
      }
  const none = new Float64Array(0);
  const picture = {
    panels: [{ scene: { triangles, values, edges: none, rim: none } }],
    color: { title: "T", unit: "K", min: -1, max: 1 },
    camera: { from: [0, -1, 0], up: [0, 0, 1] },
    contours: [-0.5, 0, 0.5],
    arrows: false,
    streamlines: false,
    mesh: false,
    sites: [],
    lengthUnit: "m",
  };
  const [drawn] = await seconds(() => pictureToPng(picture));
  return {
    "s, 200 charts of 4 × 20,000 points as PNG, 1600 × 900": png,
    "MB of them": pngBytes / 1e6,
    "s, as SVG": svg,
    "MB of these": svgBytes / 1e6,
    "s, as PDF": pdf,
    "MB of those": pdfBytes / 1e6,
    "s, as PNG and SVG together, as a job does": both,
    "s, report of 60 charts and tables as HTML": html,
    "MB of it": page.length / 1e6,
    "s, as PDF with contents": book,
    "MB of that": pages.length / 1e6,
    "s, picture of 180,000 triangles with contours, 1600 × 1040": drawn,
    "MB resident": process.memoryUsage.rss() / 1e6,
  };
}
