import { afterAll, beforeAll } from "@jest/globals";
import { smallStudy, type SmallStudy } from "@oxtrum/engine/testing";
import { makeServer, type Server } from "../app.js";
import { warm } from "./warm.js";

/** The study and the server of a file's tests; there from its first test on. */
export let s: SmallStudy;
export let server: Server;
export const host = { host: "127.0.0.1:4477" };

/** Starts a server on a small study before a file's tests, and ends it after them. */
export function useServer(): void {
  beforeAll(async () => {
    s = smallStudy();
    server = await makeServer({ dataFolder: s.data, hosts: ["127.0.0.1"], warm: warm() });
  });
  afterAll(() => {
    server.close();
    s.remove();
  });
}

/** What the server gave. */
export interface Answer {
  readonly status: number;
  readonly text: string;
  // oxlint-disable-next-line typescript/no-explicit-any -- each test knows what it asked for
  readonly json: any;
}

/** Asks the server, as a page does. */
export async function ask(
  method: string,
  url: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answer> {
  const r = await server.app.request(url, {
    method,
    headers: { ...host, ...(body !== undefined && { "content-type": "application/json" }), ...headers },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  const text = await r.text();
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    json = undefined;
  }
  return { status: r.status, text, json };
}

/** A job once it has ended. */
export async function ended(id: number): Promise<Answer["json"]> {
  for (;;) {
    const { json } = await ask("GET", `/api/jobs/${id}`);
    if (json.endedAt !== null) return json;
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** A script with a table, a chart and a value. */
export const script = `import { study, chart, emit } from "oxtrum";
const t = study("small").runs.map((run) => run.table("hall.csv"));
emit.table("peaks", t.rows((x, run) => ({ fan: run.params.fan, peak: x.max("T") })));
emit.chart("air", chart.lines(t, { x: "time", y: "T", color: "fan" }));
emit.value("warmest", t.rows((x) => ({ peak: x.max("T") })).max("peak"));
`;
