import { z } from "zod";
import { dictionary } from "../dictionary.js";
import {
  cameras,
  sceneOf,
  type Camera,
  type DrawnSite,
  type PictureDescription,
  type PicturePanel,
} from "@oxtrum/core/pictures";
import { directionsIn, placesOf } from "@oxtrum/core/sampling";
import { numbers, type UnitSymbol } from "@oxtrum/core/tables";
import * as t from "@oxtrum/core/tables";
import { boundArg, boundIn, tableOf } from "./arguments.js";
import { siteArg } from "./field-arguments.js";
import type { AskedSite } from "./sites/site-word.js";
import { operation, type Operation } from "./operation.js";
import { leftOut } from "./run-verbs.js";
import { mergeExcluded, Mistake, type ExcludedRun, type Outcome } from "./values.js";

const three = z.tuple([z.number(), z.number(), z.number()]);
const pictureArgs = z.object({
  /** A run's name for each input, where it belongs to one. */
  runs: z.array(z.string().nullable()),
  missing: z.array(z.object({ run: z.string(), reason: z.string() })),
  options: z.object({
    title: z.string().optional(),
    subtitle: z.string().optional(),
    titles: z.array(z.string()).optional(),
    columns: z.number().int().min(1).max(12).optional(),
    frames: z.boolean().optional(),
    range: z.union([z.tuple([boundArg, boundArg]), z.literal("own")]).optional(),
    steps: z.number().int().min(2).max(64).optional(),
    camera: z.union([z.string(), z.object({ from: three, up: three.optional() }).strict()]).optional(),
    contours: z.union([z.number().int().min(1).max(100), z.array(boundArg)]).optional(),
    arrows: z.boolean().optional(),
    streamlines: z.boolean().optional(),
    mesh: z.boolean().optional(),
    sites: dictionary(siteArg).optional(),
    size: z.unknown().optional(),
    resolution: z.unknown().optional(),
  }),
});

const MOST_PANELS = 400;

/** Where the eye stands: as asked for, else square to the plane that is shown, else isometric. */
function cameraOf(
  asked: string | { from: [number, number, number]; up?: [number, number, number] | undefined } | undefined,
  panels: readonly PicturePanel[],
): Camera {
  if (typeof asked === "string") {
    const known = cameras[asked];
    if (!known)
      throw new Mistake(
        `camera "${asked}": there is ${Object.keys(cameras)
          .map((c) => `"${c}"`)
          .join(", ")}, or { from: [x, y, z], up: [x, y, z] }`,
      );
    return known;
  }
  if (asked) return { from: asked.from, up: asked.up ?? [0, 0, 1] };
  const first = panels.find((p) => p.scene.triangles.length > 0)?.scene;
  if (first && first.edges.length === 0) {
    const { triangles: p } = first;
    let normal: number[] = [];
    // The largest of some triangles says best which way the plane looks.
    for (let k = 0, best = 0; k < Math.min(p.length, 9 * 500); k += 9) {
      const e = (i: number, d: number): number => p[k + 3 * i + d]! - p[k + d]!;
      const n = [0, 1, 2].map((d) => e(1, (d + 1) % 3) * e(2, (d + 2) % 3) - e(1, (d + 2) % 3) * e(2, (d + 1) % 3));
      const size = Math.hypot(n[0]!, n[1]!, n[2]!);
      if (size > best) [best, normal] = [size, n.map((v) => v / size)];
    }
    if (normal.length === 3) {
      const [right, up] = directionsIn(normal);
      const from = [0, 1, 2].map(
        (d) => right[(d + 1) % 3]! * up[(d + 2) % 3]! - right[(d + 2) % 3]! * up[(d + 1) % 3]!,
      ) as [number, number, number];
      return { from, up: [up[0]!, up[1]!, up[2]!] };
    }
  }
  return cameras["isometric"]!;
}

function sitesOf(asked: Readonly<Record<string, AskedSite>> | undefined): DrawnSite[] {
  return Object.entries(asked ?? {}).map(([name, site]) => {
    const places = site.kind === "points of a table" ? undefined : placesOf(site);
    if (!places) throw new Mistake(`site "${name}": points, lines, paths and grids are drawn; a ${site.kind} is not`);
    return { name, places: places.xyz, joined: places.distance !== undefined };
  });
}

type PictureArgs = z.infer<typeof pictureArgs>;

/** What panels have in common: units of the first one, into which the others are converted. */
interface PanelUnits {
  readonly value: UnitSymbol;
  readonly length: UnitSymbol;
  readonly label: string | undefined;
}

/** A view in the units of the first one. @throws TableError where it has none in them */
function inUnitsOf(first: PanelUnits, view: t.Table): t.Table {
  let out = view;
  for (const [what, names, wanted] of [
    ["values", ["value"], first.value],
    ["lengths", ["x", "y", "z"], first.length],
  ] as const) {
    const { unit } = numbers(view, names[0]);
    if (unit === wanted) continue;
    const say = (u: UnitSymbol): string => (u === null ? "no unit" : `the unit ${t.displayUnit(u) || "1"}`);
    if (unit === null || wanted === null)
      throw new t.TableError(`its ${what} have ${say(unit)}, and ${say(wanted)} in the first panel`);
    out = t.convertColumns(out, names, wanted);
  }
  return out;
}

/** The panels of all views that came, their units, and the runs that they show or leave out. */
function panelsOf(
  { runs, missing, options: o }: PictureArgs,
  inputs: readonly Outcome[],
): { panels: PicturePanel[]; units: PanelUnits; left: ExcludedRun[]; runs: string[] } {
  const left: ExcludedRun[] = [...missing];
  const panels: PicturePanel[] = [];
  const names = new Set<string>();
  let units: PanelUnits = { value: null, length: null, label: undefined };
  inputs.forEach((input, k) => {
    const run = runs[k] ?? undefined;
    if (input.kind === "failure") {
      if (run === undefined) throw new Mistake(input.reason);
      left.push(leftOut(run, input));
      return;
    }
    left.push(...(input.left ?? []));
    let view = tableOf(input);
    const value = numbers(view, "value");
    if (panels.length === 0) units = { value: value.unit, length: numbers(view, "x").unit, label: value.label };
    try {
      view = inUnitsOf(units, view);
    } catch (e) {
      if (run === undefined) throw new Mistake((e as Error).message);
      left.push({ run, reason: (e as Error).message });
      return;
    }
    if (run !== undefined) names.add(run);
    const title = o.titles?.[k] ?? run;
    panels.push({ ...(title !== undefined && { title }), scene: sceneOf(view) });
  });
  if (panels.length > MOST_PANELS)
    throw new Mistake(`a picture of ${panels.length} panels; ${MOST_PANELS} are the most: choose some of the runs`);
  return { panels, units, left: mergeExcluded(left), runs: [...names] };
}

/** The scale of colour: the asked range, or that of all panels' values. */
function rangeOf(
  asked: PictureArgs["options"]["range"],
  unit: UnitSymbol,
  panels: readonly PicturePanel[],
): [min: number, max: number] {
  if (Array.isArray(asked)) {
    const [min, max] = asked.map((b) => boundIn(b, unit, "range")) as [number, number];
    if (!(min < max)) throw new Mistake(`range from ${min} to ${max}: the second has to be larger`);
    return [min, max];
  }
  let [min, max] = [Infinity, -Infinity];
  for (const p of panels)
    for (const v of p.scene.values) {
      if (!Number.isFinite(v)) continue;
      if (v < min) min = v;
      if (v > max) max = v;
    }
  return [min, max];
}

/** Panels with infinite values: they are grey, as missing ones are, which alone would not tell them apart. */
const infiniteIn = (panels: readonly PicturePanel[], what: string | undefined): t.Condition[] =>
  panels.flatMap(({ title, scene: { values } }): t.Condition[] => {
    const n = values.reduce((sum, v) => sum + (v === Infinity || v === -Infinity ? 1 : 0), 0);
    const text = `${n} of ${values.length} corners of "${what ?? "value"}" ${n === 1 ? "is" : "are"} not drawn: infinite`;
    return n === 0 ? [] : [{ kind: "not drawn", file: "", text, ...(title !== undefined && { run: title }) }];
  });

/** Puts views together: panels of runs or times, on one scale of colour, seen from one place. */
export const pictureOperation: Operation = operation({
  name: "picture",
  version: 2,
  args: pictureArgs,
  takesFailures: true,
  run: (args, inputs) => {
    const o = args.options;
    const { panels, units, left, runs } = panelsOf(args, inputs);
    const camera = cameraOf(o.camera, panels);
    const [min, max] = rangeOf(o.range, units.value, panels);
    const colored = units.label !== undefined && min <= max;
    const contours =
      o.contours === undefined
        ? []
        : typeof o.contours === "number"
          ? levels(min, max, o.contours)
          : o.contours.map((b) => boundIn(b, units.value, "contours"));
    if (
      (o.arrows === true || o.streamlines === true) &&
      panels.some((p) => p.scene.triangles.length > 0) &&
      panels.every((p) => !p.scene.grid)
    )
      throw new Mistake('arrows and streamlines need a vector: add vectors: "…" to .surface');
    const some = panels.some((p) => p.scene.grid);
    const picture: PictureDescription = {
      ...(o.title !== undefined && { title: o.title }),
      ...(o.subtitle !== undefined && { subtitle: o.subtitle }),
      panels: panels.length === 1 && o.titles === undefined ? panels.map(({ scene }) => ({ scene })) : panels,
      ...(o.columns !== undefined && { columns: o.columns }),
      ...(o.frames === true && { frames: true }),
      ...(colored && {
        color: { title: units.label!, unit: units.value, min, max, ...(o.steps !== undefined && { steps: o.steps }) },
      }),
      ...(o.range === "own" && { ownRange: true }),
      camera,
      contours,
      arrows: o.arrows ?? (some && o.streamlines !== true),
      streamlines: o.streamlines === true,
      mesh: o.mesh === true,
      sites: sitesOf(o.sites),
      lengthUnit: units.length,
    };
    const conditions = infiniteIn(panels, units.label);
    return { kind: "picture", picture, left, runs, ...(conditions.length > 0 && { conditions }) };
  },
});

/** Even levels within a range, not at its ends. */
function levels(min: number, max: number, count: number): number[] {
  if (!(min < max)) return [];
  return Array.from({ length: count }, (_, k) => min + ((k + 1) * (max - min)) / (count + 1));
}
