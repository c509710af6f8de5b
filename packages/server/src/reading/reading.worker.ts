import fs from "node:fs";
import { decimate } from "@oxtrum/core/charts";
import { countRoom, NoRoom } from "@oxtrum/core/formats";
import {
  convertValues,
  direction,
  displayUnit,
  numbers,
  risingAlong,
  UnitError,
  type Table,
} from "@oxtrum/core/tables";
import { archiveJob, scanStudy, studyTypes, tableSlice, unpackValue, verifyManifest, type Value } from "@oxtrum/engine";
import { wireOf } from "../jobs/wire.js";
import { answerQuestions } from "../threads/answer.js";
import type { Curve, ReadingQuestion, ScanAnswer, SeriesAnswer } from "./questions.js";
import { TableCache } from "./table-cache.js";

/**
 * Reads for the pages: studies, tables, kept values, archives. Here, so that the server's own thread goes on answering.
 */
const tables = new TableCache();

/** Bytes of one array of a mesh file at most: a scan looks at heads, and none of these is so large. */
const MOST_ARRAY = 1e9;
countRoom((bytes) => {
  if (bytes > MOST_ARRAY)
    throw new NoRoom(`an array of ${Math.round(bytes / 1e6)} MB is too large to be looked at here`);
});

async function scan(q: ReadingQuestion & { kind: "scan" }, progress: (p: unknown) => void): Promise<ScanAnswer> {
  const began = performance.now();
  const catalogue = await scanStudy(q.folder, {
    keepIn: q.keepIn,
    onProgress: (done, total) => progress({ done, total }),
  });
  return { catalogue, types: studyTypes(q.name, catalogue), took: performance.now() - began };
}

function axisOf(table: Table): { values: Float64Array; name: string; unit: string | null } {
  if (table.axis === undefined)
    return { values: Float64Array.from({ length: table.rows }, (_, i) => i), name: "row", unit: "1" };
  const c = numbers(table, table.axis);
  return { values: c.values, name: c.name, unit: c.unit };
}

const plain = (v: number): number | null => (Number.isFinite(v) ? v : null);

/** Values on an axis that other curves have already. @throws UnitError when they cannot be drawn on it */
function onto(values: Float64Array, name: string, from: string | null, to: string | null): Float64Array {
  if (from === to) return values;
  if (from !== null && to !== null) return convertValues(values, from, to);
  const say = (unit: string | null): string => (unit === null ? "no unit" : displayUnit(unit) || "a bare number");
  throw new UnitError(`${name} has ${say(from)} here, ${say(to)} in the others`);
}

/** Listed from far to near, a curve is drawn along its axis all the same; to and fro it keeps its order. */
const drawn = (table: Table): Table => (direction(axisOf(table).values) === "falling" ? risingAlong(table) : table);

const MOST_CURVES = 200;
const SMALL = 15;

/** What the columns of numbers of a table look like. */
function curves({ place }: ReadingQuestion & { kind: "curves" }): Curve[] {
  const table = drawn(tables.get(place));
  const axis = axisOf(table);
  return table.columns
    .filter((c) => c.kind === "number" && c.name !== table.axis)
    .slice(0, MOST_CURVES)
    .map(({ name }) => {
      const { x, y } = decimate(axis.values, numbers(table, name).values, SMALL);
      return { column: name, x: Array.from(x, plain), y: Array.from(y, plain) };
    });
}

/** A column of one run along its axis, in the units of the axes it is to be drawn on. */
function series({ place, column, points, as }: ReadingQuestion & { kind: "series" }): SeriesAnswer {
  const table = drawn(tables.get(place));
  const axis = axisOf(table);
  const c = numbers(table, column);
  const to = as ?? { xName: axis.name, xUnit: axis.unit, unit: c.unit };
  if (axis.name !== to.xName && (axis.unit === null || axis.unit !== to.xUnit))
    throw new UnitError(`it runs along ${axis.name} here, along ${to.xName} in the others`);
  const x = onto(axis.values, axis.name, axis.unit, to.xUnit);
  const y = onto(c.values, column, c.unit, to.unit);
  const thin = decimate(x, y, Math.floor(points / 4));
  let low = Infinity;
  let high = -Infinity;
  for (const v of y) {
    if (!Number.isFinite(v)) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return { x: Array.from(thin.x, plain), y: Array.from(thin.y, plain), ...to, min: plain(low), max: plain(high) };
}

/** A kept value as the JSON that goes to the page. */
function value({ file, from, to, rows }: ReadingQuestion & { kind: "value" }): string {
  const v = unpackValue(fs.readFileSync(file)) as Value;
  // A chart's range is of its axis, a table's of its rows.
  if (v.kind !== "table") return JSON.stringify(wireOf(v, from, to));
  const first = from ?? 0;
  return JSON.stringify(wireOf(v, first, Math.min(to ?? 200, first + rows)));
}

answerQuestions<ReadingQuestion>((q, progress) => {
  switch (q.kind) {
    case "scan":
      return scan(q, progress);
    case "rows":
      return tableSlice(tables.get(q.place), q.from, q.to);
    case "series":
      return series(q);
    case "curves":
      return curves(q);
    case "value":
      return value(q);
    case "archive":
      fs.writeFileSync(q.into, archiveJob(q.outputs), { flag: "wx" });
      return undefined;
    case "verify":
      return verifyManifest(q.manifest, q.folders, {});
  }
});
