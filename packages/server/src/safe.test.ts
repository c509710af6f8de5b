import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "@jest/globals";
import { apiErrorSchema } from "@oxtrum/contract";
import { runScript, smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { jobRequestSchema, keptNames, runUnlessUnchanged } from "@oxtrum/engine";
import { makeServer, type Server, type ServerOptions } from "./app.js";
import { MOST_BODY } from "./answers.js";
import { warm } from "./testing/warm.js";

let s: SmallStudy;
let servers: Server[];
beforeEach(() => {
  s = smallStudy();
  servers = [];
});
afterEach(() => {
  servers.forEach((x) => x.close());
  s.remove();
});
// oxlint-disable-next-line typescript/no-explicit-any -- each test knows what it asked for
type Answer = any;
const host = { host: "127.0.0.1:4477" };
const open = async (more: Partial<ServerOptions> = {}): Promise<Server> => {
  const server = await makeServer({ dataFolder: s.data, hosts: ["127.0.0.1"], warm: warm(), ...more });
  servers.push(server);
  return server;
};
const ask = (server: Server, url: string, body?: unknown, more: RequestInit = {}): Promise<Response> | Response =>
  server.app.request(url, {
    method: body === undefined ? "GET" : "POST",
    ...(body !== undefined && { body: typeof body === "string" ? body : JSON.stringify(body) }),
    ...more,
    headers: {
      ...host,
      ...(body !== undefined && { "content-type": "application/json" }),
      ...(more.headers as object),
    },
  });
const json = async (r: Promise<Response> | Response): Promise<Answer> => (await r).json();
async function ended(server: Server, id: number): Promise<Answer> {
  for (;;) {
    const job = await json(ask(server, `/api/jobs/${id}`));
    if (job.endedAt !== null) return job;
    await new Promise((done) => setTimeout(done, 30));
  }
}
const script = (text: string): string => `import { study, emit } from "oxtrum";\n${text}\n`;

describe("the data folder", () => {
  it("is one server's: a second one refuses to start and leaves everything as it is", async () => {
    const first = await open();
    const before = fs.readdirSync(s.data).sort();
    await expect(open()).rejects.toThrow(
      /Another server \(process \d+\) uses the data folder .*stop it, or set OXTRUM_DATA/,
    );
    expect(fs.readdirSync(s.data).sort()).toEqual(before);
    first.close();
    (await open()).close();
  });
  it("is taken over from a server that was killed, also where its number runs again", async () => {
    (await open()).close();
    const lock = path.join(s.data, "server.lock");
    for (const holder of [
      { pid: 2 ** 30, started: "1", key: "k" },
      { pid: process.pid, started: "1", key: "k" },
      "torn",
    ]) {
      fs.writeFileSync(lock, JSON.stringify(holder));
      (await open()).close();
      expect(fs.existsSync(lock)).toBe(false);
    }
  });
  it.each([
    ["is a file", (): void => fs.writeFileSync(s.data, "x"), /cannot be used: .*file, not a folder|EEXIST/],
    [
      "lies in a file",
      (): void => {
        fs.writeFileSync(path.dirname(s.data) + "/f", "x");
      },
      /cannot be used/,
    ],
    [
      "is somebody's",
      (): void => {
        fs.mkdirSync(s.data);
        fs.writeFileSync(path.join(s.data, "thesis.tex"), "x");
      },
      /holds other files \(thesis\.tex\)/,
    ],
    [
      "holds a damaged database",
      (): void => {
        fs.mkdirSync(s.data);
        fs.writeFileSync(path.join(s.data, "oxtrum.db"), "no database".repeat(1000));
      },
      /oxtrum\.db cannot be used: it is damaged; move it away/,
    ],
    [
      "holds a folder called as the database",
      (): void => {
        fs.mkdirSync(path.join(s.data, "oxtrum.db"), { recursive: true });
      },
      /oxtrum\.db cannot be used: it cannot be opened/,
    ],
  ])("that %s is one plain sentence", async (what, make, message) => {
    make();
    const folder = what === "lies in a file" ? path.dirname(s.data) + "/f/data" : s.data;
    const failed = await open({ dataFolder: folder }).then(
      () => "started",
      (e: Error) => e.message,
    );
    expect(failed).toMatch(message);
    expect(failed.split("\n")).toHaveLength(1);
    expect(failed).not.toMatch(/SQLITE|errno|PRAGMA| at /);
  });
  it("that only the command has used is a data folder for the server too", async () => {
    const text = `const runs = study("small").runs;
emit.value("a", runs.rows((run) => ({ p: run.table("hall.csv").max("T") })).max("p"));
emit.chart("b", chart.lines(runs.map((run) => run.table("hall.csv")), { y: "T" }), { formats: ["svg"] });`;
    expect((await runScript(s, text, { asUsers: true, outFolder: s.out("b") })).errors).toEqual([]);
    // What it tells is kept too, a while after the files were written.
    const now = Date.now;
    Date.now = () => now() + 60_000;
    const files = { "main.ts": 'import { emit, q } from "oxtrum";\nemit.value("a", q("1 s"));\n' };
    const asked = { files, main: "main.ts", studies: [], dataFolder: s.data, outFolder: s.out("a") };
    await runUnlessUnchanged(jobRequestSchema.parse(asked), () => undefined).finally(() => void (Date.now = now));
    expect(fs.readdirSync(s.data).sort()).toEqual([...keptNames].sort());
    expect((await ask(await open(), "/api/health")).status).toBe(200);
  });
  it("with a lost database never shows an old job's numbers under a new job's number", async () => {
    const first = await open();
    await ask(first, "/api/studies", { name: "small", folder: s.folder });
    const run = async (server: Server, text: string): Promise<Answer> =>
      ended(server, (await json(ask(server, "/api/jobs", { script: "a.ts", text: script(text), mode: "run" }))).id);
    expect(
      (
        await run(
          first,
          'emit.value("a", study("small").runs.rows((run) => ({ p: run.table("hall.csv").max("T") })).max("p"));',
        )
      ).id,
    ).toBe(1);
    first.close();
    for (const f of fs.readdirSync(s.data)) if (f.startsWith("oxtrum.db")) fs.rmSync(path.join(s.data, f));
    const second = await open();
    expect((await ask(second, "/api/jobs/1")).status).toBe(404);
    expect((await ask(second, "/api/jobs/1/values/a")).status).toBe(404);
    expect(fs.existsSync(path.join(s.data, "set-aside/1/outputs/a.json"))).toBe(true);
    const job = await run(second, 'emit.text("b", "new");');
    expect([job.id, job.live.outputs.map((o: { name: string }) => o.name)]).toEqual([1, ["b"]]);
    expect((await ask(second, "/api/jobs/1/files/a.json")).status).toBe(404);
  });
});

describe("requests of any kind get a clean answer", () => {
  it("forged, malformed and oversized ones", async () => {
    const server = await open();
    const post = (body: string, headers = {}): Promise<Response> | Response =>
      ask(server, "/api/studies", body, { headers });
    expect((await post("{}", { origin: "null" })).status).toBe(403);
    expect((await post("{}", { origin: "not an address" })).status).toBe(403);
    expect((await post("{}", { host: "evil.example" })).status).toBe(403);
    expect((await post("{", {})).status).toBe(400);
    expect((await post("[1]", {})).status).toBe(400);
    expect((await post('{"name":"x","folder":1}', {})).status).toBe(400);
    expect((await post(JSON.stringify({ name: "x", folder: "y".repeat(MOST_BODY) }), {})).status).toBe(413);
    for (const url of [
      "/api/jobs/x",
      "/api/jobs/1e99",
      "/api/jobs/-1",
      "/api/jobs/9/files/..%2f..%2fx",
      "/api/scripts/%ff",
      "/api/studies/%00",
      "/api/jobs/1/values/%2e%2e",
      "/api/nothing",
    ]) {
      const r = await ask(server, url);
      expect([url, r.status >= 400 && r.status < 500]).toEqual([url, true]);
      expect(apiErrorSchema.safeParse(await r.json()).success).toBe(true);
    }
    expect(await json(post("{", {}))).toMatchObject({
      error: { code: expect.any(String), message: expect.any(String) },
    });
  });
  it("say nothing of the database's statements and paths", async () => {
    const server = await open();
    const file = path.join(s.data, "oxtrum.db");
    // The database is taken away under the server.
    server.close();
    const r = await ask(server, "/api/scripts");
    expect(r.status).toBeGreaterThanOrEqual(500);
    const error = apiErrorSchema.parse(await r.json()).error.message;
    expect(error).not.toMatch(/select|SQLITE|oxtrum\.db/i);
    expect(error).not.toContain(file);
  });
  it("have strict headers", async () => {
    const server = await open();
    const { headers } = await ask(server, "/api/health");
    expect(headers.get("content-security-policy")).toMatch(/default-src 'none'.*frame-ancestors 'none'/);
    expect(headers.get("x-content-type-options")).toBe("nosniff");
  });
});

describe("sign-in where the server is reached from other machines", () => {
  const token = "0123456789abcdef0123";
  const remote = { host: "host.example:4477" };
  it("takes the token once and gives a cookie that pages cannot read", async () => {
    const server = await open({ hosts: ["*"], token });
    const get = async (headers: object): Promise<number> =>
      (await server.app.request("/api/studies", { headers: { ...remote, ...headers } })).status;
    const signIn = (t: string): Promise<Response> | Response =>
      server.app.request("/api/session", {
        method: "POST",
        body: JSON.stringify({ token: t }),
        headers: { ...remote, origin: "http://host.example:4477", "content-type": "application/json" },
      });
    expect(await get({})).toBe(401);
    expect(await get({ cookie: "oxtrum_session=x" })).toBe(401);
    expect((await signIn("wrong")).status).toBe(401);
    const good = await signIn(token);
    const cookie = good.headers.get("set-cookie")!;
    expect(good.status).toBe(204);
    expect(cookie).toMatch(/HttpOnly/i);
    expect(cookie).toMatch(/SameSite=Strict/i);
    expect(cookie).not.toContain(token);
    expect(await get({ cookie: cookie.split(";")[0]! })).toBe(200);
    expect(await get({ authorization: `Bearer ${token}` })).toBe(200);
    expect(await get({ authorization: `Bearer ${token}x` })).toBe(401);
    // A page of another site has the cookie neither read nor sent; what it asks for is refused all the same.
    expect(
      (
        await server.app.request("/api/studies", {
          method: "POST",
          body: "{}",
          headers: { ...remote, origin: "http://evil.example", cookie },
        })
      ).status,
    ).toBe(403);
    for (let k = 0; k < 12; k++) await signIn("guess");
    expect((await signIn(token)).status).toBe(429);
  });
});

describe("nothing that a job or a page does ends the server", () => {
  it("a study with a pipe in it, and one that cannot be scanned, beside a good one", async () => {
    const server = await open();
    execFileSync("mkfifo", [path.join(s.folder, "pipe.csv")]);
    fs.rmSync(path.join(s.folder, "runs/f050_d1/case.json"));
    execFileSync("mkfifo", [path.join(s.folder, "runs/f050_d1/case.json")]);
    const bad = path.join(path.dirname(s.folder), "bad");
    fs.mkdirSync(bad);
    fs.writeFileSync(path.join(bad, "oxtrum.study.json"), "{");
    for (const [name, folder] of [
      ["small", s.folder],
      ["bad", bad],
    ])
      await ask(server, "/api/studies", { name, folder });
    const list = await json(ask(server, "/api/studies"));
    expect(list.map((x: { name: string; error?: string }) => [x.name, x.error])).toEqual([
      ["bad", expect.stringMatching(/not JSON/)],
      ["small", undefined],
    ]);
    expect((await json(ask(server, "/api/studies/small"))).problems).toEqual(["pipe.csv is a pipe, not a plain file"]);
    expect((await ask(server, "/api/studies/small/rows?file=pipe.csv&run=&from=0&to=1")).status).toBe(400);
  });
  it("a journal that cannot be written fails its job with the reason; its outputs are kept, the next job runs", async () => {
    const server = await open();
    const start = (text: string): Promise<Answer> =>
      json(ask(server, "/api/jobs", { script: "a.ts", text: script(text), mode: "run" }));
    const first = await start('emit.text("a", "b");');
    // In place of the journal there is a folder: every write to it fails, as on a disk that is full.
    const journal = path.join(s.data, "jobs", String(first.id), "journal.jsonl");
    fs.rmSync(journal, { force: true });
    fs.mkdirSync(journal);
    const job = await ended(server, first.id);
    expect(job.state).toBe("failed");
    expect(job.live.messages.map((m: { text: string }) => m.text).join()).toMatch(/cannot be kept/);
    expect((await ask(server, `/api/jobs/${first.id}/files/a.txt`)).status).toBe(200);
    const next = await start('emit.text("a", "c");');
    expect((await ended(server, next.id)).state).toBe("done");
  });
  it("many live streams do not hold up each other, nor anything else", async () => {
    const server = await open();
    const streams = await Promise.all(Array.from({ length: 60 }, () => ask(server, "/api/events?jobs=all")));
    const readers = streams.map((r) => r.body!.getReader());
    for (const r of readers) expect(Buffer.from((await r.read()).value as Uint8Array).toString()).toContain("resync");
    const { id } = await json(
      ask(server, "/api/jobs", { script: "a.ts", text: script('emit.text("a", "b");'), mode: "run" }),
    );
    // Nobody reads these streams: the job ends all the same.
    expect((await ended(server, id)).state).toBe("done");
    let text = "";
    while (!text.includes('"state":"done"'))
      text += Buffer.from((await readers[59]!.read()).value as Uint8Array).toString();
    await Promise.all(readers.map((r) => r.cancel()));
  });
});
