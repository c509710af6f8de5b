import { Hono } from "hono";
import type { z } from "zod";
import { HTTPException } from "hono/http-exception";
import { addStudySchema, curvesRequestSchema, rowsRequestSchema, seriesRequestSchema } from "@oxtrum/contract";
import { displayUnit, formatNumber } from "@oxtrum/core/tables";
import {
  fieldAxisUnit,
  fieldDifferences,
  logicalName,
  resolveFile,
  ruleRequests,
  scriptFiles,
  usualShape,
  type Catalogue,
} from "@oxtrum/engine";
import { valid } from "../answers.js";
import type { Previews } from "../previews/previews.js";
import type { Reading } from "../reading/reading.js";
import type { SeriesAxes } from "../reading/questions.js";
import type { Studies } from "../studies.js";

/** Fields by the names scripts use: what they hold, in how many runs, and where runs differ. */
function fieldsOf(c: Catalogue): object[] {
  const names = [...new Set(c.runs.flatMap((r) => Object.keys(r.fields)))].sort();
  return names.map((file) => {
    const all = c.runs.flatMap((r) => (Object.hasOwn(r.fields, file) ? [{ run: r.id, ...r.fields[file]! }] : []));
    const shape = c.fieldShapes[usualShape(all.map((f) => f.shape)) ?? -1];
    const steps = all.map((f) => f.steps ?? 0).sort((a, b) => a - b);
    const usual = steps[steps.length >> 1] ?? 0;
    const longest = all.find((f) => f.steps === usual);
    const own = longest?.shape === undefined ? undefined : c.fieldShapes[longest.shape];
    return {
      file: logicalName(c.definition, file),
      axis: shape?.axis ?? null,
      axisUnit: longest && own ? fieldAxisUnit(c.definition, longest.run, longest.file ?? file, own) : null,
      fields: (shape?.fields ?? []).map(({ name, on, components, unit }) => ({ name, on, components, unit })),
      blocks: shape?.blocks ?? [],
      runs: all.length,
      steps: usual,
      last: longest?.last ?? null,
      odd: all.flatMap((f) =>
        f.error !== undefined
          ? [{ run: f.run, text: f.error }]
          : f.steps !== usual
            ? [{ run: f.run, text: `${f.steps ?? 0} of ${usual} times` }]
            : f.shape !== undefined && shape !== undefined && c.fieldShapes[f.shape] !== shape
              ? fieldDifferences(c.fieldShapes[f.shape]!, shape).map((d) => ({ run: f.run, text: d.text }))
              : [],
      ),
    };
  });
}

/** What the pages need of a catalogue. */
function summary(name: string, folder: string, c: Catalogue, scannedAt: number): object {
  const files = [...scriptFiles(c)].map(([file, columns]) => {
    // A name of the definition stands for its files: who has one of them has it.
    const { paths } = resolveFile(c.definition, file);
    const held = c.runs.flatMap((r) =>
      paths
        .filter((p) => Object.hasOwn(r.files, p))
        .slice(0, 1)
        .map((p) => r.files[p]!),
    );
    const shape = held.find((f) => f.shape !== undefined)?.shape;
    return {
      file,
      columns: columns ?? null,
      runs: held.length,
      axis: shape === undefined ? null : (c.shapes[shape]!.axis ?? null),
    };
  });
  return {
    name,
    folder,
    scannedAt,
    title: c.definition.title ?? null,
    how: c.how,
    states: c.definition.states !== undefined,
    parameters: c.parameters,
    files,
    rules: ruleRequests(c.definition).map((r) => ({ name: r.name, ...ruleWords(c.definition.accept[r.name]!) })),
    beside: Object.entries(c.beside).map(([file, f]) => ({
      file,
      columns: f.shape === undefined ? null : c.shapes[f.shape]!.columns,
    })),
    fields: fieldsOf(c),
    problems: c.problems.map((p) => p.text),
    runs: c.runs.map((r) => ({ id: r.id, params: r.params, files: Object.keys(r.files).length, problems: r.problems })),
  };
}

/** A rule in words: where it previews, and what it asks. */
function ruleWords(r: Catalogue["definition"]["accept"][string]): { file: string; value: string; limit: string } {
  const say = (b: typeof r.below): string =>
    b === undefined
      ? ""
      : typeof b === "number"
        ? formatNumber(b)
        : `${formatNumber(b.value)} ${displayUnit(b.unit)}`.trim();
  const limit = [
    ...(r.below === undefined ? [] : [`below ${say(r.below)}`]),
    ...(r.above === undefined ? [] : [`above ${say(r.above)}`]),
    ...(r.within === undefined ? [] : [`within ${say(r.within[0])} to ${say(r.within[1])}`]),
  ].join(", ");
  const over = r.over === undefined ? "" : ` over the last ${say(r.over)}`;
  return { file: r.table ?? r.lines ?? "", value: `${r.value}${over}`, limit };
}

/** A study as the list of studies has it; of one that cannot be scanned, why. */
async function listed<S extends { readonly name: string }>(studies: Studies, s: S): Promise<S & object> {
  try {
    const { catalogue } = await studies.get(s.name);
    return {
      ...s,
      title: catalogue.definition.title ?? null,
      runs: catalogue.runs.length,
      parameters: catalogue.parameters.map((p) => p.name),
      problems: catalogue.runs.filter((r) => r.problems.length > 0).length,
    };
  } catch (e) {
    return { ...s, title: null, runs: 0, parameters: [], problems: 0, error: (e as Error).message };
  }
}

/** A column of many runs, thinned, in the units of the first one; a run that cannot be read says why. */
async function seriesOf(
  studies: Studies,
  reading: Reading,
  study: string,
  { file, column, runs, points }: z.infer<typeof seriesRequestSchema>,
): Promise<object[]> {
  const series: object[] = [];
  let axes: SeriesAxes | undefined;
  for (const run of runs) {
    try {
      const found = await reading.series(await studies.place(study, run, file), column, points, axes);
      axes ??= { xName: found.xName, xUnit: found.xUnit, unit: found.unit };
      series.push({ run, ...found });
    } catch (e) {
      if (!(e instanceof HTTPException)) throw e;
      series.push({ run, error: e.message });
    }
  }
  return series;
}

export function studyRoutes(studies: Studies, previews: Previews, reading: Reading): Hono {
  return (
    new Hono()
      .get("/", async (c) => {
        const list = await Promise.all((await studies.list()).map((s) => listed(studies, s)));
        return c.json(list);
      })
      .post("/", valid("json", addStudySchema), async (c) => {
        const { name, folder } = c.req.valid("json");
        await studies.add(name, folder);
        return c.json({ name }, 201);
      })
      .delete("/:name", async (c) => {
        await studies.remove(c.req.param("name"));
        return c.body(null, 204);
      })
      .get("/:name", async (c) => {
        const name = c.req.param("name");
        const folder = await studies.folder(name);
        const { catalogue, scannedAt } = await studies.get(name);
        return c.json(summary(name, folder, catalogue, scannedAt));
      })
      .post("/:name/scan", async (c) => {
        const name = c.req.param("name");
        const { catalogue, scannedAt } = await studies.get(name, true);
        return c.json(summary(name, await studies.folder(name), catalogue, scannedAt));
      })
      .get("/:name/verdicts", async (c) => {
        const found = await previews.verdicts(c.req.param("name"));
        const [table] = found?.outputs ?? [];
        const trouble =
          found?.diagnostics[0]?.message ?? table?.failed ?? found?.messages.find((m) => m.level === "error")?.text;
        return c.json({
          rules: found !== undefined,
          ...(trouble !== undefined && { trouble }),
          ...(table?.value !== undefined && { table: table.value }),
        });
      })
      // By POST, as thousands of run names are too long for an address.
      .post("/:name/series", valid("json", seriesRequestSchema), async (c) => {
        return c.json(await seriesOf(studies, reading, c.req.param("name"), c.req.valid("json")));
      })
      .get("/:name/curves", valid("query", curvesRequestSchema), async (c) => {
        const { file, run } = c.req.valid("query");
        return c.json(await reading.curves(await studies.place(c.req.param("name"), run, file)));
      })
      .get("/:name/rows", valid("query", rowsRequestSchema), async (c) => {
        const { file, run, from, to } = c.req.valid("query");
        const place = await studies.place(c.req.param("name"), run, file);
        return c.json(await reading.rows(place, from, Math.min(to, from + 1000)));
      })
  );
}
