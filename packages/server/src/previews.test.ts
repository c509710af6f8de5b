import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { writeFieldDefinition, writeSmallField, smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { ask, s, script, useServer, type Answer } from "./testing/use-server.js";

useServer();
beforeAll(async () => {
  await ask("POST", "/api/studies", { name: "small", folder: s.folder });
});

describe("previews", () => {
  const look = (text: string, lane = "test"): Promise<Answer> => ask("POST", "/api/previews", { text, lane });
  it("run lines on all runs, hand over what they emit, and leave nothing behind", async () => {
    const before = (await ask("GET", "/api/jobs")).json.length;
    const { json } = await look(script);
    expect(json.diagnostics).toEqual([]);
    const [peaks, air, warmest] = json.outputs;
    expect([peaks.value.kind, peaks.value.rows, peaks.runs]).toEqual(["table", 6, 6]);
    expect(air.value.chart.series).toHaveLength(6);
    expect(warmest.value.quantity.value).toBe(103);
    expect((await ask("GET", "/api/jobs")).json).toHaveLength(before);
    expect(fs.existsSync(path.join(s.data, "previews"))).toBe(false);
  });
  it("say what is wrong with a name, and with what cannot be computed", async () => {
    const wrong = await look(script.replace('"T", color', '"TT", color'));
    expect(wrong.json.diagnostics[0]).toMatchObject({ severity: "error", line: 4 });
    const few = await look(`import { study, emit, fit } from "oxtrum";
const r = study("small").runs.where({ id: "f050_d1" }).rows((run) => ({ fan: run.params.fan, peak: run.table("hall.csv").max("T") }));
emit.table("law", fit.linear(r, { y: "peak", x: "fan" }));
`);
    expect(few.json.outputs[0].failed).toMatch(/needs more than 2 points/);
  });
  it("of one lane end each other", async () => {
    const [first, second] = await Promise.all([
      look(script, "page"),
      new Promise<Answer>((done) => setTimeout(() => void look(script, "page").then(done), 100)),
    ]);
    expect(second.json.outputs).toHaveLength(3);
    expect(first.json.overtaken || first.json.outputs.length === 3).toBe(true);
  });
  it("tell which runs the rules accept", async () => {
    expect((await ask("GET", "/api/studies/small/verdicts")).json).toEqual({ rules: false });
    const file = path.join(s.folder, "oxtrum.study.json");
    const had = fs.existsSync(file) ? fs.readFileSync(file, "utf8") : undefined;
    const rule = { table: "hall.csv", value: "max(T)", below: "60 K" };
    fs.writeFileSync(file, JSON.stringify({ ...JSON.parse(had ?? "{}"), accept: { cool: rule } }));
    await ask("POST", "/api/studies/small/scan");
    const { json } = await ask("GET", "/api/studies/small/verdicts");
    const of = (name: string): unknown[] => json.table.columns.find((c: { name: string }) => c.name === name).values;
    expect(of("accepted")).toEqual(["yes", "yes", "yes", "no", "no", "no"]);
    expect(of("cool")).toEqual([51, 52, 53, 101, 102, 103]);
    expect((await ask("GET", "/api/studies/small")).json.rules).toEqual([
      { name: "cool", file: "hall.csv", value: "max(T)", limit: "below 60 K" },
    ]);
    if (had === undefined) fs.rmSync(file);
    else fs.writeFileSync(file, had);
    await ask("POST", "/api/studies/small/scan");
  });
});

describe("the survey", () => {
  const of = { run: "f100_d1", file: "fields/f" };
  const line = { kind: "line", from: [0, 0.5, 0.5], to: [2, 0.5, 0.5], count: 3 };
  const at20 = { when: { value: 20, pick: "exact" } };
  const survey = (kind: string, body: object): Promise<Answer> =>
    ask("POST", `/api/studies/surveyed/survey/${kind}`, { ...of, ...body });
  const floats = (base64: string): Float32Array =>
    new Float32Array(Uint8Array.from(Buffer.from(base64, "base64")).buffer);
  let own: SmallStudy;
  beforeAll(async () => {
    own = smallStudy();
    for (const run of ["f050_d1", "f100_d1"]) writeSmallField(own, run);
    writeFieldDefinition(own);
    await ask("POST", "/api/studies", { name: "surveyed", folder: own.folder });
  });
  afterAll(() => own.remove());

  it("outlines the domain: its surface, edges, patches and times", async () => {
    const { status, json } = await survey("outline", {});
    expect(status).toBe(200);
    expect(json).toMatchObject({
      bounds: [0, 2, 0, 1, 0, 1],
      steps: [0, 10, 20],
      axis: "time",
      axisUnit: "s",
      lengthUnit: "m",
      dimension: 3,
      cells: 1,
    });
    expect(floats(json.points)).toHaveLength(3 * 8);
    // Six faces of two triangles each, twelve edges.
    expect(Buffer.from(json.triangles, "base64")).toHaveLength(4 * 36);
    expect(Buffer.from(json.edges, "base64")).toHaveLength(4 * 24);
    const walls = (await survey("outline", { file: "walls/*.stl" })).json;
    expect(walls).toMatchObject({ dimension: 2, patches: ["floor", "roof"], steps: [null] });
  });
  it("gives values along a line, numbers of it, and pictures of planes", async () => {
    const sampled = (await survey("sample", { site: line, fields: ["T"], ...at20 })).json;
    expect(sampled.columns.find((c: { name: string }) => c.name === "T").values).toEqual([24, 26, 28]);
    const reduced = (await survey("reduce", { site: line, fields: ["T"], ...at20 })).json;
    expect(reduced.columns.map((c: { name: string; values: number[] }) => [c.name, c.values[0]])).toEqual([
      ["min T", 24],
      ["mean T", 26],
      ["max T", 28],
    ]);
    const plane = { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] };
    const picture = (await survey("picture", { site: plane, fields: ["T"], ...at20 })).json;
    const values = floats(picture.values);
    expect([Math.min(...values), Math.max(...values), picture.unit]).toEqual([22, 30, "K"]);
  });
  it("draws the sites of a script", async () => {
    const sites = [
      line,
      { kind: "points", places: [[1, 0, 0]] },
      { kind: "plane", point: [1, 0, 0], normal: [1, 0, 0] },
    ];
    fs.writeFileSync(path.join(own.folder, "places.csv"), "name,x,y,z\na,0,0,0\nb,1,1,1\n");
    const more = [
      {
        kind: "points of a table",
        table: { study: "surveyed", file: "places.csv", columns: { x: "x", y: "y", z: "z" } },
      },
      { kind: "nodes", ids: [0, 6] },
      {
        kind: "stations",
        along: "x",
        from: 0.5,
        to: 1.5,
        count: 3,
        line: { from: [0, 0, 0], to: [0, 1, 0], count: 2 },
      },
      { kind: "all" },
      { kind: "iso", field: "T", value: { value: 25, unit: "K" } },
    ];
    const others = (await survey("drawing", { sites: more })).json;
    expect(
      others.map((d: { lines: string; dots: string }) => [floats(d.lines).length / 6, floats(d.dots).length / 3]),
    ).toEqual([
      [0, 2],
      [0, 2],
      [3, 0],
      [0, 0],
      [expect.any(Number), 0],
    ]);
    const { json } = await survey("drawing", { sites });
    expect(
      json.map((d: { lines: string; dots: string }) => [floats(d.lines).length / 6, floats(d.dots).length / 3]),
    ).toEqual([
      [2, 0],
      [0, 1],
      [8, 0],
    ]);
    const found = await ask("POST", "/api/scripts/places.ts/preflight", {
      text:
        `import { study, at, emit } from "oxtrum";\nconst rake = at.line([0, 0.5, 0.5], [2, 0.5, 0.5], { ` +
        `count: 3 });\nemit.table("a", study("surveyed").runs.where({ id: "f100_d1" }).map((run) => ` +
        `run.field("fields/f").at("last").sample(rake, "T")));\n`,
    });
    expect(found.json.sites).toEqual([{ study: "surveyed", file: "fields/f", line: 3, name: "rake", site: line }]);
  });
  it("says what is wrong: a run, a time, a site, a field, a way out of the folder", async () => {
    const wrong = async (kind: string, body: object): Promise<[number, string]> => {
      const { status, json } = await survey(kind, body);
      return [status, json.error?.message ?? ""];
    };
    expect(await wrong("outline", { run: "none" })).toEqual([404, 'There is no run "none".']);
    expect((await wrong("sample", { site: line, fields: ["T"], when: { value: 7, pick: "exact" } }))[1]).toMatch(
      /no time 7/,
    );
    expect((await wrong("sample", { site: { kind: "circle" }, fields: ["T"], ...at20 }))[0]).toBe(400);
    expect((await wrong("sample", { site: line, fields: ["Temp"], ...at20 }))[1]).toMatch(/Temp/);
    expect((await wrong("outline", { file: "../../f050_d1/fields/f" }))[0]).toBe(400);
    fs.writeFileSync(path.join(own.folder, "runs/f050_d1/fields/f20.vtu"), "cut");
    expect((await wrong("sample", { run: "f050_d1", site: line, fields: ["T"], ...at20 }))[1]).toMatch(/f20\.vtu/);
    // The others go on.
    expect((await survey("outline", {})).status).toBe(200);
  });
});
