import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "@jest/globals";
import {
  apiErrorSchema,
  endpoints,
  jobSchema,
  liveMessageSchema,
  type Endpoint,
  type LiveMessage,
} from "@oxtrum/contract";
import { ask, ended, host, s, script, server, useServer } from "./testing/use-server.js";

/** The server's answers are those that the contract says; what it says of versions and the live stream is true. */
useServer();

const all: readonly Endpoint[] = Object.values(endpoints).flat();

/** Reads the live stream until a message fits. */
async function read(
  after: string | undefined,
  until: (m: LiveMessage) => boolean,
): Promise<{ messages: LiveMessage[]; last: string }> {
  const stop = new AbortController();
  const r = await server.app.request("/api/events?jobs=all", {
    headers: { ...host, ...(after !== undefined && { "last-event-id": after }) },
    signal: stop.signal,
  });
  const reader = r.body!.getReader();
  const messages: LiveMessage[] = [];
  let text = "";
  let last = "";
  for (;;) {
    text += Buffer.from((await reader.read()).value as Uint8Array).toString();
    const parts = text.split("\n\n");
    text = parts.pop()!;
    for (const part of parts) {
      const data = /^data: (.+)$/m.exec(part)?.[1];
      if (data === undefined || data === "") continue;
      last = /^id: (.+)$/m.exec(part)?.[1] ?? last;
      messages.push(liveMessageSchema.parse(JSON.parse(data)));
    }
    if (messages.some(until)) {
      await reader.cancel();
      stop.abort();
      return { messages, last };
    }
  }
}

describe("the contract", () => {
  it("names every route of the server, and no other", () => {
    const routes = server.app.routes
      .filter((r) => r.path.startsWith("/api/") && r.method !== "ALL" && !r.path.endsWith("*"))
      .flatMap((r) => {
        const choice = /\{(.+)\}/.exec(r.path);
        const names = choice ? choice[1]!.split("|") : [""];
        return names.map((n) => `${r.method} ${r.path.replace(/:\w+\{.+\}/, n).replace(/\/$/, "")}`);
      });
    expect([...new Set(routes)].sort()).toEqual(all.map((e) => `${e.method} ${e.path}`).sort());
  });

  it("is kept by the answers to a study, a script and a job", async () => {
    await ask("POST", "/api/studies", { name: "small", folder: s.folder });
    await ask("PUT", "/api/scripts/a.ts", { text: script });
    const started = await ask("POST", "/api/jobs", { script: "a.ts", text: script, mode: "run", base: 1 });
    expect(started.status).toBe(201);
    const { id } = started.json as { id: number };
    const job = jobSchema.parse(await ended(id));
    expect(job).toMatchObject({ state: "done", runs: 6, excluded: 0, studies: ["small"] });
    const names: Readonly<Record<string, string>> = { name: "small", id: String(id), number: "1", then: String(id) };
    const bodies: Readonly<Record<string, object>> = {
      "/api/studies/:name/series": { file: "hall.csv", column: "T", runs: job.live.runs.map((r) => r.id) },
      "/api/scripts/:name/check": { text: script },
      "/api/scripts/:name/preflight": { text: script },
      "/api/scripts/:name/complete": { text: script, offset: script.indexOf('"hall.csv"') + 1 },
      "/api/scripts/:name/hover": { text: script, offset: script.indexOf("emit.table") + 6 },
      "/api/previews": { text: script, lane: "test" },
      "/api/jobs/:id/verify": {},
      "/api/studies/:name/scan": {},
      "/api/studies/:name/live": {
        runs: job.live.runs.map((r) => r.id),
        quantities: [
          { quantity: { kind: "table", file: "hall.csv", column: "T" }, along: "axis" },
          { quantity: { kind: "table", file: "hall.csv", column: "none" }, along: "row" },
        ],
      },
      "/api/studies/:name/log/lines": { run: job.live.runs[0]!.id, file: "solver.log" },
      "/api/studies/:name/log/match": {
        run: job.live.runs[0]!.id,
        file: "solver.log",
        patterns: ["Time = {time:s} s", "residual {r}"],
      },
    };
    let compared = 0;
    for (const e of all) {
      if (e.answer === undefined || typeof e.answer === "string" || (e.method !== "GET" && !bodies[e.path])) continue;
      const url = e.path.replace(/:(\w+)/g, (_, n: string) =>
        n === "name" && e.path.startsWith("/api/scripts")
          ? "a.ts"
          : n === "name" && e.path.includes("/values/")
            ? "peaks"
            : names[n]!,
      );
      const of = `?file=hall.csv&run=${job.live.runs[0]!.id}`;
      const query = e.path.endsWith("/rows") ? `${of}&from=0&to=5` : e.path.endsWith("/curves") ? of : "";
      const { status, json } = await ask(e.method, url + query, bodies[e.path]);
      expect([e.path, status]).toEqual([e.path, e.status ?? 200]);
      const parsed = e.answer.safeParse(json);
      expect([e.path, parsed.success ? [] : parsed.error.issues.slice(0, 3)]).toEqual([e.path, []]);
      compared++;
    }
    expect(compared).toBeGreaterThan(20);
  });

  it("has one shape for every error", async () => {
    for (const [method, url, body] of [
      ["GET", "/api/nothing"],
      ["GET", "/api/scripts/none.ts"],
      ["PUT", "/api/scripts/a.ts", { text: 5 }],
      ["POST", "/api/jobs", { script: "a.ts" }],
      ["GET", "/api/jobs/77"],
      ["POST", "/api/studies", { name: "x", folder: "/none" }],
    ] as const) {
      const { status, json } = await ask(method, url, body);
      expect([url, status >= 400, apiErrorSchema.safeParse(json).success]).toEqual([url, true, true]);
    }
    const { json } = await ask("PUT", "/api/scripts/a.ts", { text: 5 });
    expect(json.error).toMatchObject({ code: "invalid", where: "text" });
  });
});

describe("versions", () => {
  it("a text that builds on an older revision is refused with the newest one's number, and nothing is lost", async () => {
    const put = (text: string, base: number) => ask("PUT", "/api/scripts/v.ts", { text, base });
    expect((await put("// one\n", 0)).json.revision).toBe(1);
    expect((await put("// two\n", 1)).json.revision).toBe(2);
    const late = await put("// mine\n", 1);
    expect(late.status).toBe(409);
    expect(late.json.error).toMatchObject({ code: "conflict", version: 2, where: "base" });
    // Who wants to begin a new script does not write over one that is there.
    expect((await put("// new\n", 0)).status).toBe(409);
    expect((await ask("GET", "/api/scripts/v.ts")).json.text).toBe("// two\n");
    // The same text is not a conflict, whatever it builds on.
    expect((await put("// two\n", 1)).status).toBe(200);
    const job = await ask("POST", "/api/jobs", { script: "v.ts", text: "// mine\n", mode: "try", base: 1 });
    expect(job.status).toBe(409);
  });

  it("texts that came by themselves are one revision, but for those that a job used", async () => {
    const auto = (text: string, base: number) => ask("PUT", "/api/scripts/auto.ts", { text, base, auto: true });
    const numbers = async (): Promise<number[]> =>
      (await ask("GET", "/api/scripts/auto.ts/revisions")).json.map((r: { number: number }) => r.number);
    await ask("PUT", "/api/scripts/auto.ts", { text: "// asked for\n" });
    for (let k = 1; k <= 4; k++) expect((await auto(`// typed ${k}\n`, k)).json.revision).toBe(k + 1);
    expect(await numbers()).toEqual([5, 1]);
    await ask("POST", "/api/jobs", { script: "auto.ts", text: "// typed 4\n", mode: "try", base: 5 });
    await auto("// typed 5\n", 5);
    expect(await numbers()).toEqual([6, 5, 1]);
    await ask("PUT", "/api/scripts/auto.ts", { text: "// asked for again\n", base: 6 });
    expect(await numbers()).toEqual([7, 6, 5, 1]);
  });

  it("an old revision runs again without becoming the newest one", async () => {
    await ask("PUT", "/api/scripts/old.ts", { text: script });
    await ask("PUT", "/api/scripts/old.ts", { text: "// rewritten\n" });
    const { json, status } = await ask("POST", "/api/jobs", { script: "old.ts", revision: 1, mode: "run" });
    expect([status, json.revision]).toEqual([201, 1]);
    expect((await ended(json.id)).state).toBe("done");
    expect((await ask("GET", "/api/scripts/old.ts")).json.text).toBe("// rewritten\n");
  });
});

describe("the live stream", () => {
  it("tells changes with their versions, and after a break what was missed, in order and once", async () => {
    const first = await read(undefined, (m) => "resync" in m);
    await ask("PUT", "/api/scripts/live.ts", { text: "// 1\n" });
    await ask("PUT", "/api/scripts/live.ts", { text: "// 2\n" });
    const isLast = (m: LiveMessage): boolean => "change" in m && m.change.id === "live.ts" && m.change.version === 2;
    const second = await read(first.last, isLast);
    expect(second.messages.map((m) => ("change" in m ? [m.change.id, m.change.version] : m))).toEqual([
      ["live.ts", 1],
      ["live.ts", 2],
    ]);
    await ask("DELETE", "/api/scripts/live.ts");
    const third = await read(second.last, (m) => "change" in m && m.change.version === null);
    expect(third.messages).toHaveLength(1);
  });
  it("asks for everything again when what was missed is not known", async () => {
    for (const last of ["00000000.3", "nonsense", "", "-1"]) {
      const { messages } = await read(last, () => true);
      expect(messages[0]).toMatchObject({ resync: true });
    }
  });
});

describe("jobs", () => {
  it("a newer Try from the same place stops the older one", async () => {
    const slow = `import { study, emit } from "oxtrum";\nfor (let i = 0; ; i++) if (i > 3e8) break;\nemit.text("t", "x");\n`;
    const tried = async (lane: string): Promise<number> =>
      (await ask("POST", "/api/jobs", { script: "t.ts", text: slow, mode: "try", lane })).json.id;
    const [a, other] = [await tried("tab 1"), await tried("tab 2")];
    const b = await tried("tab 1");
    expect((await ended(a)).state).toBe("stopped");
    for (const id of [other, b]) {
      expect((await ask("GET", `/api/jobs/${id}`)).json.state).not.toBe("stopped");
      await ask("POST", `/api/jobs/${id}/stop`);
      await ended(id);
    }
  });

  it("are removed with what they made, but not while they run, and not a reference", async () => {
    await ask("PUT", "/api/scripts/gone.ts", { text: script });
    const { json } = await ask("POST", "/api/jobs", { script: "gone.ts", text: script, mode: "run" });
    const { id } = json as { id: number };
    expect((await ask("DELETE", `/api/jobs/${id}`)).status).toBe(409);
    await ended(id);
    const folder = path.join(s.data, "jobs", String(id));
    expect(fs.existsSync(folder)).toBe(true);
    await ask("PUT", `/api/jobs/${id}/pin`);
    expect((await ask("DELETE", `/api/jobs/${id}`)).json.error.message).toMatch(/reference/);
    await ask("DELETE", `/api/jobs/${id}/pin`);
    expect((await ask("DELETE", `/api/jobs/${id}`)).status).toBe(204);
    expect(fs.existsSync(folder)).toBe(false);
    expect((await ask("GET", `/api/jobs/${id}`)).status).toBe(404);
    expect((await ask("GET", "/api/jobs?tries=true")).json.some((j: { mode: string }) => j.mode === "try")).toBe(true);
  });

  it("go with their script", async () => {
    await ask("PUT", "/api/scripts/whole.ts", { text: script });
    const { id } = (await ask("POST", "/api/jobs", { script: "whole.ts", text: script, mode: "run" })).json as {
      id: number;
    };
    expect((await ask("DELETE", "/api/scripts/whole.ts")).status).toBe(409);
    await ended(id);
    expect((await ask("DELETE", "/api/scripts/whole.ts")).status).toBe(204);
    expect((await ask("GET", `/api/jobs/${id}`)).status).toBe(404);
    expect(fs.existsSync(path.join(s.data, "jobs", String(id)))).toBe(false);
  });
});
