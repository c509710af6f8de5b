import { createCanvas, ImageData } from "@napi-rs/canvas";
import { describe, expect, it } from "@jest/globals";
import { makeTable, numberColumn, textColumn } from "../tables/table.js";
import { viewPart } from "../sampling/view.js";
import type { PictureDescription, Scene } from "./description.js";
import { paintPicture } from "./paint.js";
import { cameras } from "./project.js";
import { sceneOf } from "./scene.js";
import { none, plainPicture, square as squareOf } from "./tests/square.js";

/** What was drawn with one path: its colour and the places it goes through, and words with their places. */
interface Path {
  readonly how: "stroke" | "fill";
  readonly color: string;
  readonly points: readonly (readonly [number, number])[];
  readonly round: boolean;
}
interface Drawn {
  readonly paths: readonly Path[];
  readonly words: readonly (readonly [text: string, x: number, y: number])[];
  readonly boxes: readonly (readonly [color: string, x: number, y: number, w: number, h: number])[];
  pixel(x: number, y: number): number[];
}

const WIDTH = 400;
const HEIGHT = 300;

/** Draws a picture, and notes what is asked of the drawing. */
function drawn(p: PictureDescription, frame?: number): Drawn {
  const canvas = createCanvas(WIDTH, HEIGHT);
  const real = canvas.getContext("2d");
  const paths: Path[] = [];
  const words: [string, number, number][] = [];
  const boxes: [string, number, number, number, number][] = [];
  let points: [number, number][] = [];
  let round = false;
  const noted: Record<string, (...given: never[]) => void> = {
    beginPath: () => void ([points, round] = [[], false]),
    moveTo: (x: number, y: number) => void points.push([x, y]),
    lineTo: (x: number, y: number) => void points.push([x, y]),
    arc: (x: number, y: number) => {
      points.push([x, y]);
      round = true;
    },
    stroke: () => void paths.push({ how: "stroke", color: real.strokeStyle as string, points: [...points], round }),
    fill: () => void paths.push({ how: "fill", color: real.fillStyle as string, points: [...points], round }),
    fillText: (text: string, x: number, y: number) => void words.push([text, x, y]),
    fillRect: (x: number, y: number, w: number, h: number) => void boxes.push([real.fillStyle as string, x, y, w, h]),
  };
  const ctx = new Proxy(real, {
    get: (target, name) => {
      const value = Reflect.get(target, name) as unknown;
      if (typeof value !== "function") return value;
      return (...given: never[]) => {
        noted[name as string]?.(...given);
        return (value as (...g: never[]) => unknown).apply(target, given);
      };
    },
    set: (target, name, value) => Reflect.set(target, name, value),
  });
  const image = (pixels: Uint8ClampedArray, w: number, h: number): CanvasImageSource => {
    const part = createCanvas(w, h);
    part.getContext("2d").putImageData(new ImageData(pixels, w, h), 0, 0);
    return part as unknown as CanvasImageSource;
  };
  const fonts = { sans: "sans-serif", mono: "monospace" };
  paintPicture(
    { ctx: ctx as unknown as CanvasRenderingContext2D, width: WIDTH, height: HEIGHT, scale: 1, fonts, image },
    p,
    frame,
  );
  const pixel = (x: number, y: number): number[] => Array.from(real.getImageData(x, y, 1, 1).data);
  return { paths, words, boxes, pixel };
}

/** The unit square of x and z at y = 0, with a value and a vector at each place. */
const square = (value: (x: number, z: number) => number, vector?: (x: number, z: number) => Vector): Scene =>
  squareOf(value, 16, vector);
type Vector = readonly [number, number, number];
const picture = plainPicture;
/** Where the unit square lies on the drawing, from the marks of a site at two of its corners. */
function corners(p: PictureDescription): { x: (v: number) => number; z: (v: number) => number; size: number } {
  const site = { name: "", places: Float64Array.of(0, 0, 0, 1, 0, 1), joined: false };
  const [a, b] = drawn({ ...p, sites: [site] })
    .paths.filter((d) => d.round && d.how === "stroke")
    .map((d) => d.points[0]!);
  const size = b![0] - a![0];
  return { x: (v) => a![0] + v * size, z: (v) => a![1] - v * size, size };
}

describe("what is drawn over a field", () => {
  it("arrows go where the vectors go, the longest as far as the next one, and none where nothing moves", () => {
    for (const [vector, angle] of [
      [[2, 0, 0], 0],
      [[0, 0, 3], -Math.PI / 2],
      [[-1, 0, -1], (3 * Math.PI) / 4],
    ] as const) {
      const p = picture(
        [
          square(
            () => 0,
            () => vector,
          ),
        ],
        { arrows: true },
      );
      const before = drawn({ ...p, arrows: false }).paths;
      const arrows = drawn(p)
        .paths.filter((d) => d.how === "stroke" && d.points.length === 2)
        .slice(0, -before.filter((d) => d.how === "stroke").length);
      expect(arrows.length).toBeGreaterThan(30);
      const lengths = arrows.map(({ points: [a, b] }) => Math.hypot(b![0] - a![0], b![1] - a![1]));
      for (const { points } of arrows) {
        const [a, b] = points;
        const found = Math.atan2(b![1] - a![1], b![0] - a![0]);
        expect(Math.abs(Math.sin((found - angle) / 2))).toBeLessThan(1e-9);
      }
      expect(Math.max(...lengths) - Math.min(...lengths)).toBeLessThan(1e-9);
    }
    const still = picture(
      [
        square(
          () => 0,
          () => [0, 0, 0],
        ),
      ],
      { arrows: true },
    );
    expect(drawn(still).paths).toEqual(drawn({ ...still, arrows: false }).paths);
    // Towards the eye nothing is seen of it.
    const away = picture(
      [
        square(
          () => 0,
          () => [0, 5, 0],
        ),
      ],
      { arrows: true },
    );
    expect(drawn(away).paths).toEqual(drawn({ ...away, arrows: false }).paths);
  });
  it("arrows are as long as their vectors, in all panels by one measure", () => {
    const p = picture(
      [
        square(
          () => 0,
          () => [1, 0, 0],
        ),
        square(
          () => 0,
          () => [4, 0, 0],
        ),
      ],
      { arrows: true, columns: 2 },
    );
    const lengths = drawn(p)
      .paths.filter((d) => d.how === "stroke" && d.points.length === 2 && d.points[0]![1] === d.points[1]![1])
      .map(({ points: [a, b] }) => Math.round(100 * (b![0] - a![0])) / 100);
    const [short, long] = [...new Set(lengths)].sort((a, b) => a - b).filter((l) => l !== 20);
    expect(long! / short!).toBeCloseTo(4, 1);
  });
  it("streamlines follow a turning flow in circles", () => {
    const p = picture(
      [
        square(
          () => 0,
          (x, z) => [0.5 - z, 0, x - 0.5],
        ),
      ],
      { streamlines: true },
    );
    const { x, z, size } = corners(p);
    const lines = drawn(p).paths.filter((d) => d.how === "stroke" && d.points.length > 20);
    expect(lines.length).toBeGreaterThan(2);
    for (const { points } of lines) {
      const radii = points.map(([a, b]) => Math.hypot(a - x(0.5), b - z(0.5)) / size);
      expect(Math.max(...radii) - Math.min(...radii)).toBeLessThan(0.03);
    }
  });
  it("contours stand where the values are, with their number on them", () => {
    const p = picture([square((x) => 10 * x)], { contours: [2.5, 7.5, 12] });
    const { x } = corners(p);
    const { paths, words } = drawn(p);
    const lines = paths.filter((d) => d.how === "stroke" && d.points.length > 10);
    const at = lines.map(({ points }) => points.map(([a]) => a));
    expect(at.map((a) => Math.round(a[0]!))).toEqual([Math.round(x(0.25)), Math.round(x(0.75))]);
    for (const line of at) expect(Math.max(...line) - Math.min(...line)).toBeLessThan(0.5);
    expect(words.map(([w]) => w)).toEqual(expect.arrayContaining(["2.5", "7.5"]));
    expect(words.map(([w]) => w)).not.toContain("12");
  });
  it("sites stand at their places with their names, joined or each for itself", () => {
    const places = Float64Array.of(0.25, 0, 0.5, 0.5, 0, 0.5, 0.75, 0, 0.25);
    const p = picture([square(() => 0)]);
    const { x, z } = corners(p);
    const wanted = [
      [x(0.25), z(0.5)],
      [x(0.5), z(0.5)],
      [x(0.75), z(0.25)],
    ];
    const joined = drawn({ ...p, sites: [{ name: "aisle", places, joined: true }] });
    const line = joined.paths.filter((d) => d.points.length === 3 && d.how === "stroke");
    // White below it, so that it is seen on any colour.
    expect(line.map((d) => d.color)).toEqual([expect.stringMatching(/^rgba\(255, 255, 255/), "#2c7a70"]);
    line.at(-1)!.points.forEach((q, k) => q.forEach((v, d) => expect(v).toBeCloseTo(wanted[k]![d]!, 6)));
    const apart = drawn({ ...p, sites: [{ name: "probes", places, joined: false }] });
    expect(apart.paths.filter((d) => d.round && d.how === "stroke")).toHaveLength(3);
    const [, a, b] = apart.words.find(([w]) => w === "probes")!;
    expect([a, b]).toEqual([expect.closeTo(x(0.75) + 9, 6), expect.closeTo(z(0.25) + 4, 6)]);
    expect(drawn({ ...p, sites: [{ name: "none", places: none, joined: true }] }).words.map(([w]) => w)).not.toContain(
      "none",
    );
  });
  it("directions and a length are those of the camera", () => {
    const words = (camera: string): string[] =>
      drawn(picture([square(() => 0)], { camera: cameras[camera]! })).words.map(([w]) => w);
    expect(words("fromY-")).toEqual(["x", "z", "0.2 m"]);
    expect(words("isometric").slice(0, 3)).toEqual(["x", "y", "z"]);
  });
});

describe("the colours and their strip", () => {
  const color = { title: "T", unit: "degC", min: 0, max: 10 };
  it("stand under the panels with round numbers, and above them how much of the field has them", () => {
    const { words, boxes } = drawn(picture([square((x) => (x < 0.5 ? 1 : 9))], { color }));
    expect(words.map(([w]) => w)).toEqual(expect.arrayContaining(["T (°C)", "0", "5", "10"]));
    const bars = boxes.filter(([c]) => c.startsWith("rgba(95, 107, 109"));
    const tall = bars.filter(([, , , , h]) => h > 15).map(([, x]) => x);
    const all = bars.map(([, x]) => x);
    const share = (x: number): number => (x - all[0]!) / (all.at(-1)! - all[0]!);
    expect(tall.map((x) => Math.round(10 * share(x)))).toEqual([1, 9]);
  });
  it("are of so many steps, and of each panel's own range where that is asked", () => {
    const stepped = drawn(picture([square((x) => 10 * x)], { color: { ...color, steps: 4 } }));
    const { x, z } = corners(picture([square((v) => 10 * v)], { color }));
    const seen = [0.05, 0.2, 0.3, 0.45, 0.55, 0.7, 0.8, 0.95].map((v) =>
      stepped.pixel(Math.round(x(v)), Math.round(z(0.5))).join(),
    );
    expect(new Set(seen).size).toBe(4);
    expect(seen[0]).toBe(seen[1]);
    expect(seen[1]).not.toBe(seen[2]);
    const own = drawn(picture([square((v) => 100 + v)], { color, ownRange: true }));
    expect(own.words.map(([w]) => w)).toEqual(expect.arrayContaining(["min", "max of each"]));
    expect(own.pixel(Math.round(x(0.1)), Math.round(z(0.5)))).not.toEqual(
      own.pixel(Math.round(x(0.9)), Math.round(z(0.5))),
    );
  });
  it("leave a field of nothing but gaps grey, and say of nothing that it is nothing", () => {
    const { x, z } = corners(picture([square(() => 0)], { color }));
    const gaps = drawn(picture([square(() => Number.NaN)], { color, ownRange: true }));
    expect(gaps.pixel(Math.round(x(0.5)), Math.round(z(0.5))).slice(0, 3)).toEqual([206, 202, 192]);
    const nothing = { triangles: none, values: none, edges: none, rim: none };
    expect(drawn(picture([nothing])).words.map(([w]) => w)).toContain("Nothing is cut here");
  });
  it("have panels with their titles beside each other, or one frame alone", () => {
    const p: PictureDescription = {
      ...picture([]),
      title: "Hall",
      panels: ["0 s", "60 s", "120 s"].map((title, k) => ({ title, scene: square(() => k) })),
      color: { ...color, max: 2 },
    };
    const titles = drawn(p).words.filter(([w]) => w.endsWith(" s"));
    expect(titles.map(([w]) => w)).toEqual(["0 s", "60 s", "120 s"]);
    expect(new Set(titles.map(([, x, y]) => `${x} ${y}`)).size).toBe(3);
    expect(
      drawn({ ...p, frames: true }, 1)
        .words.filter(([w]) => w.endsWith(" s"))
        .map(([w]) => w),
    ).toEqual(["60 s"]);
  });
});

describe("the scene of a view's table", () => {
  const { triangle, edge, rim, grid } = viewPart;
  const parts = [triangle, triangle, triangle, edge, edge, rim, rim, grid, grid];
  const columns = (extra: Parameters<typeof makeTable>[0]): ReturnType<typeof makeTable> =>
    makeTable([
      numberColumn("part", "1", parts),
      ...["x", "y", "z"].map((n, d) =>
        numberColumn(
          n,
          "m",
          parts.map((_, k) => 10 * k + d),
        ),
      ),
      numberColumn(
        "value",
        "K",
        parts.map((p, k) => (p === triangle ? k : Number.NaN)),
      ),
      ...extra,
    ]);
  it("has its triangles, edges and rim; vectors where there are some", () => {
    const plain = sceneOf(columns([]));
    expect(Array.from(plain.triangles)).toEqual([0, 1, 2, 10, 11, 12, 20, 21, 22]);
    expect(Array.from(plain.values)).toEqual([0, 1, 2]);
    expect([Array.from(plain.edges), Array.from(plain.rim)]).toEqual([
      [30, 31, 32, 40, 41, 42],
      [50, 51, 52, 60, 61, 62],
    ]);
    expect(plain.grid).toBeUndefined();
    const more = (name: string, last: readonly number[]): ReturnType<typeof numberColumn> =>
      numberColumn(
        name,
        "1",
        parts.map((_, k) => last[k - 7] ?? Number.NaN),
      );
    const vectors = sceneOf(
      columns([more("ux", [1, 2]), more("uy", [3, 4]), more("uz", [5, 6]), more("i", [0, 1]), more("j", [0, 0])]),
    );
    expect(vectors.grid).toMatchObject({ nx: 2, ny: 1 });
    expect(Array.from(vectors.grid!.vectors)).toEqual([1, 3, 5, 2, 4, 6]);
    expect(Array.from(vectors.grid!.places)).toEqual([70, 71, 72, 80, 81, 82]);
  });
  it("is none of another table", () => {
    expect(() => sceneOf(makeTable([textColumn("part", [])]))).toThrow("a picture draws what field.surface(…) gives");
  });
});
