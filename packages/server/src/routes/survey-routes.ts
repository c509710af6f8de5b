import { Hono } from "hono";
import { drawingRequestSchema, outlineRequestSchema, surveyRequestSchema } from "@oxtrum/contract";
import { valid } from "../answers.js";
import { resolveFile, type Surveyed } from "@oxtrum/engine";
import { problem } from "../store/problem.js";
import type { Studies } from "../studies.js";
import type { Surveyor } from "../survey/surveyor.js";

export function surveyRoutes(studies: Studies, surveyor: Surveyor): Hono {
  const surveyedOf = async (name: string, run: string, file: string): Promise<Surveyed> => {
    const { catalogue } = await studies.get(name);
    const found = catalogue.runs.find((r) => r.id === run);
    if (!found) throw problem(404, `There is no run "${run}".`);
    const [path] = resolveFile(catalogue.definition, file).paths;
    return {
      folder: catalogue.folder,
      definition: catalogue.definition,
      run: { id: found.id, folder: found.folder },
      file: path!,
    };
  };
  const answer = (question: Parameters<Surveyor["ask"]>[0]): Promise<unknown> => surveyor.ask(question);
  // Arrays of numbers travel as their bytes, little end first: half the size, and no digits to read.
  const json = (v: unknown): string =>
    JSON.stringify(v, (_, x: unknown) =>
      ArrayBuffer.isView(x) ? Buffer.from(x.buffer, x.byteOffset, x.byteLength).toString("base64") : x,
    );
  const type = { "content-type": "application/json" };
  return new Hono()
    .post("/:name/survey/outline", valid("json", outlineRequestSchema), async (c) => {
      const { run, file } = c.req.valid("json");
      const value = await answer({ kind: "outline", surveyed: await surveyedOf(c.req.param("name"), run, file) });
      return c.body(json(value), 200, type);
    })
    .post("/:name/survey/drawing", valid("json", drawingRequestSchema), async (c) => {
      const { run, file, sites } = c.req.valid("json");
      const surveyed = await surveyedOf(c.req.param("name"), run, file);
      return c.body(json(await answer({ kind: "drawing", surveyed, asked: { sites } })), 200, type);
    })
    .post("/:name/survey/:kind{picture|sample|reduce}", valid("json", surveyRequestSchema), async (c) => {
      const { run, file, ...rest } = c.req.valid("json");
      const kind = c.req.param("kind") as "picture" | "sample" | "reduce";
      const value = await answer({ kind, surveyed: await surveyedOf(c.req.param("name"), run, file), asked: rest });
      return c.body(json(value), 200, type);
    });
}
