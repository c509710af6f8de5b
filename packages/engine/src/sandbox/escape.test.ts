import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "@jest/globals";
import { compileScript } from "../check/index.js";
import { Sandbox, type ScriptEnd, type ScriptListener } from "./run-script.js";
import type { SandboxSetup } from "./protocol.js";

/** Runs a script in the sandbox alone: no type check, no engine behind it. */
async function run(
  text: string,
  more: Partial<SandboxSetup> = {},
  listener: Partial<ScriptListener> = {},
  signal?: AbortSignal,
): Promise<ScriptEnd & { emitted: string[] }> {
  const emitted: string[] = [];
  const nothing = (): void => undefined;
  const end = await new Sandbox().run(
    { modules: { "main.ts": text }, main: "main.ts", studies: {}, inputs: {}, seconds: 5, ...more },
    {
      form: nothing,
      node: nothing,
      input: nothing,
      module: nothing,
      mapping: nothing,
      emit: (e) => void emitted.push(`${e.name}: ${String(e.options["text"])}`),
      read: () => Promise.resolve("{}"),
      columns: () => "{}",
      ...listener,
    },
    signal,
  );
  return { ...end, emitted };
}
const message = (e: ScriptEnd): string => (e.kind === "error" ? `${e.file}:${e.line} ${e.message}` : e.kind);
const lib = 'import { emit } from "oxtrum";\n';

describe("a script reaches the library and nothing else", () => {
  let secret: string;
  beforeAll(() =>
    fs.writeFileSync(
      (secret = path.join(fs.mkdtempSync("/tmp/oxtrum-secret-"), "secret.js")),
      'export const key = "TOP-SECRET";',
    ),
  );
  afterAll(() => fs.rmSync(path.dirname(secret), { recursive: true }));
  it.each([
    ["a file's address", (s: string) => `oxtrum:file://${s}`],
    ["a path", (s: string) => s],
    ["a path under the library's name", (s: string) => `oxtrum:${s}`],
    ["a way up from the library", (s: string) => `oxtrum:../../../../../../../..${s}`],
    ["a relative path", (s: string) => `./${path.relative(process.cwd(), s)}`],
    ["the library's recorder", () => "oxtrum:record.js"],
    ["the library's recorder by a relative path", () => "./record.js"],
    ["the host's modules", () => "node:fs"],
    ["the interpreter's own modules", () => "std"],
    ["data", () => "data:text/javascript,export default 1"],
  ])("static and dynamic imports of %s are refused", async (_, of) => {
    const name = of(secret);
    const fixed = await run(`${lib}import * as m from ${JSON.stringify(name)};\nemit.text("m", JSON.stringify(m));`);
    expect(message(fixed)).toContain(`there is no module "${name}"`);
    const late = await run(
      `${lib}const m = await import(${JSON.stringify(name)});\nemit.text("m", JSON.stringify(m));`,
    );
    expect(message(late)).toMatch(/put off to run later|there is no module/);
    expect(JSON.stringify([fixed, late])).not.toContain("TOP-SECRET");
  });
  it("the host's functions are out of reach, and so is what would change the library", async () => {
    const r =
      await run(`${lib}const names = Object.getOwnPropertyNames(globalThis).filter((n) => /host|oxtrum|process|require|fetch|std|os/i.test(n));
emit.text("names", names.join());
const tried = [];
for (const f of [() => (JSON.stringify = () => "{}"), () => (Array.prototype.push = () => 0), () => (Map.prototype.get = () => 0), () => Object.defineProperty(Array, "isArray", { value: 1 })])
  try { f(); tried.push("changed"); } catch (e) { tried.push(e.name); }
emit.text("tried", tried.join());`);
    expect(message(r)).toBe("complete");
    expect(r.emitted[0]).toBe("names: ");
    expect(r.emitted[1]).not.toContain("changed");
  });
  it("a module cannot take the library's name", async () => {
    const r = await run(lib, { modules: { "main.ts": lib, "oxtrum:record.js": "" } });
    expect(message(r)).toContain("is not a name for a module");
  });
});

describe("nothing runs later", () => {
  it.each([
    ["an error in an async function", `async function f() { throw new Error("late"); }\nf();`, 2],
    ["a rejected promise", `Promise.reject(new Error("late"));`, 2],
    ["an endless async loop", `const f = async () => { for (;;) await null; };\nf();`, 2],
    ["a promise that nothing keeps", `await new Promise(() => {});`, 2],
    ["then", `Promise.resolve(1).then(() => { throw new Error("late"); });`, 2],
    ["an async generator", `(async function* () {})();`, 2],
    ["a loop that waits", `for await (const x of []) emit.text("a", x);`, 2],
    ["a dynamic import", `const m = import("./b.ts");`, 2],
    ["an async method", `({ async f() { throw new Error("late"); } }).f();`, 2],
  ])("%s is refused at its line", async (_, text, line) => {
    const source = `// @ts-nocheck\n${text}\n`;
    const compiled = compileScript({ "main.ts": source });
    if (compiled.modules)
      expect(message(await run(compiled.modules["main.ts"]!))).toMatch(/^main\.ts:2 there is no Promise in a script/);
    else expect(compiled.diagnostics[0]).toMatchObject({ file: "main.ts", line, severity: "error" });
  });
  it("what runs late all the same ends the script: an error, and a loop without end", async () => {
    for (const text of [
      `(async () => { await null; throw new Error("late"); })();`,
      `(async () => { for (;;) await null; })();`,
    ])
      expect(message(await run(text))).toMatch(/put off to run later/);
  });
});

describe("what a script tells is parsed in one place", () => {
  it.each([
    ["naming without a name", `emit.naming({ file: "" });`, /main\.ts:2 emit\.naming: file: /],
    [
      "naming with a wrong kind of rule",
      `emit.naming({ folders: "run", each: "x".repeat(400) });`,
      /main\.ts:2 emit\.naming: each: /,
    ],
    ["a name of a million letters", `emit.text("x".repeat(1e6), "a");`, /main\.ts:2? ?.*emission\.name/],
    [
      "JSON turned inside out",
      `Object.prototype.toJSON = () => 7;\nemit.text("a", "b");`,
      /cannot (?:take|be read)|is not|a text/,
    ],
    [
      "values that inherit",
      `Object.prototype.failed = "x"; Object.prototype.kind = 3;\nemit.text("a", "b");`,
      /complete|cannot/,
    ],
    [
      "an array that lies about its length",
      `emit.text("a", { toString() { return "b"; }, length: 1e12 });`,
      /complete/,
    ],
    ["options in a circle", `const o = {}; o.o = o;\nemit.report("a", o);`, /main\.ts:3 /],
    ["a name that is not text", `emit.text(7, "b");`, /main\.ts:2 emit\.text: the output needs a name/],
    ["a symbol", `emit.text("a", Symbol("b")); emit.report("b", { title: Symbol("c") });`, /main\.ts:2 /],
    ["a table that is none", `emit.table("a", {});`, /main\.ts:2 emit\.table takes a table/],
    ["a proxy", `emit.report("a", new Proxy({}, { ownKeys() { throw new Error("no"); } }));`, /main\.ts:2 no/],
  ])("%s", async (_, text, expected) => {
    expect(message(await run(lib + text))).toMatch(expected);
  });
  it("an error on the engine's side is told, not lost", async () => {
    const failing: Partial<ScriptListener> = {
      emit: () => {
        throw new Error("engine");
      },
    };
    await expect(run(`${lib}emit.text("a", "b");`, {}, failing)).rejects.toThrow("engine");
  });
});

describe("a thread that takes one script after the other", () => {
  /** All that a script could leave behind is tried, then looked for. */
  const leave = `${lib}const attempt = (f) => { try { f(); } catch {} };
attempt(() => { globalThis.left = "here"; });
attempt(() => { Object.prototype.left = "here"; });
attempt(() => { Array.prototype.left = "here"; });
attempt(() => { JSON.stringify = () => "left"; });
attempt(() => { emit.value = undefined; });
attempt(() => { globalThis[Symbol.for("left")] = "here"; });
emit.text("first", "ran");`;
  const look = `${lib}const found = [typeof globalThis.left, typeof emit.value, typeof ({}).left, typeof [].left,
  typeof globalThis[Symbol.for("left")], JSON.stringify([1])];
emit.text("second", found.join(" "));`;

  it("leaves nothing of one to the next, whether it went well, failed or was cut off", async () => {
    for (const [last, seconds, ends] of [
      ["", 5, /^complete$/],
      ["\nthrow new Error('over');", 5, /over/],
      ["\nfor (;;) {}", 0.3, /ran longer than 0\.3 s/],
      ["\nconst f = (n) => f(n + 1) + 1; f(1);", 5, /stack/],
      [
        '\nlet x = "x"; while (x.length < 1e6) x += x; const all = []; for (;;) all.push(x + all.length);',
        60,
        /more memory/,
      ],
    ] as const) {
      const first = await run(leave + last, { seconds });
      expect([last, first.emitted[0]]).toEqual([last, "first: ran"]);
      expect(message(first)).toMatch(ends);
      // Its time is its own too: what the one before took is more than this one may.
      const second = await run(look, { seconds: 0.3 });
      expect([last, message(second), second.emitted]).toEqual([
        last,
        "complete",
        ["second: undefined function undefined undefined undefined [1]"],
      ]);
    }
  });
  it("has the same memory for each, whatever the ones before took", async () => {
    // Some 20 MB, of all kinds that memory is taken for: texts, objects, buffers that have to be zero.
    const much = `${lib}const all = [];
for (let k = 0; k < 20_000; k++) all.push({ k, text: "x".repeat(50) + k });
const bytes = new Uint8Array(12e6);
const dirty = new BigUint64Array(bytes.buffer).some((b) => b !== 0n);
bytes.fill(7);
emit.text("a", [dirty, all.length, all[19_999].text.length, bytes[11e6]].join(" "));`;
    for (let k = 0; k < 3; k++) {
      const r = await run(much, { seconds: 30 });
      expect([k, message(r), r.emitted]).toEqual([k, "complete", ["a: false 20000 55 7"]]);
    }
  });
  it("tells each what it alone was given", async () => {
    const told = `${lib}import { input } from "oxtrum";\nemit.text("a", input("of", "none"));`;
    for (const of of ["one", "two", "three", undefined]) {
      const r = await run(told, { inputs: of === undefined ? {} : { of } });
      expect([message(r), r.emitted]).toEqual(["complete", [`a: ${of ?? "none"}`]]);
    }
  });
  it("ends with a script that is stopped from outside; the next one runs", async () => {
    const stop = new AbortController();
    const endless = run(
      `${lib}emit.text("a", "b");\nfor (;;) {}`,
      { seconds: 60 },
      { emit: () => stop.abort() },
      stop.signal,
    );
    await expect(endless).rejects.toThrow("stopped");
    expect((await run(look)).kind).toBe("complete");
  });
});
