import { describe, expect, it } from "@jest/globals";
import { fieldColor } from "../charts/colormap.js";
import { loadImage } from "@napi-rs/canvas";
import { crc32, pngChunks } from "../exports/png.js";
import { pictureToAnimation, pictureToPdf, pictureToPng } from "../exports/index.js";
import { readPdf } from "../exports/testing/read-pdf.js";
import { contourPieces, joined } from "./contours.js";
import type { PictureDescription, Scene } from "./description.js";
import { basisOf, cameras, extentOf, projectionFor } from "./project.js";
import { colorTable, Raster } from "./raster.js";
import { streamlines } from "./streamlines.js";
import { none, plainPicture, square } from "./tests/square.js";

const picture = (scenes: readonly Scene[], more: Partial<PictureDescription> = {}): PictureDescription =>
  plainPicture(scenes, {
    title: "Hall",
    panels: scenes.map((scene, k) => ({ title: `${k} s`, scene })),
    color: { title: "T", unit: "degC", min: 0, max: 1 },
    ...more,
  });

describe("cameras", () => {
  it("have right-handed, square directions", () => {
    for (const c of Object.values(cameras)) {
      const { right, up, eye } = basisOf(c);
      const dot = (a: readonly number[], b: readonly number[]): number => a.reduce((s, v, k) => s + v * b[k]!, 0);
      for (const [a, b] of [
        [right, up],
        [up, eye],
        [eye, right],
      ] as const)
        expect(dot(a, b)).toBeCloseTo(0, 12);
      const cross = [0, 1, 2].map(
        (k) => right[(k + 1) % 3]! * up[(k + 2) % 3]! - right[(k + 2) % 3]! * up[(k + 1) % 3]!,
      );
      cross.forEach((v, k) => expect(v).toBeCloseTo(eye[k]!, 12));
    }
    expect(() => basisOf({ from: [0, 0, 1], up: [0, 0, 2] })).toThrow("up may not point");
  });
  it("fit a scene into its area without bending it", () => {
    const s = square(() => 0);
    const p = projectionFor(picture([s]), { x: 10, y: 20, width: 300, height: 100 });
    expect(p.to(0, 0, 0).slice(0, 2)).toEqual([110, 120]);
    expect(p.to(1, 0, 1).slice(0, 2)).toEqual([210, 20]);
    expect(extentOf([s], p.basis)).toEqual({ right: [0, 1], up: [0, 1] });
  });
});

describe("the raster", () => {
  it("gives each pixel the colour of the linear value there", () => {
    const scene = square((x) => x);
    const r = new Raster(100, 100);
    const to = projectionFor(picture([scene]), { x: 0, y: 0, width: 100, height: 100 });
    r.fill(scene, to, colorTable(0, 1, undefined), false);
    for (const x of [5, 33, 50, 94]) {
      const wanted = fieldColor((x + 0.5) / 100);
      for (let c = 0; c < 3; c++)
        expect(Math.abs(r.pixels[4 * (50 * 100 + x) + c]! - wanted[c]! * 255)).toBeLessThan(2.5);
    }
    expect(Array.from(r.pixels).filter((_, k) => k % 4 === 3 && r.pixels[k] !== 255)).toEqual([]);
  });
  it("covers what is farther by what is nearer, in whatever order", () => {
    const shifted = (s: Scene, y: number): Scene => ({
      ...s,
      triangles: s.triangles.map((v, k) => (k % 3 === 1 ? y : v)),
    });
    const [near, far] = [
      shifted(
        square(() => 1),
        -1,
      ),
      shifted(
        square(() => 0),
        1,
      ),
    ];
    const to = projectionFor(picture([near, far]), { x: 0, y: 0, width: 20, height: 20 });
    for (const order of [
      [near, far],
      [far, near],
    ]) {
      const r = new Raster(20, 20);
      for (const s of order) r.fill(s, to, colorTable(0, 1, undefined), false);
      expect(Math.abs(r.pixels[4 * (10 * 20 + 10)]! - fieldColor(1)[0] * 255)).toBeLessThan(2);
    }
  });
  it("leaves missing values grey, and steps even", () => {
    const table = colorTable(0, 1, 4);
    expect(table.entry(Number.NaN)).toBe(1024);
    const color = (v: number): string => String(table.table.slice(3 * table.entry(v), 3 * table.entry(v) + 3));
    expect(new Set([0, 0.1, 0.24].map(color)).size).toBe(1);
    expect(new Set([0.1, 0.3, 0.6, 0.9].map(color)).size).toBe(4);
    expect(color(-5)).toBe(color(0));
  });
});

describe("contours", () => {
  const length = (l: Float64Array): number =>
    Array.from({ length: l.length / 3 - 1 }, (_, k) =>
      Math.hypot(...[0, 1, 2].map((d) => l[3 * k + 3 + d]! - l[3 * k + d]!)),
    ).reduce((s, v) => s + v, 0);
  it("of a linear field are straight lines at the right place", () => {
    const lines = joined(
      contourPieces(
        square((x, z) => x + 2 * z),
        1.3,
      ),
      1e-9,
    );
    expect(lines).toHaveLength(1);
    for (let k = 0; k < lines[0]!.length; k += 3) expect(lines[0]![k]! + 2 * lines[0]![k + 2]!).toBeCloseTo(1.3, 10);
    expect(length(lines[0]!)).toBeCloseTo(Math.hypot(1, 0.5), 6);
  });
  it("of a cone are closed circles, to the mesh's order", () => {
    const lines = joined(
      contourPieces(
        square((x, z) => Math.hypot(x - 0.5, z - 0.5), 80),
        0.3,
      ),
      1e-9,
    );
    expect(lines).toHaveLength(1);
    expect(Array.from(lines[0]!.slice(0, 3))).toEqual(Array.from(lines[0]!.slice(-3)));
    expect(Math.abs(length(lines[0]!) / (2 * Math.PI * 0.3) - 1)).toBeLessThan(2e-3);
  });
  it("leave out triangles with missing corners, and levels that are not there", () => {
    expect(
      contourPieces(
        square(() => Number.NaN),
        0,
      ),
    ).toHaveLength(0);
    expect(
      contourPieces(
        square((x) => x),
        7,
      ),
    ).toHaveLength(0);
  });
});

describe("streamlines", () => {
  it("of a turning field are circles", () => {
    const { grid } = square(
      () => 0,
      2,
      (x, z) => [-(z - 0.5), 0, x - 0.5],
    );
    const lines = streamlines(grid!, 4);
    expect(lines.length).toBeGreaterThan(3);
    for (const l of lines) {
      const radii = Array.from({ length: l.length / 2 }, (_, k) => Math.hypot(l[2 * k]! - 19.5, l[2 * k + 1]! - 19.5));
      expect(Math.max(...radii) - Math.min(...radii)).toBeLessThan(0.05);
    }
  });
  it("keep apart from each other", () => {
    const lines = streamlines(
      square(
        () => 0,
        2,
        () => [1, 0, 0.3],
      ).grid!,
      5,
    );
    lines.forEach((a, i) =>
      lines.slice(i + 1).forEach((b) => {
        let least = Infinity;
        for (let k = 0; k < a.length; k += 2)
          for (let m = 0; m < b.length; m += 2)
            least = Math.min(least, Math.hypot(a[k]! - b[m]!, a[k + 1]! - b[m + 1]!));
        expect(least).toBeGreaterThan(2.5);
      }),
    );
  });
  it("are none where nothing moves", () =>
    expect(
      streamlines(
        square(
          () => 0,
          2,
          () => [0, 0, 0],
        ).grid!,
        5,
      ),
    ).toEqual([]));
});

describe("files of pictures", () => {
  const p = picture([square((x) => x), square((_, z) => z)], {
    contours: [0.5],
    sites: [{ name: "rake", places: Float64Array.of(0.5, 0, 0, 0.5, 0, 1), joined: true }],
  });
  const size = { width: 200, height: 150, scale: 1 };
  it("are PNG of the size asked for, the same each time", async () => {
    const png = await pictureToPng(p, { ...size, scale: 2 });
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([400, 300]);
    expect(png.equals(await pictureToPng(p, { ...size, scale: 2 }))).toBe(true);
  });
  it("are PDF with words as words", async () => {
    const { pages } = await readPdf(pictureToPdf(p, size));
    for (const word of ["Hall", "0 s", "1 s", "T (°C)", "rake"]) expect(pages[0]!.text).toContain(word);
  });
  it("move, frame by frame and lossless, where they are a sequence", async () => {
    const frames = { ...p, frames: true };
    const file = await pictureToAnimation(frames, size, 0.25);
    const chunks = pngChunks(file);
    expect(chunks.map((c) => c.type).join(" ")).toMatch(/^IHDR acTL fcTL (IDAT )+fcTL (fdAT )+IEND$/);
    expect(chunks[1]!.data.readUInt32BE(0)).toBe(2);
    const controls = chunks.filter((c) => c.type === "fcTL").map((c) => c.data);
    expect(
      controls.map((c) => [c.readUInt32BE(4), c.readUInt32BE(8), c.readUInt16BE(20) / c.readUInt16BE(22)]),
    ).toEqual([
      [200, 150, 0.25],
      [200, 150, 0.25],
    ]);
    // The numbers of frames and of their parts run on, and every chunk has its check sum.
    const numbered = chunks.filter((c) => c.type === "fcTL" || c.type === "fdAT").map((c) => c.data.readUInt32BE(0));
    expect(numbered).toEqual(numbered.map((_, k) => k));
    for (const { type, data } of chunks) {
      const at = file.indexOf(Buffer.concat([Buffer.from(type), data]));
      expect(file.readUInt32BE(at + 4 + data.length)).toBe(crc32(file.subarray(at, at + 4 + data.length)));
    }
    // Frame by frame the pixels of the single pictures, as they are packed.
    const packed = (type: string, skip: number): Buffer =>
      Buffer.concat(chunks.filter((c) => c.type === type).map((c) => c.data.subarray(skip)));
    const single = async (k: number): Promise<Buffer> =>
      Buffer.concat(
        pngChunks(await pictureToPng(frames, size, k))
          .filter((c) => c.type === "IDAT")
          .map((c) => c.data),
      );
    expect(packed("IDAT", 0).equals(await single(0))).toBe(true);
    expect(packed("fdAT", 4).equals(await single(1))).toBe(true);
    const shown = await loadImage(file);
    expect([shown.width, shown.height]).toEqual([200, 150]);
    expect((await pictureToAnimation(frames, size, 0.25)).equals(file)).toBe(true);
  });
  it("check sums are those of the standard", async () => {
    expect(crc32(Buffer.from("123456789"))).toBe(0xcbf43926);
    expect(() => pngChunks(Buffer.from("no picture"))).toThrow(/not a PNG/);
    const file = await pictureToPng(p, size);
    expect(() => pngChunks(file.subarray(0, 60))).toThrow(/cut off/);
  });
  it("are drawn of nothing, too", async () => {
    const empty: Scene = { triangles: none, values: none, edges: none, rim: none };
    expect((await pictureToPng(picture([empty]), size)).length).toBeGreaterThan(500);
  });
});
