import path from "node:path";
import { boundaryFaces, boundsOf, trianglesOf, type Mesh } from "@oxtrum/core/mesh";
import { cornersOf, piecesOf, type Block, type Site } from "@oxtrum/core/sampling";
import type { Table } from "@oxtrum/core/tables";
import { fieldArgs, type FieldArgs } from "../operations/field-arguments.js";
import { carryOutField, chosenSteps, type FieldSource } from "../operations/field-verbs.js";
import { fieldLayout, fieldSource } from "../workers/read-fields.js";
import { fieldUnits } from "./catalogue.js";
import type { StudyDefinition } from "./definition.js";
import { inside } from "./folders.js";

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
  readonly surface: Float32Array;
  readonly edges: Float32Array;
}

function sourceOf(s: Surveyed): FieldSource {
  const locate = (relative: string): string => inside(s.folder, path.posix.join(s.run.folder, relative));
  return fieldSource(fieldLayout(s.file, locate), locate, fieldUnits(s.definition, s.run.id), s.definition.names);
}

/** What is drawn of a domain before anything is asked of it. */
export function surveyOutline(s: Surveyed): Outline {
  const source = sourceOf(s);
  return source.withStep(0, [], ({ blocks }) => {
    const surface: number[] = [];
    const edges: number[] = [];
    const boxes = blocks.filter((b) => b.mesh.pointCount > 0).map((b) => boundsOf(b.mesh.points));
    for (const b of blocks) outlineOf(b, surface, edges);
    return {
      bounds:
        boxes.length === 0
          ? []
          : boxes[0]!.map((_, k) => (k % 2 === 0 ? Math.min : Math.max)(...boxes.map((x) => x[k]!))),
      steps: source.steps.map((t) => t ?? null),
      axis: source.axis,
      surface: Float32Array.from(surface),
      edges: Float32Array.from(edges),
    };
  });
}

/** Faces that meet at less than this angle are one to the eye. */
const BEND = Math.cos((25 * Math.PI) / 180);

function outlineOf({ mesh }: Block, surface: number[], edges: number[]): void {
  const p = mesh.points;
  const faces = facesToDraw(mesh);
  const seen = new Map<string, { a: number; b: number; n: number[]; count: number }>();
  for (const f of faces) {
    for (let k = 1; k + 1 < f.length; k++)
      for (const v of [f[0]!, f[k]!, f[k + 1]!]) surface.push(p[3 * v]!, p[3 * v + 1]!, p[3 * v + 2]!);
    const n = normalOf(p, f);
    for (let k = 0; k < f.length; k++) {
      const [a, b] = [f[k]!, f[(k + 1) % f.length]!];
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      const old = seen.get(key);
      if (!old) seen.set(key, { a, b, n, count: 1 });
      else {
        old.count++;
        if (n[0]! * old.n[0]! + n[1]! * old.n[1]! + n[2]! * old.n[2]! > BEND) old.count += 100;
      }
    }
  }
  for (const { a, b, count } of seen.values())
    if (count < 100) edges.push(p[3 * a]!, p[3 * a + 1]!, p[3 * a + 2]!, p[3 * b]!, p[3 * b + 1]!, p[3 * b + 2]!);
}

function facesToDraw(mesh: Mesh): number[][] {
  if (mesh.dimension === 3) {
    const b = boundaryFaces(mesh);
    return Array.from(b.cell, (_, k) => Array.from(b.nodes.subarray(b.offsets[k], b.offsets[k + 1])));
  }
  const out: number[][] = [];
  for (let c = 0; c < mesh.cellCount; c++) {
    const type = mesh.types[c]!;
    if (type === 6 || type === 8 || type > 20)
      for (let t = trianglesOf(mesh, c), k = 0; k < t.length; k += 3) out.push(t.slice(k, k + 3)); // prettier-ignore
    else if (mesh.dimension === 2) out.push(Array.from(mesh.nodes.subarray(mesh.offsets[c], mesh.offsets[c + 1])));
  }
  return out;
}

function normalOf(p: Float64Array, f: readonly number[]): number[] {
  let [x, y, z] = [0, 0, 0];
  for (let k = 0; k < f.length; k++) {
    const [a, b] = [3 * f[k]!, 3 * f[(k + 1) % f.length]!];
    x += p[a + 1]! * p[b + 2]! - p[a + 2]! * p[b + 1]!;
    y += p[a + 2]! * p[b]! - p[a]! * p[b + 2]!;
    z += p[a]! * p[b + 1]! - p[a + 1]! * p[b]!;
  }
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
}

/** Values at a site of places, by the same code that scripts use. */
export function surveySample(s: Surveyed, asked: unknown): Table {
  return carryOutField("field.sample", fieldArgs.parse({ ...(asked as object), study: "", file: s.file }), sourceOf(s));
}

/** One row of numbers of a site: the least, the mean weighted by size and the largest of each quantity. */
export function surveyReduce(s: Surveyed, asked: unknown): Table {
  const { fields = [], ...rest } = asked as { fields?: readonly string[] };
  const reductions = Object.fromEntries(
    fields.flatMap((f) => (["min", "mean", "max"] as const).map((way) => [`${way} ${f}`, { [way]: f }])),
  );
  const args = fieldArgs.parse({ ...rest, reductions, study: "", file: s.file });
  return carryOutField("field.reduce", args, sourceOf(s));
}

/** A plane's or patches' picture: triangles with a value at each corner. */
export interface Picture {
  readonly places: Float32Array;
  readonly values: Float32Array;
  readonly unit: string | null;
}

export function surveyPicture(s: Surveyed, asked: unknown): Picture {
  const a: FieldArgs = fieldArgs.parse({ ...(asked as object), study: "", file: s.file });
  const source = sourceOf(s);
  const [column] = a.fields ?? [];
  const { step } = chosenSteps(source, a.when)[0]!;
  return source.withStep(step, [], (f) => {
    const parts = piecesOf(f, a.site as Site).filter((p) => p.pieces.corners === 3);
    const places = parts.map((p) => p.pieces.places);
    const values = parts.map((p) => cornersOf(f, p, [column!]).get(column!)!);
    return {
      places: Float32Array.from(places.flatMap((x) => Array.from(x))),
      values: Float32Array.from(values.flatMap((v) => Array.from(v.values))),
      unit: values[0]?.unit ?? null,
    };
  });
}
