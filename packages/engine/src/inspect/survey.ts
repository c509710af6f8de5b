import fs from "node:fs";
import path from "node:path";
import { boundsOf } from "@oxtrum/core/mesh";
import { openFile, readTextTable } from "@oxtrum/core/formats";
import {
  cornersOf,
  kindOf,
  piecesOf,
  placesOf,
  sampleSite,
  settled,
  type Block,
  type FieldAtTime,
  type Site,
} from "@oxtrum/core/sampling";
import { numbers, type Table } from "@oxtrum/core/tables";
import { fieldArgs, type FieldArgs } from "../verbs/field-arguments.js";
import type { PlacesTable } from "../verbs/sites/site-word.js";
import { placesOfTable } from "../verbs/places-of-table.js";
import { executeField, chosenSteps, type FieldSource } from "../verbs/field/index.js";
import { fieldLayout, fileOf } from "../read/field-layout.js";
import { fieldSource, type OpenStep } from "../read/read-fields.js";
import { fieldUnits } from "../definition/declared-units.js";
import { declaredTimes, type StudyDefinition } from "../definition/definition.js";
import { inside } from "../definition/folders.js";
import { openEdges, Surface, surfaceOf } from "@oxtrum/core/mesh";

/** Which field of which run is looked at. */
export interface Surveyed {
  readonly folder: string;
  readonly definition: StudyDefinition;
  readonly run: { readonly id: string; readonly folder: string };
  readonly file: string;
}

/** The outer surface of a mesh as triangles, and the edges where it bends. */
export interface Outline {
  readonly bounds: readonly number[];
  readonly steps: readonly (number | null)[];
  readonly axis: string;
  readonly axisUnit: string | null;
  readonly lengthUnit: string | null;
  readonly cells: number;
  /** Of its cells: 3 for volumes, 2 for surfaces and flat meshes, 1 for lines, 0 for clouds of points. */
  readonly dimension: number;
  readonly points: Float32Array;
  readonly triangles: Uint32Array;
  /** By triangle: which of `patches` it belongs to. */
  readonly owner: Uint16Array;
  readonly edges: Uint32Array;
  readonly patches: readonly string[];
}

/** Steps that were looked at last, still open: a site that is dragged about reads its mesh once. */
const held = new Map<string, { readonly stamp: string; readonly step: OpenStep }>();
const MOST_HELD = 4;

function sourceOf(s: Surveyed): FieldSource {
  const locate = (relative: string): string =>
    inside(s.folder, path.posix.join(s.run.folder, relative), s.definition.links);
  const layout = fieldLayout(s.file, locate, declaredTimes(s.definition, s.file));
  const units = fieldUnits(s.definition, s.run.id, fileOf(layout, s.file));
  const source = fieldSource(layout, locate, units, s.definition.names);
  const stampOf = (step: OpenStep): string =>
    [...step.names]
      .map((n) => {
        const t = fs.statSync(locate(n));
        return `${n} ${t.size} ${t.mtimeMs} ${t.ino}`;
      })
      .join("|");
  const open = (k: number): FieldAtTime => {
    const key = JSON.stringify([
      s.folder,
      s.run.folder,
      s.file,
      k,
      s.definition.units,
      s.definition.names,
      s.definition.files,
    ]);
    const known = held.get(key);
    held.delete(key);
    if (known && stampOf(known.step) === known.stamp) {
      held.set(key, known);
      return known.step.field;
    }
    known?.step.close();
    const step = source.open(k);
    held.set(key, { stamp: stampOf(step), step });
    for (const [oldest, { step: old }] of held) {
      if (held.size <= MOST_HELD) break;
      held.delete(oldest);
      old.close();
    }
    return step.field;
  };
  return { ...source, withStep: (k, derived, use) => use({ ...open(k), derived }) };
}

const outlines = new WeakMap<readonly Block[], Outline>();

/** What is drawn of a domain before anything is asked of it. */
export function surveyOutline(s: Surveyed): Outline {
  const source = sourceOf(s);
  return source.withStep(0, [], ({ blocks }) => {
    const known = outlines.get(blocks);
    if (known) return known;
    const boxes = blocks.filter((b) => b.mesh.pointCount > 0).map((b) => boundsOf(b.mesh.points));
    const surface = new Surface();
    blocks.forEach((b, k) => surfaceOf(b.mesh, surface, Math.min(k, 65535)));
    const made: Outline = {
      bounds:
        boxes.length === 0
          ? []
          : boxes[0]!.map((_, k) => (k % 2 === 0 ? Math.min : Math.max)(...boxes.map((x) => x[k]!))),
      steps: source.steps.map((t) => t ?? null),
      axis: source.axis,
      axisUnit: source.unit,
      lengthUnit: source.lengthUnit,
      dimension: Math.max(0, ...blocks.map((b) => b.grid.dimension())),
      cells: blocks.reduce((n, b) => n + b.grid.cells, 0),
      ...surface.done(),
      patches: blocks.map((b) => b.name),
    };
    outlines.set(blocks, made);
    return made;
  });
}

const argsOf = (s: Surveyed, asked: object): FieldArgs => fieldArgs.parse({ ...asked, study: "", file: s.file });

/** Values at a site of places, by the same code that scripts use. */
export function surveySample(s: Surveyed, asked: object): Table {
  return executeField("field.sample", argsOf(s, asked), sourceOf(s));
}

/** One row of numbers of a site: the least, the mean weighted by size and the largest of each quantity. */
export function surveyReduce(s: Surveyed, asked: object): Table {
  const { fields = [], ...rest } = asked as { fields?: readonly string[] };
  const reductions = Object.fromEntries(
    fields.flatMap((f) => (["min", "mean", "max"] as const).map((way) => [`${way} ${f}`, { [way]: f }])),
  );
  return executeField("field.reduce", argsOf(s, { ...rest, reductions }), sourceOf(s));
}

/** A plane's or patches' picture: triangles with a value at each corner. */
export interface Picture {
  readonly places: Float32Array;
  readonly values: Float32Array;
  readonly unit: string | null;
}

function joined(parts: readonly Float64Array[]): Float32Array {
  const out = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}

/**
 * The picture of a site of area; on flat meshes a site that is all of it, or a plane along it, gives the whole mesh.
 */
export function surveyPicture(s: Surveyed, asked: object): Picture {
  const a = argsOf(s, asked);
  const source = sourceOf(s);
  const [column] = a.fields ?? [];
  const { step } = chosenSteps(source, a.when)[0]!;
  return source.withStep(step, [], (f) => {
    const parts = piecesOf(f, a.site as Site).filter((p) => p.pieces.corners === 3);
    const values = parts.map((p) => cornersOf(f, p, [column!]).get(column!)!);
    return {
      places: joined(parts.map((p) => p.pieces.places)),
      values: joined(values.map((v) => v.values)),
      unit: values[0]?.unit ?? null,
    };
  });
}

/** How a site looks: lines between pairs of places, and single places. */
export interface Drawing {
  readonly lines: Float32Array;
  readonly dots: Float32Array;
}

const MOST_DOTS = 5000;

/** Draws sites as a script has them: lines and paths as lines, places as dots, planes and patches by their edges. */
export function surveyDrawing(s: Surveyed, asked: { readonly sites: readonly object[] }): Drawing[] {
  const source = sourceOf(s);
  return source.withStep(source.steps.length - 1, [], (f) =>
    asked.sites.map((site) => drawn(f, s, argsOf(s, { site }))),
  );
}

const nothing = new Float32Array(0);

function drawn(f: FieldAtTime, s: Surveyed, a: FieldArgs): Drawing {
  if (a.site === undefined) return { lines: nothing, dots: nothing };
  const site = settled(f, a.site.kind === "points of a table" ? tabled(f, s, a.site.table) : a.site);
  const line = (xyz: Float64Array): number[] => {
    const out: number[] = [];
    for (let i = 0; i + 5 < xyz.length; i += 3) out.push(...xyz.subarray(i, i + 6));
    return out;
  };
  const places = placesOf(site);
  if (places?.distance) return { lines: Float32Array.from(line(places.xyz)), dots: nothing };
  if (places) return { lines: nothing, dots: Float32Array.from(places.xyz.subarray(0, 3 * MOST_DOTS)) };
  const kind = kindOf(site);
  if (kind.picture?.skin) return { lines: nothing, dots: nothing };
  if (kind.numbered) {
    const { ids } = site as { readonly ids: readonly number[] };
    const t = sampleSite(f, { ...site, ids: ids.slice(0, MOST_DOTS) } as Site, []);
    const xyz = ["x", "y", "z"].map((d) => numbers(t, d).values);
    return {
      lines: nothing,
      dots: Float32Array.from({ length: 3 * t.rows }, (_, i) => xyz[i % 3]![Math.floor(i / 3)]!),
    };
  }
  const lines = kind.lines?.(site);
  if (lines) return { lines: Float32Array.from(lines.flatMap((l) => line(placesOf(l.line)!.xyz))), dots: nothing };
  return { lines: Float32Array.from(piecesOf(f, site).flatMap((p) => Array.from(openEdges(p.pieces)))), dots: nothing };
}

/** The places that a table beside the runs holds. */
function tabled(f: FieldAtTime, s: Surveyed, t: PlacesTable): Site {
  const source = openFile(inside(s.folder, t.file, s.definition.links), t.file);
  try {
    return placesOfTable(readTextTable(source).table, t.columns, f.lengthUnit);
  } finally {
    source.close();
  }
}
