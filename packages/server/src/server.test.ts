import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "@jest/globals";
import { unzipSync } from "fflate";
import { jobRequestSchema, runJob } from "@oxtrum/engine";
import { bytesOf } from "@oxtrum/engine/testing";
import { makeServer } from "./app.js";
import { ask, ended, host, s, script, server, useServer } from "./testing/use-server.js";

useServer();

describe("studies", () => {
  it("are added by folder, scanned and described", async () => {
    expect((await ask("POST", "/api/studies", { name: "small", folder: s.folder })).status).toBe(201);
    const { json } = await ask("GET", "/api/studies/small");
    expect(json.runs).toHaveLength(6);
    expect(json.parameters.map((p: { name: string; unit: string }) => [p.name, p.unit])).toEqual([
      ["fan", "%"],
      ["door", "s"],
      ["kind", null],
    ]);
    expect(json.files.find((f: { file: string }) => f.file === "hall.csv")).toMatchObject({ runs: 6, axis: "time" });
  });
  it.each([
    ["a folder that is not there", { name: "x", folder: "/nowhere" }, 400, /There is no folder \/nowhere/],
    ["a name that cannot be one", { name: "../x", folder: "." }, 400, /letters, digits/],
    ["a name that is taken", { name: "small", folder: "." }, 409, /already/],
    ["the whole disk", { name: "disk", folder: "/" }, 400, /whole disk/],
    ["no folder", { name: "x" }, 400, /folder/],
  ])("are refused: %s", async (_, body, status, message) => {
    const r = await ask("POST", "/api/studies", body);
    expect(r.status).toBe(status);
    expect(r.text).toMatch(message);
  });
  it("give series of several runs in one unit, thinned, with what is missing said", async () => {
    const runs = ["f050_d1", "f100_d3", "none"];
    const { json } = await ask("POST", "/api/studies/small/series", {
      file: "hall.csv",
      column: "T",
      runs,
      points: 40,
    });
    expect(json).toHaveLength(3);
    expect(json[0]).toMatchObject({ run: "f050_d1", xName: "time", xUnit: "s", unit: "K", max: 51 });
    expect(json[0].x.length).toBeLessThanOrEqual(44);
    expect(json[2].error).toMatch(/no run "none"/);
  });
  it("show what the columns of a table look like, all at once", async () => {
    const of = (file: string, run: string): ReturnType<typeof ask> =>
      ask("GET", `/api/studies/small/curves?${new URLSearchParams({ file, run }).toString()}`);
    const { json } = await of("hall.csv", "f050_d1");
    const curves = json as { column: string; x: number[]; y: number[] }[];
    // All columns of numbers but the axis, with the values that they range over.
    const { json: rows } = await ask("GET", "/api/studies/small/rows?file=hall.csv&run=f050_d1&from=0&to=1000");
    const { columns } = rows as { columns: { name: string; values: number[] }[] };
    expect(curves.map((c) => c.column)).toEqual(columns.map((c) => c.name).filter((n) => n !== "time"));
    for (const { column, x, y } of curves) {
      const { values } = columns.find((c) => c.name === column)!;
      expect([column, Math.min(...y), Math.max(...y)]).toEqual([column, Math.min(...values), Math.max(...values)]);
      expect([x.length, x]).toEqual([y.length, [...x].sort((a, b) => a - b)]);
      expect(y.length).toBeLessThanOrEqual(60);
    }
    expect((await of("none.csv", "f050_d1")).text).toMatch(/there is no none\.csv in this run/);
    expect((await of("hall.csv", "none")).status).toBe(404);
  });
  it("put every curve on the axes of the first, or say why it cannot be", async () => {
    const folder = path.join(s.data, "mixed");
    const put = (run: string, text: string): void => {
      fs.mkdirSync(path.join(folder, run), { recursive: true });
      fs.writeFileSync(path.join(folder, run, "m.csv"), text);
    };
    put("r1", "time [min],T [K]\n0,300\n1,310\n");
    put("r2", "time [s],T [degC]\n0,26.85\n60,36.85\n");
    put("r3", "time [s],T\n0,300\n60,310\n");
    put("r4", "step,T [K]\n0,300\n60,310\n");
    expect((await ask("POST", "/api/studies", { name: "mixed", folder })).status).toBe(201);
    const runs = ["r1", "r2", "r3", "r4"];
    const { json } = await ask("POST", "/api/studies/mixed/series", { file: "m.csv", column: "T", runs });
    expect(json[1]).toMatchObject({ xUnit: "min", unit: "K", x: json[0].x });
    json[1].y.forEach((v: number, i: number) => expect(v).toBeCloseTo(json[0].y[i], 9));
    expect(json[2].error).toMatch(/T has no unit here, K in the others/);
    expect(json[3].error).toMatch(/runs along step here, along time in the others/);
    await ask("DELETE", "/api/studies/mixed");
  });
  it("count the runs that have one of the files that a name stands for", async () => {
    const folder = path.join(s.data, "named");
    const put = (file: string, text: string): void => {
      fs.mkdirSync(path.dirname(path.join(folder, file)), { recursive: true });
      fs.writeFileSync(path.join(folder, file), text);
    };
    for (const f of ["r1/a.csv", "r2/a.csv", "r2/b.csv"]) put(f, "time [s],T [K]\n0,300\n60,310\n");
    put("oxtrum.study.json", JSON.stringify({ oxtrum: 1, files: { both: { path: ["a.csv", "b.csv"] } } }));
    await ask("POST", "/api/studies", { name: "named", folder });
    const { json } = await ask("GET", "/api/studies/named");
    const told = json.files.map((f: { file: string; runs: number; axis: string }) => [f.file, f.runs, f.axis]);
    expect(told).toEqual([
      ["both", 2, "time"],
      ["a.csv", 2, "time"],
      ["b.csv", 1, "time"],
    ]);
    await ask("DELETE", "/api/studies/named");
  });
  it("give rows of a table", async () => {
    const { json } = await ask("GET", "/api/studies/small/rows?file=hall.csv&run=f050_d1&from=1&to=3");
    expect(json.rows).toBe(101);
    expect(json.columns.map((c: { values: number[] }) => c.values)).toEqual([
      [1, 2],
      [1.5, 2],
      [1, 1],
    ]);
  });
  it("let nothing outside their folder be read", async () => {
    fs.writeFileSync(path.join(s.folder, "../secret.csv"), "time,x\n0,1\n1,2\n");
    fs.symlinkSync(path.join(s.folder, "../secret.csv"), path.join(s.folder, "runs/f050_d1/link.csv"));
    for (const file of ["../../../secret.csv", "link.csv", "/etc/passwd"]) {
      const { json } = await ask("POST", "/api/studies/small/series", { column: "x", runs: ["f050_d1"], file });
      expect(json[0].error).toMatch(/outside|no such|has no|leads out/i);
      expect(
        (await ask("GET", `/api/studies/small/rows?file=${encodeURIComponent(file)}&run=f050_d1&from=0&to=3`)).status,
      ).toBeGreaterThanOrEqual(400);
    }
    fs.rmSync(path.join(s.folder, "runs/f050_d1/link.csv"));
  });
});

describe("who may call", () => {
  it("is asked by name, so that no web page reaches the server by another one", async () => {
    expect((await ask("GET", "/api/studies", undefined, { host: "evil.example" })).status).toBe(403);
    expect((await ask("POST", "/api/studies", {}, { origin: "http://evil.example" })).status).toBe(403);
  });
  it("needs the token where there is one", async () => {
    const other = await makeServer({ dataFolder: path.join(s.data, "other"), hosts: ["*"], token: "0123456789abcdef" });
    expect((await other.app.request("/api/studies", { headers: host })).status).toBe(401);
    const good = { headers: { ...host, authorization: "Bearer 0123456789abcdef" } };
    expect((await other.app.request("/api/studies", good)).status).toBe(200);
    other.close();
  });
  it("gets a plain answer for what is not there", async () => {
    expect((await ask("GET", "/api/nothing")).status).toBe(404);
    expect((await ask("GET", "/api/jobs/99")).json.error).toEqual({
      code: "not found",
      message: "There is no job 99.",
    });
    expect((await ask("GET", "/api/jobs/x")).status).toBe(400);
    expect((await ask("GET", "/api/scripts/none.ts")).status).toBe(404);
  });
});

describe("scripts", () => {
  it("keep every text as a revision, an unchanged one once", async () => {
    for (const text of ["// 1\n", "// 2\n", "// 2\n"]) await ask("PUT", "/api/scripts/a.ts", { text });
    const { json } = await ask("GET", "/api/scripts/a.ts/revisions");
    expect(json.map((r: { number: number }) => r.number)).toEqual([2, 1]);
    expect((await ask("GET", "/api/scripts/a.ts/revisions/1")).json.text).toBe("// 1\n");
    expect((await ask("GET", "/api/scripts/a.ts/revisions/7")).status).toBe(404);
  });
  it("are renamed, never onto another one, and removed", async () => {
    await ask("PUT", "/api/scripts/b.ts", { text: "" });
    expect((await ask("POST", "/api/scripts/b.ts/rename", { to: "a.ts" })).status).toBe(409);
    expect((await ask("POST", "/api/scripts/b.ts/rename", { to: "../c.ts" })).status).toBe(400);
    expect((await ask("POST", "/api/scripts/b.ts/rename", { to: "c.ts" })).status).toBe(204);
    expect((await ask("DELETE", "/api/scripts/c.ts")).status).toBe(204);
    expect((await ask("GET", "/api/scripts")).json.map((x: { name: string }) => x.name)).toEqual(["a.ts"]);
  });
  it("are checked against the registered studies, with gaps", async () => {
    fs.rmSync(path.join(s.folder, "runs/f100_d2/extra.csv"));
    await ask("POST", "/api/studies/small/scan");
    const text = 'import { study } from "oxtrum";\nstudy("small").runs.map((run) => run.table("extra.csv").max("Q"));';
    const { json } = await ask("POST", "/api/scripts/a.ts/check", { text });
    expect(json.diagnostics.map((d: { severity: string; message: string }) => [d.severity, d.message])).toEqual([
      ["warning", '"extra.csv" is not in 1 of 6 runs (f100_d2): excluded here'],
      ["error", expect.stringContaining('Did you mean "q"?')],
    ]);
    const done = await ask("POST", "/api/scripts/a.ts/complete", { text, offset: text.length - 4 });
    expect(done.json.entries.map((e: { label: string }) => e.label)).toEqual(expect.arrayContaining(["q", "time"]));
    const hover = await ask("POST", "/api/scripts/a.ts/hover", { text, offset: text.indexOf("max(") });
    expect(hover.json.documentation).toMatch(/largest value/);
  });
  it("say before a run what they ask of which run", async () => {
    const text =
      'import { study, emit } from "oxtrum";\nemit.table("q", study("small").runs.rows((run) => ({ q: ' +
      'run.table("extra.csv").max("q") })));';
    const { json } = await ask("POST", "/api/scripts/a.ts/preflight", { text });
    expect(json.asked).toHaveLength(6);
    expect(json.asked.filter((a: { missing?: string }) => a.missing !== undefined)).toEqual([
      { run: "f100_d2", file: "extra.csv", line: 2, missing: "there is no extra.csv in this run" },
    ]);
  });
});

describe("jobs", () => {
  it("run to outputs, values, files, a zip and a verified manifest", async () => {
    const start = await ask("POST", "/api/jobs", { script: "peaks.ts", text: script, mode: "run" });
    expect(start.status).toBe(201);
    const id = start.json.id as number;
    const job = await ended(id);
    expect([job.state, job.exit, job.revision]).toEqual(["done", 0, 1]);
    expect(job.live.outputs.map((o: { name: string }) => o.name)).toEqual(["peaks", "air", "warmest"]);
    expect(Object.keys(job.live.cells)).toHaveLength(6);
    const csv = await ask("GET", `/api/jobs/${id}/files/peaks.csv`);
    expect(csv.text.split("\n")[1]).toBe("f050_d1,50,51");
    const table = await ask("GET", `/api/jobs/${id}/values/peaks?from=2&to=4`);
    expect(table.json.columns[0].values).toEqual(["f050_d3", "f100_d1"]);
    expect((await ask("GET", `/api/jobs/${id}/values/air`)).json.chart.series).toHaveLength(6);
    expect((await ask("GET", `/api/jobs/${id}/values/none`)).status).toBe(404);
    expect((await ask("GET", `/api/jobs/${id}/files/..%2f..%2foxtrum.db`)).status).toBeGreaterThanOrEqual(400);
    const zip = await server.app.request(`/api/jobs/${id}/zip`, { headers: host });
    expect(Object.keys(unzipSync(new Uint8Array(await zip.arrayBuffer()))).sort()).toEqual([
      "README.txt",
      "manifest.json",
      ...["air.png", "air.svg", "index.html", "outputs.json", "peaks.csv", "warmest.json"].map((f) => `outputs/${f}`),
      "script/peaks.ts",
      "studies/small/oxtrum.study.json",
    ]);
    expect((await ask("POST", `/api/jobs/${id}/verify`)).json.same).toBe(true);
    // The same script with no server: the same bytes, the manifest's included.
    await runJob(
      jobRequestSchema.parse({
        files: { "peaks.ts": script },
        main: "peaks.ts",
        studies: [{ name: "small", folder: s.folder }],
        dataFolder: path.join(s.data, "alone"),
        outFolder: s.out("alone"),
        workers: 1,
      }),
      () => undefined,
    );
    expect(bytesOf(s.out("alone"))).toEqual(bytesOf(path.join(s.data, "jobs", String(id), "outputs")));
  });
  it("that cannot be checked fail with their errors and make nothing", async () => {
    const { json } = await ask("POST", "/api/jobs", {
      script: "bad.ts",
      text: 'import { study } from "oxtrum";\nstudy("smal");',
      mode: "run",
    });
    expect([json.state, json.exit]).toEqual(["failed", 1]);
    const job = (await ask("GET", `/api/jobs/${json.id}`)).json;
    expect(job.live.diagnostics[0].message).toMatch(/Did you mean "small"/);
    expect((await ask("GET", `/api/jobs/${json.id}/zip`)).status).toBe(404);
  });
  it("run one after the other; one that waits can be taken away, a running one stopped", async () => {
    const text = 'import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");\n';
    const a = (await ask("POST", "/api/jobs", { script: "endless.ts", text, mode: "run" })).json.id as number;
    const b = (await ask("POST", "/api/jobs", { script: "endless.ts", text, mode: "run" })).json.id as number;
    expect((await ask("GET", `/api/jobs/${b}`)).json.state).toBe("waiting");
    await ask("POST", `/api/jobs/${b}/stop`);
    expect((await ended(b)).state).toBe("stopped");
    await ask("POST", `/api/jobs/${a}/stop`);
    expect((await ended(a)).state).toBe("stopped");
  });
  it("tried on one run say so", async () => {
    const start = await ask("POST", "/api/jobs", {
      script: "peaks.ts",
      text: script,
      mode: "try",
      tryRuns: { small: "f100_d1" },
    });
    const job = await ended(start.json.id);
    expect(job.live.outputs[0]).toMatchObject({ name: "peaks", rows: 1, notTried: 5 });
  });
});

it("a job that was under way when the server ended is shown as interrupted", async () => {
  const folder = path.join(s.data, "again");
  const first = await makeServer({ dataFolder: folder, hosts: ["127.0.0.1"] });
  const text = 'import { emit } from "oxtrum";\nfor (;;) {}\nemit.text("a", "b");\n';
  const r = await first.app.request("/api/jobs", {
    method: "POST",
    headers: { ...host, "content-type": "application/json" },
    body: JSON.stringify({ script: "endless.ts", text, mode: "run" }),
  });
  const { id } = (await r.json()) as { id: number };
  first.close();
  const second = await makeServer({ dataFolder: folder, hosts: ["127.0.0.1"] });
  const job = (await (await second.app.request(`/api/jobs/${id}`, { headers: host })).json()) as { state: string };
  expect(job.state).toBe("interrupted");
  expect(
    ((await (await second.app.request("/api/scripts/endless.ts", { headers: host })).json()) as { text: string }).text,
  ).toBe(text);
  second.close();
});
